import type { Take } from '../capture/take.ts';
import { beatTicks, meterAt, ticksToSeconds } from '../music/timeline.ts';
import type { Split } from '../split/split.ts';
import { barReadings, BEAT_WEIGHTS, scoreOf } from './beats.ts';
import { logistic } from '../numbers.ts';
import { onsetsOf } from './onsets.ts';

/** Fewer strokes tell nothing of a grid. */
const FEWEST = 12;

/** Parts of a quarter note on which strokes may stand. */
const PLACES = [1, 2, 3, 4, 6, 8];

/** Below this the strokes keep no grid of the file: of random ones it is about one over the root of their number. */
const KEPT = 0.45;

/**
 * Whether the strokes of a take stand on the beats of its file: the length of the mean of their places on a circle
 * of quarter notes or their parts (directional statistics: near 1 where all agree, near 0 at random). A
 * take with a tempo map of its own was made on it.
 */
export function keepsGrid(take: Take): boolean {
  const { notes, timing } = take;
  if (timing.tempos.length > 1) return true;
  const { ppq } = timing.timeline;
  // A chord is one stroke.
  const strokes = strokesOf(notes.tick, ppq / 16);
  if (strokes.length < FEWEST) return true;
  return PLACES.some((parts) => {
    let [x, y] = [0, 0];
    for (const tick of strokes) {
      const angle = (2 * Math.PI * ((tick * parts) % ppq)) / ppq;
      x += Math.cos(angle);
      y += Math.sin(angle);
    }
    return Math.hypot(x, y) / strokes.length >= KEPT;
  });
}

/** The first ticks of groups that begin within some ticks. */
function strokesOf(ticks: Int32Array, within: number): number[] {
  const strokes: number[] = [];
  for (const tick of [...ticks].sort((a, b) => a - b))
    if (strokes.length === 0 || tick - strokes.at(-1)! > within) strokes.push(tick);
  return strokes;
}

/** How much better half or double time must be than what is written to be offered at all: near even will do. */
const NEAR_EVEN = -0.08;

/** Twice or half the tempo, where it speaks for itself about as well as what is written; null where it does not. */
export function otherTempo(take: Take, split: Split): { factor: 0.5 | 2; certainty: number } | null {
  const { timeline } = take.timing;
  const onsets = onsetsOf(take, split);
  if (onsets.length < 16) return null;
  const meter = meterAt(timeline, 0);
  if (meter.denominator !== 4) return null;
  const last = onsets.at(-1)!.tick;
  const score = (factor: number) => {
    const beat = beatTicks(timeline.ppq, meter) / factor;
    const beats: number[] = [];
    for (let tick = 0; tick <= last && beats.length < 512; tick += beat)
      beats.push(ticksToSeconds(timeline, tick));
    if (beats.length < 8) return -Infinity;
    const first = barReadings(beats, onsets, [meter.numerator]).find(
      ({ firstDownbeat }) => firstDownbeat === 0,
    );
    return first ? scoreOf(first, BEAT_WEIGHTS) : -Infinity;
  };
  const written = score(1);
  const [best] = ([2, 0.5] as const)
    .map((factor) => ({ factor, lead: score(factor) - written }))
    .sort((a, b) => b.lead - a.lead);
  if (!best || best.lead < NEAR_EVEN) return null;
  return { factor: best.factor, certainty: Math.round(100 * logistic(4 * best.lead)) / 100 };
}
