/** Bytes in hexadecimal digits, lower case. */
export function hexOf(bytes: Uint8Array): string {
  return Array.from(bytes, (byte) => byte.toString(16).padStart(2, '0')).join('');
}

/** A SHA-256 checksum in hexadecimal digits (FIPS 180-4: 256 bits). */
export const SHA256 = /^[0-9a-f]{64}$/;
