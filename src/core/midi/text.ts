const utf8 = new TextDecoder('utf-8', { fatal: true });
const latin = new TextDecoder('windows-1252');
const encoder = new TextEncoder();

/**
 * Text of a meta event for people to read: UTF-8 where the bytes are, otherwise Windows-1252 (RP-001 says
 * only "ASCII", and devices write what they like). Control characters become spaces, ends are trimmed; what is longer
 * than any name is cut.
 */
export function decodeText(bytes: Uint8Array): string {
  const shown = bytes.length > LONGEST_BYTES ? wholeCharacters(bytes.subarray(0, LONGEST_BYTES)) : bytes;
  let text: string;
  try {
    text = utf8.decode(shown);
  } catch {
    text = latin.decode(shown);
  }

  const plain = text.replace(/[\u0000-\u001f\u007f-\u009f\ufeff]+/g, ' ').trim();
  return plain.length > LONGEST_TEXT ? `${plain.slice(0, LONGEST_TEXT - 1)}…` : plain;
}

/** Characters of a name or a marker that are read. */
export const LONGEST_TEXT = 200;

/** A character has at most four bytes in UTF-8. */
const LONGEST_BYTES = 4 * LONGEST_TEXT;

/** Without a character that was cut in two: UTF-8 goes on with bytes of 10xxxxxx. */
function wholeCharacters(bytes: Uint8Array): Uint8Array {
  let end = bytes.length;
  while (end > 0 && (bytes[end - 1]! & 0xc0) === 0x80) end--;
  return end > 0 && bytes[end - 1]! >= 0xc0 ? bytes.subarray(0, end - 1) : bytes.subarray(0, end);
}

export function encodeText(text: string): Uint8Array {
  return encoder.encode(text);
}
