import { readTakes, type Take } from '../../src/core/capture/take.ts';
import { barsOf, inBoth, sharedNotes, type Bar } from '../../src/core/analyze/bars-alike.ts';
import { findLoops, type LoopFinding } from '../../src/core/analyze/loops.ts';
import { LEVELS, VARIED, type Level } from '../../src/core/analyze/repeats.ts';
import { seededRandom } from '../../src/core/random.ts';
import { playingParts, splitTake } from '../../src/core/split/split.ts';
import { midiMaterial } from '../material.ts';
import {
  falseLoops,
  loopedParts,
  LOOP_KINDS,
  LOOP_WORDS,
  scoreLoops,
  takeOfBars,
  throughComposed,
} from './loops.ts';

/** How right the loops of one family of material are, 0..1, with some levels. */
interface Family {
  name: string;
  score: (levels: readonly Level[]) => number;
}

export interface LeftOut {
  family: string;
  /** With the levels that are right most often on all other families, and which those are. */
  left: number;
  chosen: Level;
  /** With the levels that stand in the code. */
  now: number;
}

/** Parts a family. */
const PARTS = 42;

/** Levels at which what is varied counts as a repeat: how alike each bar, and how alike all that is claimed. */
const TRIED: readonly Level[] = [0.5, 0.55, 0.6, 0.65].flatMap((alike) =>
  [0.71, 0.74, 0.77, 0.8, 0.83].map((claimed) => ({ alike, claimed })),
);

/** Each family scored with the levels that were chosen on all others. */
export function loopsLeftOut(): LeftOut[] {
  const families = [...madeFamilies(), variations(), nothing(), ...real()];
  const withVaried = (varied: Level) => [LEVELS[0]!, varied];
  const scores = families.map(({ score }) => TRIED.map((level) => score(withVaried(level))));
  return families.map(({ name, score }, family) => {
    const others = TRIED.map((_, k) =>
      scores.reduce((sum, own, other) => sum + (other === family ? 0 : own[k]!), 0),
    );
    const best = others.indexOf(Math.max(...others));
    return {
      family: name,
      left: scores[family]![best]!,
      chosen: TRIED[best]!,
      now: score(withVaried(VARIED)),
    };
  });
}

function madeFamilies(): Family[] {
  const parts = loopedParts(PARTS * LOOP_KINDS.length, 810_000);
  return LOOP_KINDS.map((kind) => ({
    name: LOOP_WORDS[kind],
    score: (levels) => {
      const own = scoreLoops(
        parts.filter((part) => part.kind === kind),
        levels,
      ).find((score) => score.kind === kind)!;
      return own.right / own.parts;
    },
  }));
}

/** Loops of which every repeat is another variation of the first: any two of them have lost notes of their own. */
function variations(): Family {
  const parts = Array.from({ length: PARTS }, (_, n) => {
    const random = seededRandom(820_000 + n);
    const pick = <Value>(list: readonly Value[]) => list[Math.floor(random() * list.length)]!;
    const bars = pick([1, 2, 4, 8]);
    const pitches = [48, 51, 53, 55, 58, 60, 63];
    const base = Array.from({ length: bars }, () =>
      Array.from({ length: 16 }, (_, step) => step)
        .filter((step) => step === 0 || random() < 0.35)
        .map((step) => ({ tick: step * 240, length: 200, pitch: pick(pitches), velocity: 80 })),
    );
    const times = Array.from({ length: Math.max(3, 16 / bars) }, (_, time) =>
      base.map((bar) =>
        bar.map((note) => (time > 0 && random() < 0.15 ? { ...note, pitch: pick(pitches) } : note)),
      ),
    );
    return { bars, take: takeOfBars(times.flat()) };
  });
  return {
    name: 'each time another variation',
    score: (levels) =>
      share(parts, ({ bars, take }) => {
        const [best] = findLoops(take, allNotes(take), Infinity, levels);
        return best?.bars === bars && best.startBar === 1;
      }),
  };
}

function nothing(): Family {
  const takes = throughComposed(PARTS, 830_000);
  return { name: 'nothing comes back', score: (levels) => 1 - falseLoops(takes, levels) / takes.length };
}

/** Of real files: claims whose notes come again, three quarters of them, and parts that repeat to the note and are told so. */
function real(): Family[] {
  const parts = midiMaterial().flatMap((bytes) =>
    readTakes(bytes).flatMap((take) =>
      playingParts(splitTake(take)).map(({ notes }) => ({ take, notes, bars: barsOf(take, notes) })),
    ),
  );
  const told = (levels: readonly Level[]) =>
    parts.map(({ take, notes, bars }) => ({ bars, loops: findLoops(take, notes, Infinity, levels) }));
  return [
    {
      name: 'real files, claims that hold',
      score: (levels) => {
        const claims = told(levels).flatMap(({ bars, loops }) => loops.map((loop) => ({ bars, loop })));
        return share(claims, ({ bars, loop }) => loop.shifts !== null || comesAgain(bars, loop) >= 0.75);
      },
    },
    {
      name: 'real files, repeats that are told',
      score: (levels) =>
        share(
          told(levels).filter(({ bars }) => repeats(bars)),
          ({ loops }) => loops.length > 0,
        ),
    },
  ];
}

/** Share of the notes of a claimed loop that come again a period later. */
function comesAgain(bars: readonly Bar[], { startBar, bars: period, repeats: times }: LoopFinding): number {
  const from = startBar - 1;
  return sharedNotes(bars, from, from + period, Math.min(period * (times - 1), bars.length - from - period));
}

/** Whether four bars or more come again at once, to the note. */
function repeats(bars: readonly Bar[]): boolean {
  const same = (one: Bar, other: Bar) =>
    one.notes.length > 0 &&
    one.notes.length === other.notes.length &&
    inBoth(one.notes, other.notes) === one.notes.length;
  for (let period = 1; period <= bars.length / 2; period++) {
    let length = 0;
    for (let bar = 0; bar + period < bars.length; bar++) {
      length = same(bars[bar]!, bars[bar + period]!) ? length + 1 : 0;
      if (length >= Math.max(4, period)) return true;
    }
  }
  return false;
}

const allNotes = (take: Take) => [...take.notes.tick.keys()];

function share<Item>(items: readonly Item[], holds: (item: Item) => boolean): number {
  return items.filter(holds).length / Math.max(1, items.length);
}
