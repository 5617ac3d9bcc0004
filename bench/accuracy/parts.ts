import { mended } from '../../src/core/split/proposals.ts';
import { splitTake, type Split } from '../../src/core/split/split.ts';
import { abcTakes, standInTakes, type MadeTake } from './made-takes.ts';

/** How the notes of one made take came apart. */
export interface Parted {
  name: string;
  notes: number;
  right: number;
  /** "made as, found as": how many notes. */
  wrong: Map<string, number>;
}

/** Accepts every proposal that mends, and holds each note against the part it was made as. */
export function partTake({ name, take, truth }: MadeTake): Parted {
  const split = mended(take, splitTake(take));
  const madeAs = matchParts(split, truth);
  const wrong = new Map<string, number>();
  let right = 0;
  truth.forEach((made, i) => {
    const found =
      split.owner[i]! >= 0 ? madeAs.get(split.owner[i]!) : split.setAside[-1 - split.owner[i]!]!.reason;
    // Doubles that were set aside are doubles: their firsts are still where they belong.
    if (found === made || found === 'doubled' || (found === 'click' && made === 'Track 9')) right++;
    else {
      const key = `${made}, found in ${found ?? 'a part too many'}`;
      wrong.set(key, (wrong.get(key) ?? 0) + 1);
    }
  });
  return { name, notes: truth.length, right, wrong };
}

/** Each found part stands for the made part it shares most notes with, each made part for one found part. */
function matchParts(split: Split, truth: readonly string[]): Map<number, string> {
  const shared = new Map<string, number>();
  truth.forEach((made, i) => {
    const owner = split.owner[i]!;
    if (owner >= 0) shared.set(`${owner} ${made}`, (shared.get(`${owner} ${made}`) ?? 0) + 1);
  });
  const pairs = [...shared].sort((a, b) => b[1] - a[1]);
  const madeAs = new Map<number, string>();
  const taken = new Set<string>();
  for (const [key] of pairs) {
    const owner = Number(key.slice(0, key.indexOf(' ')));
    const made = key.slice(key.indexOf(' ') + 1);
    if (madeAs.has(owner) || taken.has(made)) continue;
    madeAs.set(owner, made);
    taken.add(made);
  }
  return madeAs;
}

export interface PartsAccuracy {
  group: string;
  takes: number;
  notes: number;
  right: number;
  wrong: [string, number][];
}

/** 200 made takes, and 40 harder ones that nothing but their notes tells apart. */
export function partsAccuracy(): PartsAccuracy[] {
  const summed = (group: string, takes: MadeTake[]): PartsAccuracy => {
    const parted = takes.map(partTake);
    const wrong = new Map<string, number>();
    for (const { name, wrong: own } of parted) {
      const kind = name.replace(/ tune \d+$/, '');
      for (const [key, count] of own)
        wrong.set(`${kind}: ${key}`, (wrong.get(`${kind}: ${key}`) ?? 0) + count);
    }
    return {
      group,
      takes: takes.length,
      notes: parted.reduce((sum, { notes }) => sum + notes, 0),
      right: parted.reduce((sum, { right }) => sum + right, 0),
      wrong: [...wrong].sort((a, b) => b[1] - a[1]),
    };
  };
  return [
    summed('stand-ins, every mishap', standInTakes(140)),
    summed('abc2midi, chords, bass, tune and drums in one track', abcTakes(60, false)),
    summed('the same on one channel without programs', abcTakes(40, true)),
  ];
}
