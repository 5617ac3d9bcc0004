/**
 * MIDI volume (controller 7) and loudness: 40 log10(v / 127) dB. Source: MIDI Manufacturers Association, "General MIDI Level 2"
 * and the "General MIDI Developer Guidelines", response of volume (typed from memory).
 */
export const DEFAULT_VOLUME = 100;

/** How much below its loudest a volume 1..127 is, in dB. */
export function volumeInDb(volume: number): number {
  return 40 * Math.log10(volume / 127);
}

/** A volume so many dB lower, 0..127. */
export function volumeDown(volume: number, db: number): number {
  return Math.min(127, Math.max(0, Math.round(volume * 10 ** (-db / 40))));
}
