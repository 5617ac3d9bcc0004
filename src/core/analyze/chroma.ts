import { bisector } from 'd3-array';
import type { Take } from '../capture/take.ts';
import { GM_DRUM_CHANNEL } from '../midi/gm.ts';
import { barStart, barsUntil, beatTicks, meterAt, type Timeline } from '../music/timeline.ts';
import { UNPITCHED, type Role } from '../split/roles.ts';
import { notesByPart, type Part, type Split } from '../split/split.ts';

/** A stretch of time that a chord is looked for in: a beat. */
export interface Segment {
  startTick: number;
  endTick: number;
  /** From 1. */
  bar: number;
  beat: number;
}

/** What sounds in each segment. */
export interface Chroma {
  segments: Segment[];
  /**
   * Twelve weights a segment: how much of it each pitch class fills, by velocity and the root of its length: a short stab
   * is heard beside what is held.
   */
  weights: Float64Array[];
  /** Twelve weights a segment for what lies lowest. */
  bass: Float64Array[];
}

/** How much a part counts for the harmony, by its role. A tune and a walking bass are half made of other notes. */
const ROLE_WEIGHTS: Partial<Record<Role, number>> = {
  lead: 0.15,
  voice: 0.15,
  reeds: 0.3,
  brass: 0.5,
  bass: 0.25,
};

/** A note that is short, off the beat, and reached and left by step in its part passes, and counts so much. */
const PASSING = 0.2;

/** Music is looked into for so many bars; a note far behind the others must not make a desert of empty ones. */
export const MOST_BARS = 2048;

/** The beats of a stretch from bar one on; groups of three eighths are one beat. */
export function beatSegments(timeline: Timeline, endTick: number): Segment[] {
  const bars = Math.min(MOST_BARS, barsUntil(timeline, endTick));
  const segments: Segment[] = [];
  for (let bar = 1; bar <= bars; bar++) {
    const start = barStart(timeline, bar);
    const end = barStart(timeline, bar + 1);
    const meter = meterAt(timeline, start);
    // Eighths in threes are beats of three.
    const grouped = meter.denominator === 8 && meter.numerator % 3 === 0 ? 3 : 1;
    const beat = beatTicks(timeline.ppq, meter) * grouped;
    for (let k = 0; start + k * beat < end; k++) {
      segments.push({
        startTick: Math.round(start + k * beat),
        endTick: Math.round(Math.min(end, start + (k + 1) * beat)),
        bar,
        beat: k + 1,
      });
    }
  }
  return segments;
}

/** Beat-synchronous pitch-class weights of a split's pitched parts; locked notes are left out. */
export function chromaOf(take: Take, split: Split): Chroma {
  const { notes, timing } = take;
  const end = notes.tick.reduce((last, tick, i) => Math.max(last, tick + notes.duration[i]!), 0);
  const segments = beatSegments(timing.timeline, Math.min(end, timing.ticks || end));
  const weights = segments.map(() => new Float64Array(12));
  const bass = segments.map(() => new Float64Array(12));
  const byPart = notesByPart(split);
  const pitched = split.parts.flatMap((part, index) => {
    const counts = !UNPITCHED.has(part.role) && (part.weight ?? weightOfProgram(part)) > 0;
    const indices = counts ? byPart[index]!.filter((i) => !split.locked[i]) : [];
    return indices.length > 0 ? [{ role: part.role, said: part.weight, indices }] : [];
  });
  const weightOf = pitched.map(({ role, indices }) =>
    role !== 'bass' && isTune(take, indices) ? TUNE : (ROLE_WEIGHTS[role] ?? 1),
  );
  const hasChords = weightOf.some((weight) => weight === 1);
  const hasBass = pitched.some(({ role }) => role === 'bass');
  const lowest = lowestSounding(
    take,
    pitched.flatMap(({ indices }) => indices),
    segments,
  );
  for (const [number, { role, said, indices }] of pitched.entries()) {
    // Where nothing but a tune plays, the tune is the harmony.
    const weight = said ?? (hasChords ? weightOf[number]! : 1);
    indices.forEach((i, k) => {
      const own = weight * (isPassing(take, indices, k) ? PASSING : 1) * (notes.velocity[i]! / 100);
      spread(segments, notes.tick[i]!, notes.duration[i]!, (at, share) => {
        const pc = notes.pitch[i]! % 12;
        weights[at]![pc]! += own * Math.sqrt(share);
        if (hasBass ? role === 'bass' : notes.pitch[i] === lowest[at]) bass[at]![pc]! += share;
      });
    });
  }
  return { segments, weights, bass };
}

/** Programs from here on are sound effects (General MIDI System Level 1): where they sound, no pitch is meant. */
const SOUND_EFFECTS = 120;

function weightOfProgram({ program, channel }: Part): 0 | 1 {
  return program >= SOUND_EFFECTS && channel !== GM_DRUM_CHANNEL ? 0 : 1;
}

/** What a tune counts for the harmony: half of it may be other notes. */
const TUNE = 0.3;

/** Whether some notes are a tune, whatever plays it: one at a time, and oftener by step than by leap. */
function isTune(take: Take, indices: readonly number[]): boolean {
  const { tick, duration, pitch } = take.notes;
  let [together, steps, leaps] = [0, 0, 0];
  for (let k = 1; k < indices.length; k++) {
    const [before, now] = [indices[k - 1]!, indices[k]!];
    const overlap = tick[before]! + duration[before]! - tick[now]!;
    if (overlap > duration[before]! / 2) together++;
    const by = Math.abs(pitch[now]! - pitch[before]!);
    if (by > 0 && by <= 2) steps++;
    else if (by > 2) leaps++;
  }
  return together <= 0.1 * indices.length && steps >= leaps && indices.length >= 8;
}

/** A little ahead of a beat still belongs to it, in shares of the beat. */
const AHEAD = 0.15;

/** Beats that a note is heard for, at the most: what hangs longer is no harmony. */
const MOST_HELD = 256;

/** Gives the share of each segment that a stretch of time fills. */
function spread(
  segments: readonly Segment[],
  tick: number,
  duration: number,
  give: (segment: number, share: number) => void,
): void {
  let at = segmentAt(segments, tick);
  if (at < 0) return;
  // A push is meant for the beat that it leads into.
  const first = segments[at]!;
  const length = first.endTick - first.startTick;
  if (at + 1 < segments.length && first.endTick - tick <= length * AHEAD && duration > length * AHEAD * 2) {
    at++;
    tick = first.endTick;
  }
  const beat = Math.max(1, first.endTick - first.startTick);
  const end = tick + Math.min(Math.max(1, duration), MOST_HELD * beat);
  for (; at < segments.length && segments[at]!.startTick < end; at++) {
    const { startTick, endTick } = segments[at]!;
    const filled = (Math.min(end, endTick) - Math.max(tick, startTick)) / (endTick - startTick);
    if (filled > 0.05) give(at, filled);
  }
}

const byStart = bisector(({ startTick }: Segment) => startTick);

function segmentAt(segments: readonly Segment[], tick: number): number {
  return segments.length === 0 ? -1 : Math.max(0, byStart.right(segments, tick) - 1);
}

/** The lowest pitch that sounds in each segment for at least a quarter of it; 128 where none does. */
function lowestSounding(take: Take, indices: readonly number[], segments: readonly Segment[]): Uint8Array {
  const lowest = new Uint8Array(segments.length).fill(128);
  for (const i of indices) {
    spread(segments, take.notes.tick[i]!, take.notes.duration[i]!, (at, share) => {
      if (share >= 0.25) lowest[at] = Math.min(lowest[at]!, take.notes.pitch[i]!);
    });
  }
  return lowest;
}

/** Whether the k-th note of a part passes: short, off the beat, between neighbors a step away on either side. */
function isPassing(take: Take, indices: readonly number[], k: number): boolean {
  const { notes, timing } = take;
  const ppq = timing.timeline.ppq;
  const i = indices[k]!;
  if (notes.duration[i]! > ppq * 0.6) return false;
  const inBeat = notes.tick[i]! % ppq;
  if (inBeat < ppq * 0.2 || inBeat > ppq * 0.85) return false;
  const before = indices[k - 1];
  const after = indices[k + 1];
  if (before === undefined || after === undefined) return false;
  if (notes.tick[before]! >= notes.tick[i]! || notes.tick[after]! <= notes.tick[i]!) return false;
  const step = (other: number) => Math.abs(notes.pitch[other]! - notes.pitch[i]!);
  return step(before) > 0 && step(before) <= 2 && step(after) > 0 && step(after) <= 2;
}
