import { createHash } from 'node:crypto';

/** SHA-256 in hexadecimal, by which bytes are known. */
export function sha256Of(bytes: Uint8Array): string {
  return createHash('sha256').update(bytes).digest('hex');
}
