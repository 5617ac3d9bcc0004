import type { Catalog, Column } from './catalog.ts';
import { waysOf, type Ways } from './ways.ts';

/** Columns in whose words a search looks, besides names: what a take tells, and what a phrase does. */
const SEARCHED = [
  ['takes', 'files', 'sources'],
  ['roles', 'parts', 'people', 'projects', 'tagSets'],
] as const satisfies Column[][];
type Searched = (typeof SEARCHED)[number][number];

/** Names of so many phrases stand in one text. */
const PAGE = 4096;

/** Names of phrases that follow each other, a line each: one text is searched many times faster than its lines one by one. */
interface Page {
  text: string;
  /** Where each line begins, and where the text ends. */
  starts: Uint32Array;
  version: number;
}

/** What is remembered of a catalog while somebody looks for words. */
interface Memory {
  names: Page[];
  /** Of what stands with many phrases. */
  texts: Map<Searched, Page[]>;
  /** Which phrases hold a word, and of which version that is. */
  words: Map<string, Uint8Array>;
  version: number;
}

const memories = new WeakMap<Catalog, Memory>();

const noMemory = (): Memory => ({
  names: [],
  texts: new Map(SEARCHED.flat().map((name) => [name, []])),
  words: new Map(),
  version: -1,
});

/** So many words are remembered. */
const REMEMBERED = 24;

/** Which phrases hold a word, in lower case, 1 or 0: in their names, or in what they come from and stand under. */
export function holdingWord(catalog: Catalog, word: string): Uint8Array {
  let memory = memories.get(catalog);
  if (!memory) memories.set(catalog, (memory = noMemory()));
  if (memory.version !== catalog.version) {
    memory.words.clear();
    memory.version = catalog.version;
  }
  const known = memory.words.get(word);
  if (known) return known;
  const { names, versions, version, size } = catalog;
  const holds = new Uint8Array(size);
  for (const columns of SEARCHED) {
    const codes = columns.map((name) => codesHolding(catalog, word, name, memory));
    markWays(waysOf(catalog, columns), codes, holds);
  }
  // Last, since it is the longest: of what holds the word already, the name need not be looked into.
  markLines(word, { lines: names, size, pages: memory.names, versions, version }, holds);
  memory.words.set(word, holds);
  if (memory.words.size > REMEMBERED) memory.words.delete(memory.words.keys().next().value!);
  return holds;
}

/** Which codes of a column hold a word, 1 or 0. */
function codesHolding(
  { dictionaries, tagSets, version }: Catalog,
  word: string,
  name: Searched,
  { texts }: Memory,
): Uint8Array {
  if (name === 'tagSets') {
    const tags = dictionaries.tags.words.map((tag) => tag.toLowerCase().includes(word));
    return Uint8Array.from(tagSets, (codes) => Number(codes.some((code) => tags[code])));
  }
  const lines = dictionaries[name].words;
  const holds = new Uint8Array(lines.length);
  markLines(word, { lines, size: lines.length, pages: texts.get(name)!, version }, holds);
  return holds;
}

/** Marks phrases of which a column's code is one of some; `allowed` by column, in the order of the ways' columns. */
function markWays({ columns, codes, column }: Ways, allowed: readonly Uint8Array[], holds: Uint8Array): void {
  if (!allowed.some((some) => some.includes(1))) return;
  const held = new Uint8Array(codes.length / columns.length);
  for (let way = 0; way < held.length; way++)
    for (let c = 0; c < columns.length; c++) held[way]! |= allowed[c]![codes[way * columns.length + c]!]!;
  for (let at = 0; at < holds.length; at++) holds[at]! |= held[column[at]!]!;
}

/** Lines to look through, and the pages that they stood on before. */
interface Lines {
  lines: readonly string[];
  size: number;
  pages: Page[];
  /** When each line was written last; undefined where none ever changes. */
  versions?: Uint32Array;
  version: number;
}

/** Marks lines that hold a word; those that are marked are passed over. */
function markLines(word: string, all: Lines, holds: Uint8Array): void {
  for (let from = 0, k = 0; from < all.size; from += PAGE, k++) {
    const page = (all.pages[k] = upToDate(all, from, all.pages[k]));
    markOnPage(word, page, holds.subarray(from, from + page.starts.length - 1));
  }
}

function markOnPage(word: string, { text, starts }: Page, holds: Uint8Array): void {
  let line = 0;
  for (;;) {
    while (holds[line] === 1) line++;
    if (line === holds.length) return;
    const at = text.indexOf(word, starts[line]);
    if (at < 0) return;
    while (starts[line + 1]! <= at) line++;
    holds[line] = 1;
  }
}

function upToDate({ lines, size, versions, version }: Lines, from: number, page: Page | undefined): Page {
  const until = Math.min(from + PAGE, size);
  if (page && page.starts.length === until - from + 1) {
    let isCurrent = true;
    if (versions)
      for (let at = from; at < until && isCurrent; at++) isCurrent = versions[at]! <= page.version;
    if (isCurrent) return page;
  }
  const some = lines.slice(from, until).map((line) => line.toLowerCase());
  const starts = new Uint32Array(some.length + 1);
  some.forEach((line, k) => (starts[k + 1] = starts[k]! + line.length + 1));
  return { text: `${some.join('\n')}\n`, starts, version };
}
