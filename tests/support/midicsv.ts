import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';

/** Why tests against Debian's midicsv are skipped, or false. On CI they always run. */
export const withoutMidicsv: string | false =
  existsSync('/usr/bin/midicsv') || process.env.CI ? false : 'needs the Debian package midicsv';

/** A channel message as midicsv reads it: track from 1, tick, kind, channel from 0, data. */
export interface CsvEvent {
  track: number;
  tick: number;
  kind: string;
  values: number[];
}

/** Channel messages of a MIDI file, in the order of the file, read by Debian's midicsv. */
export function midicsvEvents(path: string): CsvEvent[] {
  return execFileSync('midicsv', [path], { encoding: 'latin1', maxBuffer: 64 * 1024 * 1024 })
    .split('\n')
    .map((line) => line.split(', '))
    .filter(([, , kind]) => kind?.endsWith('_c'))
    .map(([track, tick, kind, ...values]) => ({
      track: Number(track),
      tick: Number(tick),
      kind: kind!,
      values: values.map(Number),
    }));
}

/** Sounding notes of a file as midicsv reads it: "tick duration channel pitch velocity", first in, first out, sorted. */
export function midicsvNotes(path: string): string[] {
  const notes: string[] = [];
  const sounding = new Map<string, { tick: number; velocity: number }[]>();
  for (const { track, tick, kind, values } of midicsvEvents(path)) {
    if (kind !== 'Note_on_c' && kind !== 'Note_off_c') continue;
    const [channel, pitch, velocity] = values as [number, number, number];
    const key = `${track} ${channel} ${pitch}`;
    if (kind === 'Note_on_c' && velocity > 0) {
      sounding.set(key, [...(sounding.get(key) ?? []), { tick, velocity }]);
    } else {
      const note = sounding.get(key)?.shift();
      if (note) notes.push([note.tick, tick - note.tick, channel, pitch, note.velocity].join(' '));
    }
  }
  return notes.sort();
}
