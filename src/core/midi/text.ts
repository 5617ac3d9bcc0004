const utf8 = new TextDecoder('utf-8', { fatal: true });
const latin = new TextDecoder('windows-1252');
const encoder = new TextEncoder();

/**
 * Text of a meta event for people to read: UTF-8 where the bytes are, otherwise Windows-1252 (RP-001 says
 * only "ASCII", and devices write what they like). Control characters become spaces, ends are trimmed.
 */
export function decodeText(bytes: Uint8Array): string {
  let text: string;
  try {
    text = utf8.decode(bytes);
  } catch {
    text = latin.decode(bytes);
  }

  return text.replace(/[\u0000-\u001f\u007f-\u009f\ufeff]+/g, ' ').trim();
}

export function encodeText(text: string): Uint8Array {
  return encoder.encode(text);
}
