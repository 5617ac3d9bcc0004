import { choiceOf, passName, rowName, type Comp } from '../../core/comp/document.ts';
import { compToMidi, tallyOf, type CompTally } from '../../core/comp/comp.ts';
import { joinChosen } from '../../core/comp/join.ts';
import { alignPasses, passTake } from '../../core/comp/passes.ts';
import { rowsOf } from '../../core/comp/rows.ts';
import { writeMidiFile } from '../../core/midi/write.ts';
import { bpmOf } from '../../core/music/timeline.ts';
import { ChartError } from '../../core/music/chart.ts';
import type { Role } from '../../core/split/roles.ts';
import { harmonyIn } from '../../core/take/opened.ts';
import { LibraryError } from '../library/errors.ts';
import { openStored, type StoredTake } from './stored-take.ts';

/** What a comp comes to. */
export interface CompOut {
  bytes: Uint8Array;
  bpm: number;
  bars: number;
  roles: { name: string; role: Role }[];
  tally: CompTally;
  /** Ids of the takes that something was taken of. */
  used: string[];
}

/** A comp of takes as they stand, as a file. @throws LibraryError 422 where nothing is taken, or the chart cannot be read */
export function compOut(
  takes: readonly { name: string; stored: StoredTake }[],
  comp: Comp,
  name: string,
): CompOut {
  const opened = takes.map(({ name: called, stored }) => {
    const take = openStored(stored);
    return passTake({ id: stored.takeId, name: called }, take, harmonyIn(take));
  });
  const aligned = alignedOrRefused(opened, comp.chart);
  const rows = rowsOf(aligned.passes);
  const choice = choiceOf(comp, {
    passes: aligned.passes.map(passName),
    rows: rows.map(rowName),
    bars: aligned.chart.length,
  });
  const joined = joinChosen(aligned, rows, choice, comp.bpm ?? undefined);
  const notes = joined.rows.flatMap((row) => row.notes);
  if (notes.length === 0)
    throw new LibraryError(422, 'No bar with notes is taken yet: choose some, or let them be suggested.');
  const tempo = joined.timeline.tempos[0]!.microseconds;
  return {
    bytes: writeMidiFile(compToMidi(name, { aligned, rows, choice, joined, key: opened[0]?.key ?? null })),
    bpm: bpmOf(tempo),
    bars: aligned.chart.length,
    roles: rows.map((row) => ({ name: row.name, role: row.role })),
    tally: tallyOf(aligned, rows, choice, joined),
    used: [...new Set(notes.map(({ pass }) => aligned.passes[pass]!.id))],
  };
}

function alignedOrRefused(takes: Parameters<typeof alignPasses>[0], chart: string) {
  try {
    return alignPasses(takes, chart);
  } catch (error) {
    if (error instanceof ChartError) throw new LibraryError(422, error.message);
    throw error;
  }
}
