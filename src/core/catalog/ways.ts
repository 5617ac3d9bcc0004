import { placesSince, type Catalog, type Column } from './catalog.ts';

/**
 * The ways in which the values of some columns go together: few, so that instead of several columns one is gone through, and what
 * is true of a way is said once.
 */
export interface Ways {
  columns: readonly Column[];
  /** Which way each phrase has. */
  column: Uint32Array;
  /** The codes of each way, as many as there are columns. */
  codes: number[];
  /** By a way so far and the next column's code, the way on. */
  next: Map<number, number>[];
  /** Of the catalog, and of its thirds where a column tells them. */
  version: number;
  thirds: number;
}

/** Columns whose codes change though the phrase does not: where the others of its role are calmer or lower now. */
const THIRDS: ReadonlySet<Column> = new Set(['densities', 'registers']);
const NO_THIRDS = -1;

/** A code is smaller: no column has so many values. */
const MOST_CODES = 2 ** 24;

const known = new WeakMap<Catalog, Map<readonly Column[], Ways>>();

/** Ways of some columns, which are always the same list. */
export function waysOf(catalog: Catalog, columns: readonly Column[]): Ways {
  let all = known.get(catalog);
  if (!all) known.set(catalog, (all = new Map()));
  let ways = all.get(columns);
  if (!ways) all.set(columns, (ways = noWays(columns)));
  bringUpToDate(catalog, ways);
  return ways;
}

const noWays = (columns: readonly Column[]): Ways => ({
  ...{ columns, column: new Uint32Array(0), codes: [], version: -1, thirds: NO_THIRDS },
  next: columns.map(() => new Map()),
});

/** Finds the ways of phrases that have changed; of all, where a column tells thirds and these lie elsewhere now. */
function bringUpToDate(catalog: Catalog, ways: Ways): void {
  const { version } = catalog;
  const thirds = ways.columns.some((column) => THIRDS.has(column)) ? catalog.thirds.version : NO_THIRDS;
  if (ways.version === version && ways.thirds === thirds) return;
  if (ways.column.length < catalog.size) {
    const longer = new Uint32Array(catalog.states.length);
    longer.set(ways.column);
    ways.column = longer;
  }
  const from = ways.thirds === thirds ? ways.version : -1;
  for (const at of placesSince(catalog, from)) ways.column[at] = wayOf(catalog, ways, at);
  ways.version = version;
  ways.thirds = thirds;
}

function wayOf({ coded }: Catalog, { columns, codes, next }: Ways, at: number): number {
  let way = 0;
  for (let c = 0; c < columns.length; c++) {
    const key = way * MOST_CODES + coded[columns[c]!][at]!;
    const after = next[c]!;
    let on = after.get(key);
    if (on === undefined) {
      on = after.size;
      after.set(key, on);
      if (c === columns.length - 1) for (const column of columns) codes.push(coded[column][at]!);
    }
    way = on;
  }
  return way;
}
