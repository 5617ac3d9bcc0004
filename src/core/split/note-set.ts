/**
 * A set of note indices as text: hexadecimal, four notes a digit, the lowest note in the highest bit. What a move
 * takes with it stays the same however the method that found it is bettered later; 20,000 notes are 5,000 digits.
 */
export type NoteSet = string;

/** @throws RangeError where an index is below 0. */
export function noteSet(indices: Iterable<number>): NoteSet {
  const digits: number[] = [];
  for (const i of indices) {
    if (i < 0) throw new RangeError(`There is no note ${i}.`);
    while (digits.length <= i >> 2) digits.push(0);
    digits[i >> 2]! |= 8 >> (i & 3);
  }
  return digits.map((digit) => digit.toString(16)).join('');
}

/** The indices of a set, ascending. */
export function notesIn(set: NoteSet): number[] {
  const indices: number[] = [];
  for (let at = 0; at < set.length; at++) {
    const digit = parseInt(set[at]!, 16);
    for (let bit = 0; bit < 4; bit++) if (digit & (8 >> bit)) indices.push(at * 4 + bit);
  }
  return indices;
}
