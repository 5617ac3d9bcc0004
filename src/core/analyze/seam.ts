import type { Take } from '../capture/take.ts';
import { CONTROLLER, STATUS, kindOf, channelOf } from '../midi/smf.ts';
import { barStart } from '../music/timeline.ts';
import type { Part } from '../split/split.ts';
import { plural } from '../words.ts';

/** What happens where a loop goes back to its beginning. */
export interface Seam {
  /** Notes that sound over the end. */
  crossing: number;
  /** The sustain pedal is down at the end. */
  pedalDown: boolean;
  /** Notes less than a beat before bar one that lead into it. */
  pickup: number;
  /** Controllers, by number, and bend (128) that do not come back to where they were. */
  moved: number[];
}

/** Number under which bend stands among the controllers. */
export const BEND = 128;

/** A note that ends this little after the line does not cross it, in quarter notes. */
const SLACK = 1 / 8;

/** The seam of some bars of a part. */
export function seamOf(
  take: Take,
  part: Pick<Part, 'from'>,
  indices: readonly number[],
  { startBar, bars }: { startBar: number; bars: number },
): Seam {
  const { timeline } = take.timing;
  const { tick, duration } = take.notes;
  const slack = SLACK * timeline.ppq;
  const [from, to] = [barStart(timeline, startBar), barStart(timeline, startBar + bars)];
  const begins = controllersAt(take, part, from);
  const ends = controllersAt(take, part, to);
  return {
    crossing: indices.filter(
      (i) => tick[i]! >= from - slack && tick[i]! < to - slack && tick[i]! + duration[i]! > to + slack,
    ).length,
    pedalDown: (ends.get(CONTROLLER.sustain) ?? 0) >= 64,
    pickup: indices.filter((i) => tick[i]! < from - slack && tick[i]! >= from - timeline.ppq).length,
    moved: [...ends].flatMap(([number, value]) =>
      number !== CONTROLLER.sustain && value !== (begins.get(number) ?? value) ? [number] : [],
    ),
  };
}

/** Where each controller of a part, and its bend, stands just before a tick. */
function controllersAt(take: Take, { from }: Pick<Part, 'from'>, before: number): Map<number, number> {
  const streams = new Set(from.map(({ track, channel }) => track * 16 + channel));
  const state = new Map<number, number>();
  take.file.tracks.forEach((events, track) => {
    for (const { tick, status, data1, data2 } of events) {
      const kind = kindOf(status);
      if (status >= 0xf0 || tick >= before || !streams.has(track * 16 + channelOf(status))) continue;
      if (kind === STATUS.controller) state.set(data1, data2);
      else if (kind === STATUS.pitchBend) state.set(BEND, data1 + 128 * data2);
    }
  });
  return state;
}

/** The seam in words; empty where it is clean. */
export function seamWords({ crossing, pedalDown, pickup, moved }: Seam): string[] {
  return [
    ...(crossing > 0 ? [`${plural(crossing, 'note')} over the end`] : []),
    ...(pedalDown ? ['pedal down at the end'] : []),
    ...(pickup > 0 ? [`${plural(pickup, 'note')} lead in before bar one`] : []),
    ...(moved.length > 0
      ? [`${moved.map((n) => (n === BEND ? 'bend' : `controller ${n}`)).join(', ')} not back`]
      : []),
  ];
}
