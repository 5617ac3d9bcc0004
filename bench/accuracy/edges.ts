import { findChords } from '../../src/core/analyze/chords.ts';
import { chromaOf } from '../../src/core/analyze/chroma.ts';
import { findEdges } from '../../src/core/analyze/edges.ts';
import { findLoops } from '../../src/core/analyze/loops.ts';
import { takeFrom, type Take } from '../../src/core/capture/take.ts';
import { barTicks } from '../../src/core/music/timeline.ts';
import { performanceFile, PPQ, type Performance, type Played } from '../../src/core/standins/performance.ts';
import { seededRandom } from '../../src/core/random.ts';
import { standInById } from '../../src/core/standins/stand-ins.ts';
import { playingParts, splitTake } from '../../src/core/split/split.ts';

export const EDGE_KINDS = [
  'plain',
  'late',
  'silent bars',
  'pickup',
  'count-in',
  'count-in and pickup',
  'tail',
] as const;
type EdgeKind = (typeof EDGE_KINDS)[number];

interface EdgedTake {
  kind: EdgeKind;
  name: string;
  take: Take;
  leading: number;
  countInBars: number;
  pickup: number;
  tailBars: number;
}

const CHARTS = ['Dm | Bb | Gm | A7', 'G | C | D7 | G', 'F#m | D | A | E', 'Am7 | D7 | Gmaj7 | Cmaj7'];

/** Takes of the stand-ins whose beginning and end are known because they were made so. */
export function edgedTakes(count: number, seed = 0): EdgedTake[] {
  return Array.from({ length: count }, (_, n) => {
    const random = seededRandom(300 + n + seed);
    const pick = <Value>(list: readonly Value[]) => list[Math.floor(random() * list.length)]!;
    const kind = EDGE_KINDS[n % EDGE_KINDS.length]!;
    // The strummer plays one chord: nothing tells its end from its middle.
    const standIn = standInById(
      pick(kind === 'tail' ? ['band', 'chord-player'] : ['band', 'band', 'chord-player', 'strummer']),
    );
    const settings = {
      ...standIn.defaults,
      seed: n + seed,
      bpm: 72 + Math.floor(random() * 70),
      looseness: 6,
    };
    for (const field of standIn.fields)
      if (field.kind === 'choice') Object.assign(settings, { [field.name]: pick(field.options).value });
    const chart = pick(CHARTS);
    if ('chart' in settings) Object.assign(settings, { chart: [chart, chart, chart].join(' | ') });
    const clean = standIn.play(settings, []);
    const bar = barTicks(PPQ, clean.meter);
    const eighth = PPQ / 2;
    const counted = kind.startsWith('count-in') ? 1 + Math.floor(random() * 2) : 0;
    const pickup = kind.endsWith('pickup') ? eighth * (1 + Math.floor(random() * 3)) : 0;
    const silence =
      kind === 'late'
        ? eighth * (1 + Math.floor(random() * (bar / eighth - 1)))
        : kind === 'silent bars'
          ? bar * (1 + Math.floor(random() * 2))
          : 0;
    const before = silence + bar * (counted || (pickup > 0 ? 1 : 0));
    const parts = clean.parts.map((part) => ({
      ...part,
      notes: part.notes.map((note) => ({ ...note, tick: note.tick + before })),
    }));
    if (counted > 0)
      parts.push({
        name: 'Sticks',
        channel: 9,
        program: null,
        notes: counting(counted, bar, pick([37, 42, 31])),
      });
    if (pickup > 0) parts.push(leadIn(clean, before, pickup));
    const tailBars = kind === 'tail' ? 1 + Math.floor(random() * 2) : 0;
    if (tailBars > 0)
      parts.forEach(
        (part, at) =>
          at % 2 === 0 && part.notes.push(...endingOf(part.notes, before + clean.bars * bar, bar, tailBars)),
      );
    const made: Performance = { ...clean, bars: clean.bars + before / bar + tailBars, parts };
    return {
      kind,
      name: standIn.title,
      take: takeFrom(performanceFile(made)),
      leading: pickup > 0 || counted > 0 ? 0 : silence + firstOf(clean),
      countInBars: counted,
      pickup,
      tailBars,
    };
  });
}

function firstOf({ parts }: Performance): number {
  return Math.max(0, Math.min(...parts.flatMap(({ notes }) => notes.map(({ tick }) => tick))));
}

function counting(bars: number, bar: number, pitch: number): Played[] {
  return Array.from({ length: (bars * bar) / PPQ }, (_, beat) => ({
    tick: beat * PPQ,
    length: 60,
    pitch,
    velocity: 90,
  }));
}

/** A few notes that lead into a bar line, on a part of their own. */
function leadIn(clean: Performance, line: number, length: number) {
  const target = clean.parts[0]!.notes[0]!.pitch;
  const count = length / (PPQ / 2);
  return {
    name: 'Fiddle',
    channel: 6,
    program: 40,
    notes: [
      ...Array.from({ length: count }, (_, k) => ({
        tick: line - length + (k * PPQ) / 2,
        length: 200,
        pitch: 60 + (target % 12) + k - count,
        velocity: 84,
      })),
      { tick: line, length: PPQ, pitch: 60 + (target % 12), velocity: 96 },
    ],
  };
}

/** Bars after the form: a held last sound, struck again in each. */
function endingOf(notes: readonly Played[], end: number, bar: number, bars: number): Played[] {
  const own = notes.slice(0, 3);
  return Array.from({ length: bars }, (_, k) =>
    own.map((note) => ({ ...note, tick: end + k * bar, length: bar - 40 })),
  ).flat();
}

export function scoreEdges(takes: readonly EdgedTake[]) {
  return EDGE_KINDS.map((kind) => {
    const own = takes.filter((take) => take.kind === kind);
    const wrong = own.flatMap(({ name, take, ...made }) => {
      const split = splitTake(take);
      const chords = findChords(chromaOf(take, split));
      const loops = playingParts(split).flatMap(({ notes }) => findLoops(take, notes).slice(0, 1));
      const found = findEdges(take, split, loops, chords);
      const near = (one: number, other: number) => Math.abs(one - other) <= PPQ / 8;
      const right =
        near(found.leadingTicks, made.leading) &&
        near(found.pickupTicks, made.pickup) &&
        found.countInBars === made.countInBars &&
        (made.tailBars === 0 || found.tailBars === made.tailBars);
      return right
        ? []
        : [
            `${name}: ${made.leading}/${made.countInBars}/${made.pickup}/${made.tailBars} found ${found.leadingTicks}/${found.countInBars}/${found.pickupTicks}/${found.tailBars} late ${found.lateTicks}`,
          ];
    });
    return { kind, takes: own.length, right: own.length - wrong.length, wrong };
  });
}
