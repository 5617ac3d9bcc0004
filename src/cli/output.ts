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

/** What a command has to say of a file: as data, and in words. */
export interface Said {
  answer: object;
  text: string;
}

/**
 * Does a command on each of some files; one that is refused is named, and the others go on. As JSON, one file's answer is an
 * object, several are an array. Returns the exit code.
 */
export function ofEach(files: readonly string[], out: Output, command: (file: string) => Said): number {
  const answers: object[] = [];
  let refused = false;
  for (const file of files) {
    try {
      const { answer, text } = command(file);
      answers.push(answer);
      if (!out.json) out.answer(text);
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      refused = true;
      out.problem(error.message);
      answers.push({ file, refused: error.message });
    }
  }
  if (out.json) out.answer(JSON.stringify(files.length === 1 ? answers[0] : answers));
  return refused ? 1 : 0;
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
