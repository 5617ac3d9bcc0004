/** The largest number that is sorted by. */
const MOST = 2 ** 32 - 1;

/** A number as it is sorted by: whole, from 0 to 2^32 - 1. */
export function wholeNumber(value: number): number {
  return Math.min(MOST, Math.max(0, Math.round(value)));
}

/** In so many bits at once: their counts stay in the processor's cache. */
const BITS = 11;

/**
 * Places by a number of each, those of the same number as they stood: by the lowest digits of the numbers, then by the next (radix sort), which
 * takes a third of the time of comparing.
 */
export function stablyBy(numbers: Uint32Array, places: Int32Array): Int32Array {
  let sorted = { numbers, places };
  for (let shift = 0; shift < 32; shift += BITS) sorted = byDigit(sorted.numbers, sorted.places, shift);
  return sorted.places;
}

function byDigit(numbers: Uint32Array, places: Int32Array, shift: number) {
  const digits = 2 ** BITS;
  const starts = new Uint32Array(digits + 1);
  for (let k = 0; k < numbers.length; k++) starts[((numbers[k]! >>> shift) & (digits - 1)) + 1]!++;
  for (let d = 0; d < digits; d++) starts[d + 1]! += starts[d]!;
  const sorted = { numbers: new Uint32Array(numbers.length), places: new Int32Array(places.length) };
  for (let k = 0; k < numbers.length; k++) {
    const at = starts[(numbers[k]! >>> shift) & (digits - 1)]!++;
    sorted.numbers[at] = numbers[k]!;
    sorted.places[at] = places[k]!;
  }
  return sorted;
}
