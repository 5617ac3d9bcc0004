/**
 * A rhythm is written in steps of equal length: "x" strikes, "X" with an accent, "o" softly, "-" goes on sounding, "." is silent. A line
 * of them is a bar or two, gone round.
 */
export interface Rhythm {
  /** Steps to a beat of the meter. */
  perBeat: number;
  steps: string;
}

/** A stroke, in beats from bar one. */
export interface RhythmStroke {
  beat: number;
  beats: number;
  mark: StrokeMark;
}

export type StrokeMark = 'x' | 'X' | 'o';

/** Rhythms of one bar of four quarters, in sixteenths, and of three (common practice). */
export const RHYTHMS: Readonly<Record<string, string>> = {
  held: 'X---------------',
  halves: 'X-------x-------',
  quarters: 'X---x---x---x---',
  eighths: 'X-x-x-x-x-x-x-x-',
  'off the beat': '..x-..x-..x-..x-',
  'after the beat': '....x-......x-..',
  'three three two': 'X-----x-----x---',
  'push into four': 'X-----------..x-',
  'long short': 'X---------x---x-',
  stabs: 'X.......x..x....',
  'waltz, held': 'X-----------',
  'waltz, two and three': '....x---x---',
};

const STEPS = /^[xXo.-]*$/;

/** Whether a line can be read as steps. */
export function isRhythm(steps: string): boolean {
  return steps.length > 0 && STEPS.test(steps);
}

/** Velocity of a mark: an accent, a stroke, a soft one. */
export function forceOf(mark: string): number {
  return mark === 'X' ? 106 : mark === 'o' ? 38 : 84;
}

/** Steps of the marks that strike: each with its number, its mark and how many steps it sounds. */
export function strokesOfSteps(steps: string): { step: number; length: number; mark: StrokeMark }[] {
  return [...steps].flatMap((mark, step) =>
    mark === '.' || mark === '-'
      ? []
      : [{ step, length: /^-*/.exec(steps.slice(step + 1))![0].length + 1, mark: mark as StrokeMark }],
  );
}

/**
 * A rhythm gone through some bars. Where its bars have other beats than these, each is cut at the bar line, or silent at its
 * end.
 *
 * @param ownBeats beats to a bar of the rhythm
 */
export function throughBars(
  { perBeat, steps }: Rhythm,
  { bars, beatsPerBar, ownBeats = beatsPerBar }: { bars: number; beatsPerBar: number; ownBeats?: number },
): RhythmStroke[] {
  const ownBar = ownBeats * perBeat;
  const ownBars = Math.max(1, Math.ceil(steps.length / ownBar));
  const bar = beatsPerBar * perBeat;
  const line = Array.from({ length: bars }, (_, k) => {
    const own = steps.slice((k % ownBars) * ownBar, ((k % ownBars) + 1) * ownBar);
    return own.slice(0, bar).padEnd(bar, own.endsWith('-') ? '-' : '.');
  }).join('');
  return strokesOfSteps(line).map(({ step, length, mark }) => ({
    beat: step / perBeat,
    beats: length / perBeat,
    mark,
  }));
}
