import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readTakes, type Take } from '../../src/core/capture/take.ts';
import { CHORD_QUALITIES, type ChordQuality } from '../../src/core/music/chord-quality.ts';
import { chordSymbol, chordTones } from '../../src/core/music/chord.ts';
import { MODE_STEPS, type Key, type Mode } from '../../src/core/music/key.ts';
import { pitchClass } from '../../src/core/music/pitch.ts';
import { seededRandom } from '../../src/core/random.ts';

/** A chord of a chart: where it begins, in beats from the start, and for how many. */
export interface TrueChord {
  beat: number;
  beats: number;
  root: number;
  quality: ChordQuality;
}

/** A chart that was sounded: its chords and its key are known. */
export interface SoundedChart {
  name: string;
  take: Take;
  key: Key;
  /** From the middle on; the same where it does not change. */
  laterKey: Key;
  beatsPerBar: number;
  chords: TrueChord[];
}

export type ChartSet = 'plain' | 'hard' | 'rich' | 'anywhere' | 'modal' | 'modulating';

/** Of every chart. */
export const BARS = 16;

const bySymbol = (symbol: string) => CHORD_QUALITIES.find((quality) => quality.symbol === symbol)!;

/** Degrees of major and minor progressions with their chords (common practice). */
const MAJOR: readonly [step: number, symbol: string][] = [
  [0, ''],
  [5, ''],
  [7, ''],
  [9, 'm'],
  [2, 'm'],
  [7, '7'],
  [4, 'm'],
];
const MINOR: readonly [step: number, symbol: string][] = [
  [0, 'm'],
  [5, 'm'],
  [7, '7'],
  [8, ''],
  [10, ''],
  [3, ''],
  [7, ''],
];
const SEVENTHS: readonly [step: number, symbol: string][] = [
  [0, 'maj7'],
  [2, 'm7'],
  [7, '7'],
  [9, 'm7'],
  [5, 'maj7'],
  [11, 'm7b5'],
  [4, '7'],
];

/** Triads of the church modes with which they are played, the tonic first (common practice). */
const MODAL: readonly { mode: Mode; degrees: readonly [step: number, symbol: string][] }[] = [
  { mode: 'dorian', degrees: [[0, 'm'], [5, ''], [10, ''], [2, 'm'], [3, ''], [7, 'm']] }, // prettier-ignore
  { mode: 'phrygian', degrees: [[0, 'm'], [1, ''], [10, 'm'], [3, ''], [8, '']] }, // prettier-ignore
  { mode: 'lydian', degrees: [[0, ''], [2, ''], [7, ''], [11, 'm'], [9, 'm'], [4, 'm']] }, // prettier-ignore
  { mode: 'mixolydian', degrees: [[0, ''], [10, ''], [5, ''], [7, 'm'], [2, 'm']] }, // prettier-ignore
];

/**
 * Charts in all keys, typed as ABC and sounded by Debian's `abc2midi` (package abcmidi): `plain` has a chord a bar and a tune
 * of its notes; `hard` has sevenths, inversions, two chords a bar, pushes, 3/4, a walking bass, and a tune of which half is
 * no chord note; `rich` has all kinds of chord there are; `anywhere` neither begins nor ends on its tonic; `modal` is in
 * church modes; `modulating` goes to another key in the middle.
 */
export function soundedCharts(set: ChartSet, count: number): SoundedChart[] {
  const folder = mkdtempSync(join(tmpdir(), 'charts-'));
  try {
    return Array.from({ length: count }, (_, n) => {
      const { abc, ...chart } = makeChart(set, n);
      const source = join(folder, `${n}.abc`);
      const target = join(folder, `${n}.mid`);
      writeFileSync(source, abc);
      execFileSync('abc2midi', [source, '-quiet', '-o', target], { stdio: 'ignore' });
      const take = readTakes(readFileSync(target))[0]!;
      return { ...chart, take: set === 'hard' && n % 5 === 0 ? withPushes(take, chart) : take };
    });
  } finally {
    rmSync(folder, { recursive: true });
  }
}

/** Accompaniment and bass of every other chord come half a beat early, and last until they would have. */
function withPushes(take: Take, { chords }: Pick<SoundedChart, 'chords'>): Take {
  const { ppq } = take.timing.timeline;
  const ahead = new Set(chords.filter((_, k) => k % 2 === 1).map(({ beat }) => beat * ppq));
  const notes = { ...take.notes, tick: take.notes.tick.slice(), duration: take.notes.duration.slice() };
  for (let i = 0; i < notes.length; i++) {
    if (notes.channel[i] === 0 || !ahead.has(notes.tick[i]!)) continue;
    notes.tick[i]! -= ppq / 2;
    notes.duration[i]! += ppq / 2;
  }
  return { ...take, notes };
}

function makeChart(set: ChartSet, n: number): Omit<SoundedChart, 'take'> & { abc: string } {
  const random = seededRandom(1000 * (set.length + 1) + n);
  const pick = <Value>(list: readonly Value[]) => list[Math.floor(random() * list.length)]!;
  const modal = set === 'modal' ? MODAL[n % MODAL.length] : undefined;
  const isMinor = n % 3 === 2;
  const key: Key = { tonic: (n * 7) % 12, mode: modal?.mode ?? (isMinor ? 'minor' : 'major') };
  const later = set === 'modulating' ? [2, 3, 5, 7, 9, 10][n % 6]! : 0;
  const laterKey = { ...key, tonic: pitchClass(key.tonic + later) };
  const beatsPerBar = set === 'hard' && n % 4 === 1 ? 3 : 4;
  const degrees = modal?.degrees ?? (isMinor ? MINOR : set === 'hard' ? [...MAJOR, ...SEVENTHS] : MAJOR);
  const chords: TrueChord[] = [];
  for (let bar = 0; bar < BARS; bar++) {
    const isEdge = bar === 0 || bar === BARS - 1 || (later > 0 && bar % (BARS / 4) === 0);
    const isSplit = set === 'hard' && beatsPerBar === 4 && !isEdge && random() < 0.35;
    for (let half = 0; half < (isSplit ? 2 : 1); half++) {
      const [step, symbol] =
        set === 'anywhere'
          ? anywhere(bar, degrees, pick)
          : isEdge || (modal && bar % 4 === 0)
            ? degrees[0]!
            : pick(degrees);
      const quality =
        set === 'rich' && !isEdge
          ? pick(CHORD_QUALITIES.filter(({ symbol: s }) => s !== '5'))
          : bySymbol(symbol);
      const beats = isSplit ? beatsPerBar / 2 : beatsPerBar;
      chords.push({
        beat: bar * beatsPerBar + half * beats,
        beats,
        root: pitchClass((bar < BARS / 2 ? key : laterKey).tonic + step),
        quality,
      });
    }
  }
  return {
    name: `${set} ${n + 1}`,
    key,
    laterKey,
    beatsPerBar,
    chords,
    abc: abcOf(set, n, key, beatsPerBar, chords, random),
  };
}

/** Home in the middle of each four bars, from a dominant, and never at either end. */
function anywhere<Degree>(
  bar: number,
  degrees: readonly Degree[],
  pick: (list: readonly Degree[]) => Degree,
): Degree {
  if (bar % 4 === 2) return degrees[0]!;
  if (bar % 4 === 1) return degrees[2]!;
  return pick(degrees.slice(1));
}

function abcOf(
  set: ChartSet,
  n: number,
  key: Key,
  beatsPerBar: number,
  chords: readonly TrueChord[],
  random: () => number,
): string {
  const pick = <Value>(list: readonly Value[]) => list[Math.floor(random() * list.length)]!;
  const gchord =
    beatsPerBar === 3 ? pick(['fzczcz', 'f2c2c2']) : pick(['fzczfzcz', 'f2c2f2c2', 'fzczczcz', 'c4c4']);
  const walks = set === 'hard' && n % 3 === 0;
  const body: string[] = [];
  for (let bar = 0; bar < BARS; bar++) {
    const own = chords.filter(({ beat }) => Math.floor(beat / beatsPerBar) === bar);
    body.push(
      own
        .map((chord) => {
          const tones = chordTones(chord);
          const inverted = set === 'hard' && !walks && random() < 0.25 ? tones[1]! : chord.root;
          const symbol = chordSymbol({ ...chord, bass: inverted }, key);
          const tune = Array.from({ length: chord.beats }, (_, at) => {
            const stray = set === 'hard' && at % 2 === 1;
            return abcNote(stray ? scaleNote(key, random) : pick(tones));
          });
          return `"${symbol}"${tune.join('')}`;
        })
        .join(''),
    );
  }
  const bassVoice = walks ? ['V:2', '%%MIDI program 32', ...walkingBass(chords, beatsPerBar, key)] : [];
  return [
    'X:1',
    `T:${set} ${n}`,
    `M:${beatsPerBar}/4`,
    'L:1/4',
    `Q:1/4=${80 + Math.floor(random() * 60)}`,
    'K:C',
    // Every kind of chord as it is written here, in semitones over the root.
    ...CHORD_QUALITIES.filter(({ symbol }) => symbol !== '').map(
      ({ symbol, tones }) =>
        `%%MIDI chordname ${symbol} ${tones.map((tone, i) => (i > 3 || tone < (tones[i - 1] ?? 0) ? tone + 12 : tone)).join(' ')}`,
    ),
    'V:1',
    '%%MIDI program 73',
    `%%MIDI gchord ${gchord}`,
    '%%MIDI chordprog 0',
    '%%MIDI bassprog 32',
    ...(walks ? ['%%MIDI bassvol 1'] : []),
    '%%MIDI gchordon',
    ...body.map((bar) => `${bar}|`),
    ...bassVoice,
    '',
  ].join('\n');
}

const LETTERS = ['C', '^C', 'D', '_E', 'E', 'F', '^F', 'G', '_A', 'A', '_B', 'B'];

/** A quarter note in the octave over middle C, with its sign, for the key is left at C. */
function abcNote(pc: number): string {
  const name = LETTERS[pitchClass(pc)]!;
  return /^[_^]/.test(name) ? name : `=${name}`;
}

function scaleNote(key: Key, random: () => number): number {
  const steps = MODE_STEPS[key.mode];
  return pitchClass(key.tonic + steps[Math.floor(random() * steps.length)]!);
}

/** Root on the first beat of each chord, scale steps to the next root between. */
function walkingBass(chords: readonly TrueChord[], beatsPerBar: number, key: Key): string[] {
  const steps = MODE_STEPS[key.mode].map((step) => pitchClass(key.tonic + step));
  const notes: string[] = [];
  for (const { root, beats } of chords) {
    let at = steps.findIndex((step) => pitchClass(step - root) < 2);
    for (let beat = 0; beat < beats; beat++) {
      notes.push(`${abcNote(beat === 0 ? root : steps[(at = (at + 1) % 7)]!)},,`);
    }
  }
  const bars: string[] = [];
  for (let k = 0; k < notes.length; k += beatsPerBar)
    bars.push(`${notes.slice(k, k + beatsPerBar).join('')}|`);
  return bars;
}
