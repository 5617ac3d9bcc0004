import equal from 'fast-deep-equal';

/**
 * Puts together what two people made of one thing. Where only one of them changed something, that stands; what both changed in another way
 * is told by `tell`, and mine stands there for the moment: nobody's work is thrown away unseen.
 */
export function mergedValue<Value>(base: Value, mine: Value, theirs: Value, tell: () => void): Value {
  if (equal(mine, base) || equal(mine, theirs)) return theirs;
  if (!equal(theirs, base)) tell();
  return mine;
}

export interface ListSetting<Item> {
  keyOf: (item: Item) => string;
  /** Both changed one item in another way. */
  tell: (item: Item) => void;
  /** Both changed the order in another way; null where it means nothing. */
  order: (() => void) | null;
}

/** The same for lists whose items have keys: items are merged one by one, then their order. */
export function mergedList<Item>(
  base: readonly Item[],
  mine: readonly Item[],
  theirs: readonly Item[],
  { keyOf, tell, order }: ListSetting<Item>,
): Item[] {
  const byKey = (list: readonly Item[]) => new Map(list.map((item) => [keyOf(item), item]));
  const [was, own, other] = [byKey(base), byKey(mine), byKey(theirs)];
  const kept = new Map<string, Item>();
  for (const key of new Set([...was.keys(), ...own.keys(), ...other.keys()])) {
    const value = mergedValue(was.get(key), own.get(key), other.get(key), () =>
      tell((own.get(key) ?? other.get(key))!),
    );
    if (value !== undefined) kept.set(key, value);
  }
  const keys = (list: readonly Item[]) => list.map(keyOf).filter((key) => kept.has(key));
  const arranged = mergedValue(keys(base), keys(mine), keys(theirs), () => {
    // One that added where the other added too is no quarrel about the order.
    const common = (list: readonly Item[]) => keys(list).filter((key) => own.has(key) && other.has(key));
    if (order && !equal(common(mine), common(theirs))) order();
  });
  const rest = [...kept.keys()].filter((key) => !arranged.includes(key));
  return [...arranged, ...rest].flatMap((key) => kept.get(key) ?? []);
}

/** What came of merging: the value, or what both changed otherwise, by the names of its fields ("out.key"). */
export type Merged<Value> = { value: Value; both: null } | { value: null; both: string[] };

/** How the lists in a value are merged, by the names of their fields: by the keys of their items. Other lists are one value. */
export type ListKeys = Readonly<Record<string, (item: never) => string>>;

type Fields = Record<string, unknown>;

/** Merges plain data field by field, down to the last. */
export function mergedFields<Value extends object>(
  base: Value,
  mine: Value,
  theirs: Value,
  lists: ListKeys = {},
): Merged<Value> {
  const { value, both } = putTogether(base, mine, theirs, lists);
  return both.length > 0 ? { value: null, both } : { value, both: null };
}

/** The same where mine has the last word: what both changed in another way is as I have it. */
export function mineOver<Value extends object>(
  base: Value,
  mine: Value,
  theirs: Value,
  lists: ListKeys = {},
): Value {
  return putTogether(base, mine, theirs, lists).value;
}

/** Field by field, mine where both changed the same; and where that was. */
function putTogether<Value extends object>(
  base: Value,
  mine: Value,
  theirs: Value,
  lists: ListKeys,
): { value: Value; both: string[] } {
  const both: string[] = [];
  const value = fields(base as Fields, mine as Fields, theirs as Fields, '') as Value;
  return { value, both };

  function fields(was: Fields, own: Fields, other: Fields, path: string): Fields {
    const names = new Set([...Object.keys(own), ...Object.keys(other)]);
    const found: Fields = {};
    for (const name of names) {
      const at = path ? `${path}.${name}` : name;
      const one = field(was[name], own[name], other[name], at);
      if (one !== undefined) found[name] = one;
    }
    return found;
  }

  function field(was: unknown, own: unknown, other: unknown, at: string): unknown {
    const tell = () => void both.push(at);
    const keyOf = lists[at] as ((item: unknown) => string) | undefined;
    if (keyOf && [was, own, other].every((list) => hasOneOfEach(list, keyOf)))
      return mergedList(was as unknown[], own as unknown[], other as unknown[], { keyOf, tell, order: tell });
    if (isPlain(was) && isPlain(own) && isPlain(other)) return fields(was, own, other, at);
    return mergedValue(was, own, other, tell);
  }
}

const isPlain = (value: unknown): value is Fields =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** Whether something is a list in which each key stands once: else its items could not be told apart. */
function hasOneOfEach(list: unknown, keyOf: (item: unknown) => string): boolean {
  return Array.isArray(list) && new Set(list.map(keyOf)).size === list.length;
}
