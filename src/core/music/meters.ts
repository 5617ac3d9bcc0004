/** Meters that are offered where one is chosen (common practice); any other can come with a file. */
export const METERS = ['2/4', '3/4', '4/4', '5/4', '6/8', '7/4', '7/8', '9/8', '12/8'] as const;

/** Reads "6/8". */
export function parseMeter(text: string): { numerator: number; denominator: number } {
  const [numerator, denominator] = text.split('/').map(Number) as [number, number];
  return { numerator, denominator };
}

export function meterName({ numerator, denominator }: { numerator: number; denominator: number }): string {
  return `${numerator}/${denominator}`;
}
