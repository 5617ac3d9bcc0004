export function percent(part: number, of: number): string {
  return `${((100 * part) / of).toFixed(1)} %`;
}

/** A table with an empty line after it. */
export function table(head: readonly string[], rows: readonly (readonly (string | number)[])[]): string[] {
  const line = (cells: readonly (string | number)[]) => `| ${cells.join(' | ')} |`;
  return [line(head), `|${head.map(() => '---|').join('')}`, ...rows.map(line), ''];
}
