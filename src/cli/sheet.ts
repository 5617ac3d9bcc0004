import { writeFileSync } from 'node:fs';
import { basename, extname } from 'node:path';
import { analyzeTake } from '../core/analyze/analysis.ts';
import { keyChanges } from '../core/analyze/key-spans.ts';
import { lyricsIn } from '../core/midi/lyrics.ts';
import { keyName } from '../core/music/key.ts';
import { meterAt } from '../core/music/timeline.ts';
import { chordSheet } from '../core/notation/chord-sheet.ts';
import { partsOnSheet, SHEETS, sheetXml, type SheetPart } from '../core/notation/sheet.ts';
import { clipFromPart, isPitched } from '../core/phrase/clip.ts';
import type { Split } from '../core/split/split.ts';
import { formOfTake } from '../core/weave/sections-of.ts';
import { choosePart } from './choose-part.ts';
import { Refusal, type Output } from './output.ts';
import { changesOfTake, playingOfFile } from './opened-file.ts';

export interface SheetOptions {
  as: string;
  part?: string;
  out: string;
}

/** `sheet FILE --as chords|lead|score|tab [--part NAME] --out FILE`. Returns the exit code. */
export function sheetCommand(file: string, options: SheetOptions, out: Output): number {
  const as = SHEETS.find((one) => one === options.as);
  if (!as) throw new Refusal(`--as: a sheet is one of ${SHEETS.join(', ')}.`);
  const { take, split, playing } = playingOfFile(file, (text) => out.problem(text));
  const { chords, keys, keySpans, sections } = analyzeTake(take, split);
  const { key, bars, changes } = changesOfTake(take, { chords, keys });
  const title = basename(file, extname(file));
  const { numerator } = meterAt(take.timing.timeline, 0);
  if (as === 'chords') {
    const form = formOfTake(take, split, { sections, chords, key, bars, chart: '' });
    writeFileSync(options.out, chordSheet(title, key, form));
  } else {
    const parts = playing.map(({ part, index }) => ({
      ...{ name: part.name, index },
      clip: clipFromPart(take, split, index, key),
    }));
    const chosen = chosenParts(as, file, split, parts, options.part, (text) => out.problem(text));
    const words = lyricsIn(take.file);
    const moves = keyChanges(keySpans, take.timing.timeline);
    writeFileSync(options.out, sheetXml(as, chosen, { title, key, keys: moves, bars, changes, words }));
  }
  const told = changes
    .filter(({ symbol }) => symbol)
    .map(({ beat, symbol }) => ({
      bar: Math.floor(beat / numerator) + 1,
      beat: (beat % numerator) + 1,
      symbol,
    }));
  const answer = { out: options.out, bars, key: key && keyName(key), chords: told };
  if (out.json) out.answer(JSON.stringify(answer));
  else out.answer(`${options.out}: ${bars} bars${key ? `, ${keyName(key)}` : ''}, ${told.length} chords`);
  return 0;
}

/** The parts that stand on the sheet, or the one that is named. @throws Refusal */
function chosenParts(
  as: 'lead' | 'score' | 'tab',
  file: string,
  split: Split,
  parts: readonly (SheetPart & { index: number })[],
  name: string | undefined,
  problem: (text: string) => void,
): SheetPart[] {
  if (name !== undefined && as !== 'score') {
    const index = choosePart(file, split, name, problem);
    const found = parts.find((one) => one.index === index);
    if (!found) throw new Refusal(`${file}: "${name}" has no notes.`);
    if (!isPitched(found.clip)) throw new Refusal(`${file}: "${name}" has no pitches to be written.`);
    return [found];
  }
  const found = partsOnSheet(as, parts);
  if (typeof found !== 'string') return found;
  const way = as === 'tab' ? ' Choose a part with --part.' : '';
  throw new Refusal(`${file}: ${found[0]!.toLowerCase()}${found.slice(1)}${way}`);
}
