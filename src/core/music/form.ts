/** What a stretch of bars is for (common practice). */
export const PURPOSES = [
  'intro',
  'verse',
  'chorus',
  'bridge',
  'groove',
  'variation',
  'fill',
  'break',
  'turnaround',
  'ending',
] as const;
export type Purpose = (typeof PURPOSES)[number];

/** A stretch of bars with a name, and what it is for. */
export interface Section {
  /** From 1. */
  startBar: number;
  bars: number;
  label: string;
  purpose: Purpose;
}

/** Bars that the take goes round in as a whole: a twelve-bar blues, the thirty-two bars of a song. */
export interface WholeForm {
  /** From 1: where it first begins. */
  startBar: number;
  bars: number;
  /** How many times it is gone through whole. */
  times: number;
}

/** "A form of 12 bars from bar 3, 4 times". */
export function formWords({ startBar, bars, times }: WholeForm): string {
  return `A form of ${bars} bars${startBar > 1 ? ` from bar ${startBar}` : ''}, ${times} times`;
}
