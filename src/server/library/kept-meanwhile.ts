import { mergedFields, type ListKeys, type Merged } from '../../core/merge/three-way.ts';
import { LibraryError } from './errors.ts';

/** A change and what it was made of; without that it is written as it is, as scripts send it. */
export interface BasedEdit<Value> {
  base?: Value | undefined;
  mine: Value;
}

/**
 * What a change becomes over what is kept now: what others changed meanwhile in other places stays.
 * @throws LibraryError 409 where both changed the same, with what
 */
export function overKept<Value extends object>(
  what: string,
  { base, mine }: BasedEdit<Value>,
  kept: Value,
  lists: ListKeys = {},
): Value {
  if (!base) return mine;
  return settled(what, mergedFields(base, mine, kept, lists));
}

/** @throws LibraryError 409 where two changes could not be put together */
export function settled<Value>(what: string, merged: Merged<Value>): Value {
  if (merged.both === null) return merged.value;
  const fields = [...new Set(merged.both.map((field) => FIELD_WORDS[field.split('.')[0]!] ?? field))];
  throw new LibraryError(
    409,
    `Somebody else changed ${fields.join(', ')} of ${what} meanwhile. Nothing was saved here: look at both.`,
  );
}

/** Fields whose names say little. */
const FIELD_WORDS: Readonly<Record<string, string>> = {
  name: 'the name',
  takeKey: "the take's key",
  recipe: 'the recipe',
  fitting: 'the fitting',
  tags: 'the tags',
  projectId: 'the project',
  recipientId: 'whom it is for',
  rights: 'the rights',
  role: 'the role',
  roles: 'what is kept of a role',
  pattern: 'the pattern of names',
  out: 'how it leaves',
  card: 'the card',
  bpm: 'the tempo',
  keyTonic: 'the key',
  keyMode: 'the key',
  meterNumerator: 'the meter',
  meterDenominator: 'the meter',
  chords: 'the chords',
  rows: 'the rows',
  layout: 'how its files lie',
  previews: 'its previews',
  mirror: 'the folder it is mirrored to',
};
