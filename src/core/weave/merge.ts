import { mergedList, mergedValue, type Merged } from '../merge/three-way.ts';
import { nameIn, type Weave } from './weave.ts';

/** Fields of a weave beside its lists. */
const HEAD = ['title', 'bpm', 'meter', 'key', 'ending', 'endingBars'] as const;
const HEAD_WORDS: Readonly<Record<(typeof HEAD)[number], string>> = {
  title: 'the title',
  bpm: 'the tempo',
  meter: 'the meter',
  key: 'the key',
  ending: 'the ending',
  endingBars: 'the ending',
};

/**
 * Merges two versions that were made of one: where only one of them changed something, that stands; what both changed in
 * another way is told in words, and nothing is merged.
 */
export function mergedWeave(base: Weave, mine: Weave, theirs: Weave): Merged<Weave> {
  const told: string[] = [];
  const head = Object.fromEntries(
    HEAD.map((name) => [
      name,
      mergedValue(base[name], mine[name], theirs[name], () => told.push(HEAD_WORDS[name])),
    ]),
  ) as Pick<Weave, (typeof HEAD)[number]>;
  const sections = mergedList(base.sections, mine.sections, theirs.sections, {
    keyOf: ({ id }) => id,
    tell: (one) => told.push(`the section "${one.name}"`),
    order: () => told.push('the order of the sections'),
  });
  const parts = mergedList(base.parts, mine.parts, theirs.parts, {
    keyOf: ({ id }) => id,
    tell: (one) => told.push(`the part "${one.name}"`),
    order: () => told.push('the order of the parts'),
  });
  const cells = mergedList(base.cells, mine.cells, theirs.cells, {
    keyOf: ({ section, part }) => `${section} ${part}`,
    tell: (one) =>
      told.push(`${nameIn(theirs.parts, one.part)} in "${nameIn(theirs.sections, one.section)}"`),
    order: null,
  });
  const refused = mergedList(base.refused, mine.refused, theirs.refused, {
    keyOf: (id) => id,
    tell: () => undefined,
    order: null,
  });
  if (told.length > 0) return { value: null, both: [...new Set(told)] };
  return { value: { ...head, sections, parts, cells, refused }, both: null };
}
