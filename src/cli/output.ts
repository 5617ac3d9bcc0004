/** Where a command writes: answers to standard output, progress and problems to standard error. */
export interface Output {
  json: boolean;
  answer(text: string): void;
  problem(text: string): void;
}

/** A refusal: the file is named with its reason and the exit code becomes 1. */
export class Refusal extends Error {
  override readonly name = 'Refusal';
}

/** Columns lined up, the first row as a heading; numbers to the right. */
export function table(rows: readonly (readonly (string | number)[])[]): string {
  const widths = rows[0]!.map((_, column) =>
    Math.max(...rows.map((row) => String(row[column] ?? '').length)),
  );
  return rows
    .map((row) =>
      row
        .map((cell, column) =>
          typeof cell === 'number' ? String(cell).padStart(widths[column]!) : cell.padEnd(widths[column]!),
        )
        .join('  ')
        .trimEnd(),
    )
    .join('\n');
}
