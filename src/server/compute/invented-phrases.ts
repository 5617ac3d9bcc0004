import type { House } from '../../core/normalize/house.ts';
import { writeMidiFile } from '../../core/midi/write.ts';
import { performanceFile } from '../../core/standins/performance.ts';
import { sha256Of } from '../checksum.ts';
import { inventedTake } from '../demo/invented.ts';
import { deriveTakes, type DerivedTake } from '../library/keeping/derive.ts';
import { cutPhrases, type CutRow } from './cut-phrases.ts';

/** A take that a stand-in has played, read like any other, and the phrases that were cut from it, a list for each sheaf. */
export interface InventedPhrases {
  standIn: string;
  name: string;
  bytes: Uint8Array;
  sha256: string;
  derived: DerivedTake;
  cuts: CutRow[][];
}

/** What stand-ins play by some seeds, from the first note to the phrases. */
export function inventedPhrases(seeds: readonly number[], house: House): InventedPhrases[] {
  return seeds.map((seed) => {
    const { standIn, name, performance, cuts } = inventedTake(seed);
    const bytes = writeMidiFile(performanceFile(performance));
    const sha256 = sha256Of(bytes);
    const derived = deriveTakes(bytes)[0]!;
    const { base, pattern, keys } = derived;
    const stored = { takeId: sha256, revision: 0, sha256, pattern, bytes, base, moves: [], kept: [] };
    const names: string[] = [];
    const cutAt = (startBar: number, bars: number): CutRow[] => {
      const request = { parts: 'all' as const, bars: { startBar, bars }, isLoop: false };
      const takeKey = keys[0] ? { tonic: keys[0].tonic, mode: keys[0].mode } : null;
      const known = { house, takeKey, labels: { take: name }, count: names.length, names };
      const { rows } = cutPhrases(stored, request, known);
      names.push(...rows.map(({ phrase }) => phrase.name));
      return rows;
    };
    return { standIn, name, bytes, sha256, derived, cuts: cuts.map(([from, bars]) => cutAt(from, bars)) };
  });
}
