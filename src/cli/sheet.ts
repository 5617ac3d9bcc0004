import { writeFileSync } from 'node:fs';
import { basename, extname } from 'node:path';
import { analyzeTake } from '../core/analyze/analysis.ts';
import { changesIn } from '../core/analyze/changes.ts';
import type { Take } from '../core/capture/take.ts';
import { keyName, type Key } from '../core/music/key.ts';
import { parseSymbol } from '../core/music/chord.ts';
import { barStart, barsUntil, bpmOf, meterAt, tempoAt } from '../core/music/timeline.ts';
import { writeMusicXml, type Harmony, type Score, type Staff } from '../core/notation/musicxml.ts';
import { QUARTER, signsOf } from '../core/notation/reading-rhythm.ts';
import { chordSheet } from '../core/notation/chord-sheet.ts';
import { clipFromPart, type ClipNote } from '../core/phrase/clip.ts';
import { mended } from '../core/split/proposals.ts';
import { UNPITCHED, type Role } from '../core/split/roles.ts';
import { playingParts, splitTake, type PlayingPart, type Split } from '../core/split/split.ts';
import { formOfTake } from '../core/weave/sections-of.ts';
import { choosePart, tuneIn } from './choose-part.ts';
import { takeOfFile } from './files.ts';
import { Refusal, type Output } from './output.ts';
import { CERTAIN } from './split.ts';

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
  const take = takeOfFile(file, (text) => out.problem(text));
  const split = mended(take, splitTake(take), CERTAIN);
  const playing = playingParts(split);
  if (playing.length === 0) throw new Refusal(`${file}: there are no notes in it.`);
  const { chords, keys, sections } = analyzeTake(take, split);
  const key = keys[0] ? { tonic: keys[0].tonic, mode: keys[0].mode } : null;
  const bars = Math.max(1, barsUntil(take.timing.timeline, take.timing.ticks));
  const changes = key ? changesIn(take, chords, key, { startBar: 1, bars }) : [];
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

/** Open strings in standard tuning (common practice), low to high. */
const STRINGS = { guitar: [40, 45, 50, 55, 59, 64], bass: [28, 33, 38, 43] } as const;

const LOW: ReadonlySet<Role> = new Set<Role>(['bass']);

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
      const strings = LOW.has(part.role) ? STRINGS.bass : STRINGS.guitar;
      return { name: part.name, clef: 'tab', bars: signs, strings };
    }
    return { name: part.name, clef: clefOf(part.role, clip.notes), bars: signs };
  });
  const bpm = bpmOf(tempoAt(timeline, barStart(timeline, 1)).microseconds);
  return { title, key, bpm, meter: { numerator, denominator }, staves, harmony };
}

/** By the role, and where most of the notes lie. */
function clefOf(role: Role, notes: readonly ClipNote[]): Staff['clef'] {
  if (UNPITCHED.has(role)) return 'percussion';
  if (role === 'guitar') return 'treble 8';
  const pitches = notes.map(({ pitch }) => pitch).sort((a, b) => a - b);
  return (pitches[pitches.length >> 1] ?? 60) < 57 ? 'bass' : 'treble';
}

/** Chords bar by bar, each where it begins; one that goes on is not said again. */
function harmonyOfBars(changes: ReturnType<typeof changesIn>, beats: number, bars: number): Harmony[][] {
  const result: Harmony[][] = Array.from({ length: bars }, () => []);
  for (const { beat, symbol } of changes) {
    const chord = symbol ? parseSymbol(symbol) : undefined;
    const bar = Math.floor(beat / beats + 1e-6);
    if (chord && result[bar])
      result[bar].push({ at: Math.round((beat - bar * beats) * QUARTER), chord, symbol });
  }
  return result;
}
