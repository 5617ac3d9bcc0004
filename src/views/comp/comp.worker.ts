/** Passes opened, laid along their chart and joined in a thread of its own: the page goes on drawing while it works. */
import { expose } from 'comlink';
import { harmonyOf } from '../../core/analyze/analysis.ts';
import type { Choice } from '../../core/comp/choice.ts';
import { tallyOf, type CompTally } from '../../core/comp/comp.ts';
import { passName, rowName } from '../../core/comp/document.ts';
import { cellsOf, type Cell, type Cells } from '../../core/comp/grid.ts';
import { clipsOf, swatchesOf } from '../../core/comp/heard.ts';
import { joinChosen, tempoOfPass, type Joint } from '../../core/comp/join.ts';
import { alignPasses, passTake, type Aligned, type PassTake } from '../../core/comp/passes.ts';
import { rowsOf, type Row } from '../../core/comp/rows.ts';
import { suggest, type SuggestedBar, type Suggestion } from '../../core/comp/suggest.ts';
import type { Clip } from '../../core/phrase/clip.ts';
import { inBase64 } from '../../core/phrase/swatch.ts';
import { byHandOf } from '../../core/split/by-hand.ts';
import { continueMoves, type Move } from '../../core/split/moves.ts';
import type { Role } from '../../core/split/roles.ts';
import { fetchCaptured } from '../api/captured.ts';

/** A take as it is opened: by its moves, and the bars that were marked while it played. */
export interface TakeToOpen {
  id: string;
  name: string;
  pattern: number;
  moves: readonly Move[];
  stars: readonly { bar: number; bars: number }[];
}

/** What the grid is drawn of. */
export interface CompSheet {
  chart: string[];
  meter: { numerator: number; denominator: number };
  passes: {
    name: string;
    title: string;
    /** What it is called without what all of them begin with. */
    short: string;
    bpm: number;
    pickup: number;
    follows: boolean | null;
    bars: number;
  }[];
  rows: { name: string; label: string; role: Role }[];
  beside: Aligned['beside'];
  leftOut: Aligned['leftOut'];
  remarks: Aligned['remarks'];
}

/** A cell without its notes, with a small drawing of each part in it, in base64. */
export interface CellWire extends Omit<Cell, 'notes' | 'plays'> {
  parts: { role: Role; notes: string }[];
}

interface Opened {
  chart: string;
  aligned: Aligned;
  rows: Row[];
  /** Cells by row, found when they are asked for; of all rows together under -1. */
  cells: Map<number, Cells>;
  swatches: Map<number, (string | null)[][]>;
}

const takes = new Map<string, Promise<PassTake>>();
let opened: Opened | undefined;

function openedTake({ id, name, pattern, moves, stars }: TakeToOpen): Promise<PassTake> {
  const key = JSON.stringify([id, pattern, moves]);
  const known = takes.get(key);
  if (known) return known;
  const fetched = fetchCaptured(id, pattern).then(({ take: original, split: first }) => {
    const moved = continueMoves(original, first, moves);
    return passTake({ id, name, stars }, moved, harmonyOf(moved.take, moved.split, byHandOf(moves)));
  });
  takes.set(key, fetched);
  fetched.catch(() => takes.delete(key));
  return fetched;
}

/** Opens the passes one after another, telling how many are; answers what the grid is drawn of. @throws ChartError */
async function open(
  passes: readonly TakeToOpen[],
  chart: string,
  onOpened: (done: number) => void,
): Promise<CompSheet> {
  const there: PassTake[] = [];
  for (const pass of passes) {
    there.push(await openedTake(pass));
    onOpened(there.length);
  }
  const aligned = alignPasses(there, chart);
  const rows = rowsOf(aligned.passes);
  opened = { chart, aligned, rows, cells: new Map(), swatches: new Map() };
  const { beside, leftOut, remarks, meter } = aligned;
  const short = withoutCommon(aligned.passes.map((pass) => pass.name));
  return {
    ...{ chart: aligned.chart, meter, beside, leftOut, remarks },
    passes: aligned.passes.map((pass, at) => ({
      ...{
        name: passName(pass),
        title: pass.name,
        short: short[at]!,
        bpm: tempoOfPass(pass),
        pickup: pass.pickup,
      },
      ...{ follows: pass.follows, bars: pass.barAt.filter((bar) => bar !== null).length },
    })),
    rows: rows.map((row) => ({ name: rowName(row), label: row.name, role: row.role })),
  };
}

/** Names without the words that all of them begin with; whole where nothing would be left of one. */
function withoutCommon(names: readonly string[]): string[] {
  const words = names.map((name) => name.split(' '));
  let common = 0;
  while (words.every((own) => own.length > common + 1 && own[common] === words[0]![common])) common++;
  // "pass 3" says more than "3".
  const kept = Math.max(0, words.some((own) => /^\d+$/.test(own[common]!)) ? common - 1 : common);
  return words.map((own) => own.slice(kept).join(' '));
}

function cellsAt(row: number): Cells {
  const { aligned, rows, chart, cells } = opened!;
  const known = cells.get(row);
  if (known) return known;
  const found = cellsOf(aligned, rows, rows[row] ?? null, chart);
  cells.set(row, found);
  return found;
}

function swatchesAt(row: number): (string | null)[][] {
  const { aligned, rows, swatches } = opened!;
  const known = swatches.get(row);
  if (known) return known;
  const made = swatchesOf(cellsAt(row), rows[row]!, aligned.passes, aligned).map((own) =>
    own.map((bytes) => bytes && inBase64(bytes)),
  );
  swatches.set(row, made);
  return made;
}

/** The cells of a row, by pass and bar; of all rows together where it is -1. */
function cells(row: number): (CellWire | null)[][] {
  const { rows } = opened!;
  const drawn = row < 0 ? rows.map((_, at) => at) : [row];
  return cellsAt(row).map((own, pass) =>
    own.map((cell, bar) => {
      if (!cell) return null;
      const { notes: _, plays: _plays, ...told } = cell;
      const parts = drawn.flatMap((at) => {
        const notes = swatchesAt(at)[pass]![bar];
        return notes ? [{ role: rows[at]!.role, notes }] : [];
      });
      return { ...told, parts };
    }),
  );
}

/** For every bar the pass that is suggested, for a row or (-1) all of them. `stars` by pass and bar. */
function suggested(row: number, way: Suggestion, stars: readonly (readonly boolean[])[]): SuggestedBar[] {
  const isStarred = (pass: number, bar: number) => stars[pass]?.[bar] ?? false;
  return suggest(cellsAt(row), opened!.chart, { way, isStarred });
}

/** What is chosen, as it is heard: some of its bars (from 0, the last included), its joints and the tally of all of it. */
function joined(
  choice: Choice,
  bpm: number | null,
  bars: { from: number; to: number },
): { clips: { row: number; clip: Clip }[]; joints: Joint[]; tally: CompTally } {
  const { aligned, rows } = opened!;
  const all = joinChosen(aligned, rows, choice, bpm ?? undefined);
  const key = aligned.passes[0]?.key ?? null;
  return {
    clips: clipsOf(all, rows, aligned, { ...bars, key }),
    joints: all.joints,
    tally: tallyOf(aligned, rows, choice, all),
  };
}

const api = { open, cells, suggested, joined };
export type CompWorker = typeof api;

expose(api);
