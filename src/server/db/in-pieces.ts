/** Rows of a few columns in one statement: it has at most 65,535 parameters. */
const ROWS_AT_ONCE = 5000;

/** A list in pieces of so many at the most, in its order. */
export function inPieces<Value>(list: readonly Value[], size = ROWS_AT_ONCE): Value[][] {
  return Array.from({ length: Math.ceil(list.length / size) }, (_, k) =>
    list.slice(k * size, (k + 1) * size),
  );
}
