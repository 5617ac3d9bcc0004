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
