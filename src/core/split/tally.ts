import type { Split } from './split.ts';

/** The account of every note of a take. */
export interface Tally {
  in: number;
  /** Notes by part, in the order of the split's parts. */
  parts: number[];
  /** Notes by entry, in the order of the split's set-aside list. */
  setAside: number[];
  inParts: number;
  aside: number;
  balanced: boolean;
}

/** Counts from the owners, and checks that every owner exists. */
export function tallyOf(split: Split): Tally {
  const parts = split.parts.map(() => 0);
  const setAside = split.setAside.map(() => 0);
  for (const owner of split.owner) {
    if (owner >= 0 && owner < parts.length) parts[owner]!++;
    else if (owner < 0 && -1 - owner < setAside.length) setAside[-1 - owner]!++;
  }
  const inParts = sum(parts);
  const aside = sum(setAside);
  return {
    in: split.owner.length,
    parts,
    setAside,
    inParts,
    aside,
    balanced: inParts + aside === split.owner.length,
  };
}

function sum(values: readonly number[]): number {
  return values.reduce((total, value) => total + value, 0);
}
