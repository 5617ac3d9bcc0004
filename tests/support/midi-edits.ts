import { readMidiFile } from '../../src/core/midi/read.ts';
import { kindOf, STATUS } from '../../src/core/midi/smf.ts';
import { writeMidiFile } from '../../src/core/midi/write.ts';

/** A file whose notes are all a semitone up, saved again. */
export function semitoneUp(bytes: Uint8Array): Uint8Array {
  const { file } = readMidiFile(bytes);
  const isNote = (status: number) => [STATUS.noteOn, STATUS.noteOff].includes(kindOf(status) as never);
  const up = file.tracks.map((events) =>
    events.map((event) =>
      event.status < 0xf0 && isNote(event.status) ? { ...event, data1: event.data1 + 1 } : event,
    ),
  );
  return writeMidiFile({ ...file, tracks: up });
}

/** A file without the note that begins last, saved again. */
export function withoutLastNote(bytes: Uint8Array): Uint8Array {
  const { file } = readMidiFile(bytes);
  const strikes = file.tracks.flat().filter((event) => event.status < 0xf0 && kindOf(event.status) === STATUS.noteOn && event.data2 > 0); // prettier-ignore
  const last = strikes.reduce((latest, one) => (one.tick >= latest.tick ? one : latest));
  return writeMidiFile({
    ...file,
    tracks: file.tracks.map((events) => {
      const from = events.indexOf(last);
      const to = events.findIndex((event, i) => i > from && from >= 0 && event.status < 0xf0 && event.data1 === last.data1 && kindOf(event.status) !== STATUS.controller); // prettier-ignore
      return from < 0 ? events : events.filter((_, i) => i !== from && i !== to);
    }),
  });
}
