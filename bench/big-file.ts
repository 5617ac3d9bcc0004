import { writeMidiFile } from '../src/core/midi/write.ts';
import { fileOf, trackOf, type NoteSpec } from '../tests/support/midi.ts';

export const BIG_NOTES = 20_000;

/** Eight parts of dense notes: a take of some length, as it is drawn. */
export function bigFile(): Uint8Array {
  const tracks = Array.from({ length: 8 }, (_, channel) =>
    trackOf(
      Array.from({ length: BIG_NOTES / 8 }, (_, i): NoteSpec => [
        i * 60,
        100,
        40 + ((i * 7 + channel * 5) % 40),
        60 + (i % 60),
        channel,
      ]),
    ),
  );
  return writeMidiFile(fileOf(tracks));
}
