export interface Meter {
  numerator: number;
  denominator: number;
}

/** Meters that are offered where one is chosen (common practice); any other can come with a file. */
export const METERS = ['2/4', '3/4', '4/4', '5/4', '6/8', '7/4', '7/8', '9/8', '12/8'] as const;

/** Reads "6/8". */
export function parseMeter(text: string): Meter {
  const [numerator, denominator] = text.split('/').map(Number) as [number, number];
  return { numerator, denominator };
}

/** Whether its eighths or sixteenths go in threes: 6/8, 9/8, 12/8 (common practice). */
export function isCompound({ numerator, denominator }: Meter): boolean {
  return denominator >= 8 && numerator % 3 === 0 && numerator > 3;
}

export function meterName({ numerator, denominator }: Meter): string {
  return `${numerator}/${denominator}`;
}

export function sameMeter(a: Meter, b: Meter): boolean {
  return a.numerator === b.numerator && a.denominator === b.denominator;
}

/** How a bar is divided, down to sixteenths; compound meters in groups of three. */
export function divisionsOf({ numerator, denominator }: Meter): number[] {
  const inBar = isCompound({ numerator, denominator }) ? [...factors(numerator / 3), 3] : factors(numerator);
  return [...inBar, ...factors(Math.max(1, 16 / denominator))];
}

/** Prime factors, the smallest first. */
function factors(number: number): number[] {
  for (let by = 2; by <= number; by++) if (number % by === 0) return [by, ...factors(number / by)];
  return [];
}
