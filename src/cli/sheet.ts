import { writeFileSync } from 'node:fs';
import { basename, extname } from 'node:path';
import { upperMedian } from '../core/analyze/measures.ts';
import { OPEN_STRINGS } from '../core/through/strings.ts';
import { analyzeTake } from '../core/analyze/analysis.ts';
import type { ChangesChord } from '../core/analyze/changes.ts';
import type { Take } from '../core/capture/take.ts';
import { keyName, type Key } from '../core/music/key.ts';
import { parseSymbol } from '../core/music/chord.ts';
import { barStart, bpmOf, meterAt, tempoAt } from '../core/music/timeline.ts';
import { writeMusicXml, type Harmony, type Score, type Staff } from '../core/notation/musicxml.ts';
import { QUARTER, signsOf } from '../core/notation/reading-rhythm.ts';
import { chordSheet } from '../core/notation/chord-sheet.ts';
import { clipFromPart, type ClipNote } from '../core/phrase/clip.ts';
import { UNPITCHED, type Role } from '../core/split/roles.ts';
import { type PlayingPart, type Split } from '../core/split/split.ts';
import { formOfTake } from '../core/weave/sections-of.ts';
import { choosePart, tuneIn } from './choose-part.ts';
import { Refusal, type Output } from './output.ts';
import { changesOfTake, playingOfFile } from './opened-file.ts';

export const SHEETS = ['chords', 'lead', 'score', 'tab'] as const;

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
  const { chords, keys, sections } = analyzeTake(take, split);
  const { key, bars, changes } = changesOfTake(take, { chords, keys });
  const title = basename(file, extname(file));
  const { numerator } = meterAt(take.timing.timeline, 0);
  if (as === 'chords') {
    const form = formOfTake(take, split, { sections, chords, key, bars, chart: '' });
    writeFileSync(options.out, chordSheet(title, key, form));
  } else {
    const chosen = partsFor(as, file, split, playing, options.part, (text) => out.problem(text));
    const harmony = harmonyOfBars(changes, numerator, bars);
    writeFileSync(
      options.out,
      writeMusicXml(scoreOf(title, take, split, chosen, { as, key, bars, harmony })),
    );
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

/** Which parts stand on the sheet: the tune, what is fretted, or all. @throws Refusal */
function partsFor(
  as: 'lead' | 'score' | 'tab',
  file: string,
  split: Split,
  playing: readonly PlayingPart[],
  name: string | undefined,
  problem: (text: string) => void,
): PlayingPart[] {
  if (as === 'score') return [...playing];
  if (name !== undefined) {
    const index = choosePart(file, split, name, problem);
    const found = playing.find((one) => one.index === index);
    if (!found) throw new Refusal(`${file}: "${name}" has no notes.`);
    if (UNPITCHED.has(found.part.role)) throw new Refusal(`${file}: "${name}" has no pitches to be written.`);
    return [found];
  }
  const fretted = playing.filter(({ part }) => part.role === 'guitar' || part.role === 'bass');
  const found =
    as === 'tab'
      ? (fretted.find(({ part }) => part.role === 'guitar') ?? fretted[0])
      : playing.find(({ index }) => index === tuneIn(split));
  if (!found)
    throw new Refusal(
      as === 'tab'
        ? `${file}: there is no guitar and no bass; choose with --part.`
        : `${file}: there is no tune in it.`,
    );
  return [found];
}

/** A bass's open strings in standard tuning (common practice), low to high. */
const BASS_STRINGS = [28, 33, 38, 43] as const;

function scoreOf(
  title: string,
  take: Take,
  split: Split,
  parts: readonly PlayingPart[],
  { as, key, bars, harmony }: { as: string; key: Key | null; bars: number; harmony: Harmony[][] },
): Score {
  const { timeline } = take.timing;
  const { numerator, denominator } = meterAt(timeline, 0);
  const staves = parts.map(({ part, index }): Staff => {
    const clip = clipFromPart(take, split, index, key);
    const signs = signsOf(clip.notes, timeline, { pickup: 0, bars });
    if (as === 'tab') {
      const strings = part.role === 'bass' ? BASS_STRINGS : OPEN_STRINGS;
      return { name: part.name, clef: 'tab', bars: signs, strings };
    }
    return { name: part.name, clef: clefOf(part.role, clip.notes), bars: signs };
  });
  const bpm = bpmOf(tempoAt(timeline, barStart(timeline, 1)).microseconds);
  return { title, key, bpm, meter: { numerator, denominator }, staves, harmony };
}

/** Where half of the notes lie lower than this, ledger lines are fewer under a bass clef. */
const BASS_CLEF_BELOW = 57;

/** By the role, and where most of the notes lie. */
function clefOf(role: Role, notes: readonly ClipNote[]): Staff['clef'] {
  if (UNPITCHED.has(role)) return 'percussion';
  if (role === 'guitar') return 'treble 8';
  return upperMedian(notes.map(({ pitch }) => pitch)) < BASS_CLEF_BELOW ? 'bass' : 'treble';
}

/** Chords bar by bar, each where it begins; one that goes on is not said again. */
function harmonyOfBars(changes: readonly ChangesChord[], beats: number, bars: number): Harmony[][] {
  const result: Harmony[][] = Array.from({ length: bars }, () => []);
  for (const { beat, symbol } of changes) {
    const chord = symbol ? parseSymbol(symbol) : undefined;
    const bar = Math.floor(beat / beats + 1e-6);
    if (chord && result[bar])
      result[bar].push({ at: Math.round((beat - bar * beats) * QUARTER), chord, symbol });
  }
  return result;
}
