import { findLoops } from '../../src/core/analyze/loops.ts';
import { LEVELS } from '../../src/core/analyze/repeats.ts';
import { takeFrom, type Take } from '../../src/core/capture/take.ts';
import { CHORD_QUALITIES } from '../../src/core/music/chord-quality.ts';
import { chordTones } from '../../src/core/music/chord.ts';
import { performanceFile, PPQ, type Played } from '../../src/core/standins/performance.ts';
import { seededRandom } from '../../src/core/random.ts';

/** How a part was made of its loop. */
export const LOOP_KINDS = ['plain', 'varied', 'fills', 'transposed', 'nested', 'odd', 'intro'] as const;
export type LoopKind = (typeof LOOP_KINDS)[number];

export const LOOP_WORDS: Record<LoopKind, string> = {
  plain: 'again as it was',
  varied: 'up to 20 % of the notes varied',
  fills: 'another last bar the last time',
  transposed: 'moved as a block',
  nested: 'a bar again and again, another in the last place',
  odd: '3, 6 or 12 bars',
  intro: 'one to four other bars before',
};

export interface LoopedPart {
  kind: LoopKind;
  take: Take;
  bars: number;
  /** From 1. */
  startBar: number;
}

const BAR = 4 * PPQ;

type Bar = Played[];

/** Parts of a known loop: chords, bass lines, broken chords, tunes and grooves. */
export function loopedParts(count: number, seed = 4000): LoopedPart[] {
  return Array.from({ length: count }, (_, n) => {
    const random = seededRandom(seed + n);
    const kind = LOOP_KINDS[n % LOOP_KINDS.length]!;
    const pick = <Value>(list: readonly Value[]) => list[Math.floor(random() * list.length)]!;
    const texture = pick(kind === 'transposed' ? TEXTURES.slice(0, -1) : TEXTURES);
    // Below two bars a nested loop is none.
    const bars =
      kind === 'odd'
        ? pick([3, 6, 12])
        : kind === 'nested'
          ? pick([4, 8])
          : kind === 'transposed'
            ? pick([2, 4, 8])
            : pick([1, 2, 4, 8]);
    const repeats =
      kind === 'transposed' ? 4 : bars >= 8 ? 2 + Math.floor(random() * 2) : 3 + Math.floor(random() * 3);
    const cycle =
      kind === 'nested' ? nestedCycle(texture, bars, random) : distinctBars(texture, bars, random);
    const shifts = kind === 'transposed' ? [0, pick([5, 3, -2]), pick([0, 2]), 7] : [];
    const all = Array.from({ length: repeats }, (_, time) =>
      cycle.map((bar, at) => {
        const moved = bar.map((note) => ({ ...note, pitch: note.pitch + (shifts[time] ?? 0) }));
        if (kind === 'varied') return varied(moved, 0.2 * random(), random);
        return kind === 'fills' && at === bars - 1 && bars > 1 && time === repeats - 1
          ? texture(random)
          : moved;
      }),
    ).flat();
    const intro = kind === 'intro' ? distinctBars(pick(TEXTURES), 1 + Math.floor(random() * 4), random) : [];
    return { kind, take: takeOfBars([...intro, ...all]), bars, startBar: intro.length + 1 };
  });
}

/** Parts in which nothing comes back: tunes, broken chords over changes that do not return, chords, bass lines. */
export function throughComposed(count: number, seed = 9000): Take[] {
  return Array.from({ length: count }, (_, n) => {
    const random = seededRandom(seed + n);
    const texture = TEXTURES[n % (TEXTURES.length - 1)]!;
    return takeOfBars(distinctBars(texture, 16, random));
  });
}

export function takeOfBars(bars: readonly Bar[]): Take {
  const notes = bars.flatMap((bar, at) => bar.map((note) => ({ ...note, tick: note.tick + at * BAR })));
  return takeFrom(
    performanceFile({
      title: 'Loop',
      bpm: 100,
      meter: { numerator: 4, denominator: 4 },
      bars: bars.length,
      parts: [{ name: 'Part', channel: 0, program: 0, notes }],
      input: null,
    }),
  );
}

/** Bars no two of which are alike. */
function distinctBars(texture: Texture, count: number, random: () => number): Bar[] {
  const bars: Bar[] = [];
  const seen = new Set<string>();
  while (bars.length < count) {
    const bar = texture(random);
    const shape = JSON.stringify(bar.map(({ tick, pitch }) => [tick, pitch]));
    if (seen.has(shape)) continue;
    seen.add(shape);
    bars.push(bar);
  }
  return bars;
}

/** One bar again and again, and another in the last place: a loop in the loop. */
function nestedCycle(texture: Texture, bars: number, random: () => number): Bar[] {
  const [often, last] = distinctBars(texture, 2, random);
  return Array.from({ length: bars }, (_, at) => (at === bars - 1 ? last! : often!));
}

function varied(bar: Bar, share: number, random: () => number): Bar {
  return bar.map((note) =>
    random() < share ? { ...note, pitch: note.pitch + (random() < 0.5 ? -2 : 3) } : note,
  );
}

type Texture = (random: () => number) => Bar;

const note = (tick: number, length: number, pitch: number, random: () => number): Played => ({
  tick,
  length,
  pitch,
  velocity: 70 + Math.floor(random() * 40),
});

const chordOf = (random: () => number) =>
  chordTones({ root: Math.floor(random() * 12), quality: CHORD_QUALITIES[Math.floor(random() * 5)]! });

const SCALE = [0, 2, 4, 5, 7, 9, 11];

/** What a bar is filled with; the last, a groove, cannot be told from another by pitch alone. */
const TEXTURES: readonly Texture[] = [
  // Chords on some of the beats.
  (random) => {
    const tones = chordOf(random);
    return [0, 1, 2, 3].flatMap((beat) =>
      beat === 0 || random() < 0.6 ? tones.map((pc) => note(beat * PPQ, 400, 48 + pc, random)) : [],
    );
  },
  // Broken chords in eighths.
  (random) => {
    const tones = chordOf(random);
    return Array.from({ length: 8 }, (_, i) =>
      note((i * PPQ) / 2, 200, 60 + tones[i % tones.length]!, random),
    );
  },
  // A bass line.
  (random) => {
    const root = Math.floor(random() * 12);
    return [0, 1, 2, 3].flatMap((beat) => [
      note(beat * PPQ, 220, 36 + root, random),
      ...(random() < 0.5
        ? [note(beat * PPQ + PPQ / 2, 200, 36 + root + (random() < 0.5 ? 7 : 12), random)]
        : []),
    ]);
  },
  // A tune in the scale.
  (random) => {
    let at = Math.floor(random() * 7);
    const tune: Bar = [];
    for (let eighth = 0; eighth < 8; eighth++) {
      if (eighth > 0 && random() < 0.35) continue;
      at = Math.max(0, Math.min(12, at + Math.floor(random() * 5) - 2));
      tune.push(note((eighth * PPQ) / 2, 200, 60 + SCALE[at % 7]! + 12 * Math.floor(at / 7), random));
    }
    return tune;
  },
  // A groove.
  (random) => [
    ...Array.from({ length: 8 }, (_, i) => note((i * PPQ) / 2, 60, 42, random)),
    note(0, 60, 36, random),
    note(PPQ, 60, 38, random),
    note(3 * PPQ, 60, 38, random),
    ...[3, 5, 6, 7, 9, 10, 11, 14].flatMap((step) =>
      random() < 0.3 ? [note((step * PPQ) / 4, 60, random() < 0.7 ? 36 : 38, random)] : [],
    ),
  ],
];

export interface LoopScore {
  kind: LoopKind;
  parts: number;
  right: number;
  wrong: string[];
}

export function scoreLoops(parts: readonly LoopedPart[], levels = LEVELS): LoopScore[] {
  return LOOP_KINDS.map((kind) => {
    const own = parts.filter((part) => part.kind === kind);
    const wrong = own.flatMap(({ take, bars, startBar }, n) => {
      const [best] = findLoops(take, [...take.notes.tick.keys()], Infinity, levels);
      if (best && best.bars === bars && best.startBar === startBar) return [];
      return [
        `${n}: ${bars} from ${startBar}, found ${best ? `${best.bars} from ${best.startBar} x${best.repeats} ${best.likeness}` : 'none'}`,
      ];
    });
    return { kind, parts: own.length, right: own.length - wrong.length, wrong };
  });
}

/** Of through-composed parts, those of which a loop is claimed. */
export function falseLoops(takes: readonly Take[], levels = LEVELS): number {
  return takes.filter((take) => findLoops(take, [...take.notes.tick.keys()], Infinity, levels).length > 0)
    .length;
}
