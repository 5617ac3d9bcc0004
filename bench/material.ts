import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { writeMidiFile } from '../src/core/midi/write.ts';
import { bandFile } from '../src/core/standins/band.ts';
import { BAND_STYLES, type BandStyleName } from '../src/core/standins/band-styles.ts';

/** Debian's package openttd-openmsx: 31 real multi-part files. */
const OPENMSX = '/usr/share/games/openttd/baseset/openmsx';

/** MIDI files to measure on: those of BENCH_FILES, else real ones, else the band stand-in's. */
export function midiMaterial(): Uint8Array[] {
  const folder = process.env.BENCH_FILES ?? OPENMSX;
  if (existsSync(folder)) {
    const files = readdirSync(folder).filter((name) => /\.midi?$/i.test(name));
    if (files.length > 0) return files.sort().map((name) => readFileSync(join(folder, name)));
  }
  if (process.env.BENCH_FILES) throw new Error(`There are no MIDI files in ${folder}.`);
  const styles = Object.keys(BAND_STYLES) as BandStyleName[];
  return Array.from({ length: 30 }, (_, seed) =>
    writeMidiFile(
      bandFile({
        chart: Array(16).fill('Dm | Gm | A7 | Dm').join(' | '),
        style: styles[seed % styles.length]!,
        bpm: 100,
        seed,
        title: 'bench',
      }),
    ),
  );
}
