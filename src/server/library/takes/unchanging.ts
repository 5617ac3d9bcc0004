import { LRUCache } from 'lru-cache';
import type { Base } from '../../../core/split/base.ts';

/**
 * What never changes once it is written, kept at hand by this process: original bytes by their checksum, first splits by their take.
 * A move on a take then reads neither.
 */
const originals = new LRUCache<string, Uint8Array>({
  maxSize: 64 * 1024 * 1024,
  sizeCalculation: (bytes) => Math.max(1, bytes.length),
});
const bases = new LRUCache<string, Base>({
  maxSize: 16 * 1024 * 1024,
  sizeCalculation: ({ owner, parts }) => owner.length + 500 * (parts.length + 1),
});

/** The bytes of an original, read where they are not at hand. */
export function originalAtHand(sha256: string, read: () => Promise<Uint8Array>): Promise<Uint8Array> {
  return atHand(originals, sha256, read);
}

/** The first split of a take, read where it is not at hand. */
export function baseAtHand(takeId: string, read: () => Promise<Base>): Promise<Base> {
  return atHand(bases, takeId, read);
}

async function atHand<Value extends object>(
  kept: LRUCache<string, Value>,
  key: string,
  read: () => Promise<Value>,
): Promise<Value> {
  const value = kept.get(key) ?? (await read());
  kept.set(key, value);
  return value;
}
