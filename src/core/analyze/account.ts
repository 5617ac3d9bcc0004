import type { CaptureFacts } from '../capture/recording.ts';
import type { Take } from '../capture/take.ts';
import { pickNotes, type Notes } from '../midi/notes.ts';
import { GM_DRUM_CHANNEL } from '../midi/gm.ts';
import { ChartError, parseChart, type ChartChord } from '../music/chart.ts';
import { pitchClass, pitchClassName, pitchName } from '../music/pitch.ts';
import { barStart, barTicks, beatTicks, EARLY, meantBar, meterAt, positionAt } from '../music/timeline.ts';
import { DOUBLE_MS, doublesAmong, layeredParts } from '../split/doubles.ts';
import { kitAmong } from '../split/mixed.ts';
import { piecesOfOne } from '../split/pieces.ts';
import { UNPITCHED } from '../split/roles.ts';
import { playingParts, type Split } from '../split/split.ts';
import { plural } from '../words.ts';

/** What a take was meant to be, as far as anybody said. */
export interface Asked {
  /** Bars that were asked for; those of the chart where it is known and this is not. */
  bars?: number | null;
  chart?: string;
  /** Instruments that were to play. */
  parts?: number;
}

export const FINDINGS = [
  'nothing',
  'doubled',
  'hung',
  'cut',
  'lost',
  'tail',
  'short',
  'oneBar',
  'late',
  'drumChannel',
  'oneTrack',
  'pieces',
  'click',
  'layered',
  'wrongChord',
] as const;

/** Something that looks wrong with a take, and the way out. */
export interface AccountFinding {
  code: (typeof FINDINGS)[number];
  text: string;
  way: string;
  /** Bars of the take it is about, from 1. */
  bars?: { start: number; count: number };
}

/** The plain account of a take: what came, against what was asked. */
export interface Account {
  notes: number;
  /** Channels with notes, from 1. */
  channels: number[];
  barsAsked: number | null;
  /** Up to the last bar in which a note begins. */
  barsReceived: number;
  findings: AccountFinding[];
}

/** Share of the notes that must have a double before it is told. */
const DOUBLED_SHARE = 0.9;

/**
 * The account of a take as it now stands: corrected, and without what is set aside. What was put right is no longer
 * told.
 */
export function takeAccount(take: Take, split: Split, asked: Asked, capture?: CaptureFacts | null): Account {
  const { notes, timing } = take;
  const { timeline } = timing;
  const heard = withoutAside(take, split);
  const chart = readChart(asked.chart, meterAt(timeline, 0).numerator);
  const barsBefore = capture?.barsBefore ?? 0;
  // A chart may have been played several times over; then the number of bars was told.
  const wanted = asked.bars ?? (chart ? chart.length : null);
  const barsAsked = wanted === null ? null : wanted + barsBefore;
  const barsReceived = lastBar(heard);
  const late = findLateStart(heard, barsAsked, barsBefore);
  const findings = [
    ...findNothing(take),
    ...findDoubled(heard),
    ...findUnended(heard, capture),
    ...(capture?.lost ?? []).map(sourceLost),
    // What begins late hangs over the end: that is one thing wrong, not two.
    ...(late.length > 0 ? late : findLength(barsAsked, barsReceived)),
    ...findDrumsElsewhere(split),
    ...findOneTrack(take, split, asked.parts),
    ...findPieces(take, split),
    ...findClick(split),
    ...findLayers(take, split),
    ...(chart ? findWrongChords(take, split, chart, barsBefore) : []),
  ];
  return {
    notes: notes.length,
    channels: [...new Set(notes.channel)].sort((a, b) => a - b).map((channel) => channel + 1),
    barsAsked: wanted,
    barsReceived: Math.max(0, barsReceived - barsBefore),
    findings,
  };
}

/** The take with only the notes that parts have. */
function withoutAside(take: Take, { owner }: Split): Take {
  const kept = [...owner.keys()].filter((i) => owner[i]! >= 0);
  return kept.length === owner.length ? take : { ...take, notes: pickNotes(take.notes, kept) };
}

/**
 * The last bar in which a note begins; 0 without notes. One that begins a little ahead of a bar line belongs to the
 * next bar where it sounds there.
 */
function lastBar({ notes, timing: { timeline } }: Take): number {
  if (notes.length === 0) return 0;
  const lastOnset = notes.tick.reduce((last, tick) => Math.max(last, tick), 0);
  const { bar } = positionAt(timeline, lastOnset);
  const line = barStart(timeline, bar + 1);
  const early = EARLY * timeline.ppq;
  const ahead = notes.tick.some(
    (tick, i) => tick >= line - early && tick + notes.duration[i]! > line + early,
  );
  return ahead ? bar + 1 : bar;
}

function readChart(text: string | undefined, beats: number): ChartChord[][] | null {
  if (!text?.trim()) return null;
  try {
    return parseChart(text, beats);
  } catch (error) {
    if (error instanceof ChartError) return null;
    throw error;
  }
}

function findNothing({ notes }: Take): AccountFinding[] {
  if (notes.length > 0) return [];
  return [
    {
      code: 'nothing',
      text: 'Nothing arrived.',
      way: 'See whether the source sends at all, and on which port: its meter moves when it does.',
    },
  ];
}

function findDoubled(take: Take): AccountFinding[] {
  const { notes } = take;
  const doubled = 2 * doublesAmong(take, notes.pitch.keys()).length;
  if (notes.length < 4 || doubled < DOUBLED_SHARE * notes.length) return [];
  return [
    {
      code: 'doubled',
      text: `${doubled.toLocaleString('en')} of ${plural(notes.length, 'note')} came twice within ${DOUBLE_MS} ms.`,
      way: 'A generator was still on while its own notes were played back, or two ports carry the same. Set the doubles aside, and switch one of them off.',
    },
  ];
}

function findUnended({ notes, timing, repairs }: Take, capture?: CaptureFacts | null): AccountFinding[] {
  const { timeline, ticks } = timing;
  const fromFile = repairs.some(({ code }) => code === 'note-hung');
  if (!fromFile && !capture?.endedNotes) return [];
  const bar = barTicks(timeline.ppq, meterAt(timeline, 0));
  const unended = [...Array(notes.length).keys()].filter((i) => notes.tick[i]! + notes.duration[i]! >= ticks);
  const from = hangingFrom(notes);
  const begun = unended.map((i) => from[i]!);
  const hung = begun.filter((i) => ticks - notes.tick[i]! >= 1.5 * bar);
  const cut = begun.filter((i) => ticks - notes.tick[i]! < 1.5 * bar);
  const name = (i: number) => `${pitchName(notes.pitch[i]!)} in bar ${meantBar(timeline, notes.tick[i]!)}`;
  return [
    ...(hung.length > 0
      ? [
          {
            code: 'hung' as const,
            text: `${plural(hung.length, 'note')} never ended (${hung.slice(0, 3).map(name).join(', ')}).`,
            way: 'Ended with the take. Shorten it in Normalize, or set it aside in Split.',
          },
        ]
      : []),
    ...(cut.length > 0
      ? [
          {
            code: 'cut' as const,
            text: `${plural(cut.length, 'note')} still sounded at the end (${cut.slice(0, 3).map(name).join(', ')}).`,
            way: 'Ended there. Record a bar longer, so that the end rings out.',
          },
        ]
      : []),
  ];
}

function sourceLost({ source, bar }: { source: string; bar: number }): AccountFinding {
  return {
    code: 'lost',
    text: `"${source}" went away in bar ${bar}.`,
    way: 'What it held was ended there. See to its cable, and take it again from that bar.',
    bars: { start: bar, count: 1 },
  };
}

/**
 * For each note the one whose end is missing, if it still sounds at the end. Ends belong to the first note that waits for
 * one: where a pitch was played again after the loss, each took the end of the next.
 */
function hangingFrom(notes: Notes): Int32Array {
  const from = Int32Array.from(notes.tick.keys());
  const before = new Map<number, number>();
  for (let i = 0; i < notes.length; i++) {
    const key = (notes.track[i]! * 16 + notes.channel[i]!) * 128 + notes.pitch[i]!;
    const last = before.get(key);
    if (last !== undefined && notes.tick[last]! + notes.duration[last]! > notes.tick[i]!)
      from[i] = from[last]!;
    before.set(key, i);
  }
  return from;
}

function findLength(asked: number | null, received: number): AccountFinding[] {
  if (asked === null || received === 0) return [];
  if (received > asked) {
    const count = received - asked;
    return [
      {
        code: 'tail',
        text: `${plural(count, 'bar')} after the ${asked} that were asked for.`,
        way: `Keep ${count === 1 ? 'it' : 'them'} as an ending, or set ${count === 1 ? 'it' : 'them'} aside.`,
        bars: { start: asked + 1, count },
      },
    ];
  }
  if (received === 1 && asked > 1) {
    return [
      {
        code: 'oneBar',
        text: `One bar came, ${asked} were asked for.`,
        way: 'It is one bar of a pattern that should repeat: loop it, or let the source fill the range.',
        bars: { start: 1, count: 1 },
      },
    ];
  }
  if (received < asked) {
    return [
      {
        code: 'short',
        text: `${plural(received, 'bar')} came, ${asked} were asked for.`,
        way: 'Was the end cut off? Take it again, or go on with what came.',
      },
    ];
  }
  return [];
}

/** Weight of a place in the bar: its first beat, its middle, other beats, halves of beats, the rest. */
function metricalWeight(tickInBar: number, bar: number, beat: number): number {
  const near = (grid: number) => {
    const off = ((tickInBar % grid) + grid) % grid;
    return Math.min(off, grid - off) <= beat / 10;
  };
  if (near(bar)) return 1;
  if (near(bar / 2) && bar % (2 * beat) === 0) return 0.7;
  if (near(beat)) return 0.5;
  return near(beat / 2) ? 0.2 : 0.05;
}

/**
 * Begins late: the first note stands clearly after bar one, everything would stand on stronger beats if it were
 * pulled back, and (where bars were asked for) it hangs over the end by less than a bar.
 */
function findLateStart(take: Take, asked: number | null, barsBefore: number): AccountFinding[] {
  const { notes, timing } = take;
  const { timeline } = timing;
  if (notes.length === 0 || barsBefore > 0) return [];
  const meter = meterAt(timeline, 0);
  const beat = beatTicks(timeline.ppq, meter);
  const bar = barTicks(timeline.ppq, meter);
  const lag = notes.tick[0]!;
  if (lag < beat / 2 || lag >= bar) return [];
  const strength = (shift: number) => {
    let sum = 0;
    for (let i = 0; i < notes.length; i++) {
      sum += notes.velocity[i]! * metricalWeight(notes.tick[i]! - shift, bar, beat);
    }
    return sum;
  };
  if (strength(lag) < (asked === null ? 1.2 : 1) * strength(0)) return [];
  if (asked === null) {
    const rest = (lag / beat) % 1;
    if (lag < 0.75 * beat || Math.min(rest, 1 - rest) < 0.15) return [];
  } else {
    const end = barStart(timeline, asked + 1);
    let last = 0;
    for (let i = 0; i < notes.length; i++) last = Math.max(last, notes.tick[i]! + notes.duration[i]!);
    if (last < end + beat / 4 || last > end + bar) return [];
  }
  const beats = Math.round((lag / beat) * 4) / 4;
  return [
    {
      code: 'late',
      text: `Begins ${plural(beats, 'beat')} after bar one.`,
      way: 'Pull it back to bar one when a phrase is made.',
      bars: { start: 1, count: 1 },
    },
  ];
}

function findDrumsElsewhere(split: Split): AccountFinding[] {
  return playingParts(split).flatMap(({ part }): AccountFinding[] => {
    if (part.channel === GM_DRUM_CHANNEL || part.role !== 'drums') return [];
    return [
      {
        code: 'drumChannel',
        text: `"${part.name}" on channel ${part.channel + 1} is a drum kit by its notes or name.`,
        way: 'As drums it sounds, and leaves, on channel 10.',
      },
    ];
  });
}

/** A kit among other notes of the same stream, or one stream where several instruments were to play. */
function findOneTrack(take: Take, split: Split, parts: number | undefined): AccountFinding[] {
  const playing = playingParts(split);
  if (playing.length !== 1) return [];
  const { part, notes } = playing[0]!;
  // One instrument was to play, and one came.
  if (parts === 1) return [];
  const severalWanted = parts !== undefined;
  // A kit hides nothing, however long a hung note makes its hits.
  if (!severalWanted && (part.role === 'drums' || kitAmong(take, notes).length === 0)) return [];
  return [
    {
      code: 'oneTrack',
      text: `Everything came on one track and channel${parts ? `, where ${parts} instruments were to play` : ''}.`,
      way: 'Take it apart in Split, or let the source send each instrument on a channel of its own.',
    },
  ];
}

function findPieces(take: Take, split: Split): AccountFinding[] {
  return piecesOfOne(take, split).map((group) => ({
    code: 'pieces',
    text: `${group.length} tracks hold one instrument: ${group.map((i) => `"${split.parts[i]!.name}"`).join(', ')}.`,
    way: 'They never sound together: merge them in Split.',
  }));
}

function findClick(split: Split): AccountFinding[] {
  return split.parts
    .filter(({ role }) => role === 'click')
    .map(({ name, channel }) => ({
      code: 'click',
      text: `"${name}" on channel ${channel + 1} is a click.`,
      way: 'Set it aside in Split, or keep it as a wood block.',
    }));
}

function findLayers(take: Take, split: Split): AccountFinding[] {
  return layeredParts(take, split).map(([first, second]) => ({
    code: 'layered',
    text: `"${split.parts[second]!.name}" plays the notes of "${split.parts[first]!.name}".`,
    way: 'One part on two sounds: join them in Split, or set one aside. Where the layer is meant, leave it.',
  }));
}

/** Suspended chords that were asked for and sounded with a third. */
function findWrongChords(
  take: Take,
  split: Split,
  chart: ChartChord[][],
  barsBefore: number,
): AccountFinding[] {
  const { notes, timing } = take;
  const { timeline } = timing;
  const beat = beatTicks(timeline.ppq, meterAt(timeline, 0));
  const wrong: { bar: number; text: string }[] = [];
  chart.forEach((chords, index) => {
    const start = barStart(timeline, index + 1 + barsBefore);
    for (const chord of chords) {
      if (!/sus/.test(chord.symbol)) continue;
      const from = start + chord.beat * beat;
      const until = from + chord.beats * beat;
      const thirds = [3, 4].map((step) => pitchClass(chord.root + step));
      const sounded = [...Array(notes.length).keys()].filter((i) => {
        const part = split.parts[split.owner[i]!];
        const middle = notes.tick[i]! + notes.duration[i]! / 2;
        return part && !UNPITCHED.has(part.role) && middle >= from && middle < until;
      });
      const third = thirds.find(
        (pc) =>
          sounded.filter((i) => pitchClass(notes.pitch[i]!) === pc).length >= Math.max(1, sounded.length / 8),
      );
      if (third === undefined) continue;
      wrong.push({
        bar: index + 1 + barsBefore,
        text: `bar ${index + 1}: asked ${chord.symbol}, sounded with ${pitchClassName(third)}`,
      });
    }
  });
  if (wrong.length === 0) return [];
  return [
    {
      code: 'wrongChord',
      text: `The chord asked for is not the one that sounded (${wrong
        .slice(0, 3)
        .map(({ text }) => text)
        .join('; ')}${wrong.length > 3 ? '; ...' : ''}).`,
      way: 'Move the third to the second or fourth, or ask the source again.',
      bars: { start: wrong[0]!.bar, count: 1 },
    },
  ];
}
