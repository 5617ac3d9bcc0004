import { createHash } from 'node:crypto';

/** SHA-256 in hexadecimal, by which bytes are known. */
export function sha256Of(bytes: Uint8Array): string {
  return createHash('sha256').update(bytes).digest('hex');
}

/** An id that follows from a text: the same text has the same (RFC 9562, version 8, of the first bits of its SHA-256). */
export function idFrom(text: string): string {
  const hex = createHash('sha256').update(text).digest('hex');
  const variant = ((Number.parseInt(hex[16]!, 16) & 3) | 8).toString(16);
  return [
    hex.slice(0, 8),
    hex.slice(8, 12),
    `8${hex.slice(13, 16)}`,
    variant + hex.slice(17, 20),
    hex.slice(20, 32),
  ].join('-');
}

const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i;

export function isUuid(text: string): boolean {
  return UUID.test(text);
}
