import equal from 'fast-deep-equal';
import { nameIn, type Weave } from './weave.ts';

/** What two windows made of one weave, put together; or what both changed otherwise, in words. */
export type Merged = { weave: Weave; both: null } | { weave: null; both: string };

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
 * another way is told, and nothing is merged.
 */
export function mergedWeave(base: Weave, mine: Weave, theirs: Weave): Merged {
  const told: string[] = [];
  const head = Object.fromEntries(
    HEAD.map((name) => [
      name,
      merged(base[name], mine[name], theirs[name], () => told.push(HEAD_WORDS[name])),
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
  if (told.length > 0) return { weave: null, both: [...new Set(told)].join(', ') };
  return { weave: { ...head, sections, parts, cells, refused }, both: null };
}

function merged<Value>(base: Value, mine: Value, theirs: Value, tell: () => void): Value {
  if (equal(mine, base) || equal(mine, theirs)) return theirs;
  if (!equal(theirs, base)) tell();
  return mine;
}

interface ListSetting<Item> {
  keyOf: (item: Item) => string;
  tell: (item: Item) => void;
  /** Null where the order means nothing. */
  order: (() => void) | null;
}

function mergedList<Item>(
  base: readonly Item[],
  mine: readonly Item[],
  theirs: readonly Item[],
  { keyOf, tell, order }: ListSetting<Item>,
): Item[] {
  const byKey = (list: readonly Item[]) => new Map(list.map((item) => [keyOf(item), item]));
  const [was, own, other] = [byKey(base), byKey(mine), byKey(theirs)];
  const kept = new Map<string, Item>();
  for (const key of new Set([...was.keys(), ...own.keys(), ...other.keys()])) {
    const value = merged(was.get(key), own.get(key), other.get(key), () =>
      tell((own.get(key) ?? other.get(key))!),
    );
    if (value !== undefined) kept.set(key, value);
  }
  const keys = (list: readonly Item[]) => list.map(keyOf).filter((key) => kept.has(key));
  const arranged = merged(keys(base), keys(mine), keys(theirs), () => {
    // One that added where the other added too is no quarrel about the order.
    const common = (list: readonly Item[]) => keys(list).filter((key) => own.has(key) && other.has(key));
    if (order && !equal(common(mine), common(theirs))) order();
  });
  const rest = [...kept.keys()].filter((key) => !arranged.includes(key));
  return [...arranged, ...rest].flatMap((key) => kept.get(key) ?? []);
}
