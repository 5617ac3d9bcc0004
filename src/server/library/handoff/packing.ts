import { randomUUID } from 'node:crypto';
import { availableParallelism } from 'node:os';
import type { Preview } from '../../../core/exchange/handoff.ts';
import type { Sounding } from '../../../core/exchange/sounding.ts';
import { LRUCache } from 'lru-cache';
import type { Check } from '../../../core/exchange/checks.ts';
import { compute } from '../../compute/pool.ts';
import { sha256Of } from '../../checksum.ts';
import type { Db, Library } from '../../db/client.ts';
import { packItems, packs } from '../../db/schema.ts';
import { tellProgress } from '../../live/progress.ts';
import { bankFiles } from './banks.ts';
import { LibraryError } from '../errors.ts';
import { hashOfPhrase } from '../phrases/phrase-rows.ts';
import { loadBasket } from './phrases-out.ts';

/**
 * A hand-off as one ZIP, and kept in mind as what has left. `madeAt` is an ISO time; `signal` stops it between two previews.
 * @throws LibraryError 409 where a check stops it
 */
export async function packBasket(
  library: Library,
  id: string,
  madeAt: string,
  signal: AbortSignal,
): Promise<{ title: string; bytes: Uint8Array }> {
  const { db } = library;
  const { basket, handOff, rows } = await loadBasket(db, id, madeAt);
  const wanted = basket.previews ? { sums: basket.previewSums, beds: basket.previewBeds } : null;
  const { checks, played, sounding } = await compute('readyToPack', handOff, wanted);
  const stopped = checks.find(({ state }) => state === 'stop');
  if (stopped) throw new LibraryError(409, stopped.text);
  const previews = await previewsOf(library, id, sounding, signal);
  const bytes = await compute('packedHandOff', handOff, previews);
  const packId = randomUUID();
  await db.transaction(async (tx) => {
    await tx
      .insert(packs)
      .values({ id: packId, basketId: id, title: handOff.title, madeAt: new Date(madeAt) });
    if (rows.length > 0)
      await tx.insert(packItems).values(
        rows.map((row) => ({
          packId,
          phraseId: row.id,
          hash: hashOfPhrase(row),
          played: played.get(row.id) ?? null,
        })),
      );
  });
  return { title: handOff.title, bytes };
}

/** What somebody who opens the pack would stumble over. @throws LibraryError 404 */
export async function checkBasket(db: Db, id: string): Promise<Check[]> {
  const { handOff } = await loadBasket(db, id, new Date(0).toISOString());
  return compute('handOffChecks', handOff);
}

/** Previews that were made, by the checksums of their files: a pack that was stopped goes on where it was. */
const made = new LRUCache<string, Preview>({
  maxSize: 256 * 2 ** 20,
  sizeCalculation: ({ wav }) => wav.length,
});

/** So many are rendered at once: a core is left for who asks for something else meanwhile. */
const RENDERING = Math.max(1, availableParallelism() - 1);

/** A preview of each file, several at a time in threads; how far it is is told meanwhile. */
async function previewsOf(
  library: Library,
  basketId: string,
  sounding: readonly Sounding[],
  signal: AbortSignal,
): Promise<[string, Preview][]> {
  const banks = await bankFiles(library);
  const previews: [string, Preview][] = [];
  const told = { work: 'pack', id: basketId } as const;
  let next = 0;
  const work = async () => {
    for (let at = next++; at < sounding.length; at = next++) {
      signal.throwIfAborted();
      const { path, midi, role } = sounding[at]!;
      const bank = role === null ? undefined : banks.get(role);
      const sum = `${sha256Of(midi)} ${bank ?? ''}`;
      const preview = made.get(sum) ?? (await compute('previewOf', midi, bank));
      made.set(sum, preview);
      previews.push([path, preview]);
      tellProgress(library, { ...told, done: previews.length, of: sounding.length });
    }
  };
  try {
    await Promise.all(Array.from({ length: RENDERING }, work));
  } finally {
    tellProgress(library, { ...told, isOver: true });
  }
  return previews.sort(([a], [b]) => (a < b ? -1 : 1));
}
