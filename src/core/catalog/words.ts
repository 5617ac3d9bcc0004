import { SEARCHED, type Catalog } from './catalog.ts';

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
  texts: Record<(typeof SEARCHED)[number], Page[]>;
  /** Which phrases hold a word, and of which version that is. */
  words: Map<string, Uint8Array>;
  version: number;
}

const memories = new WeakMap<Catalog, Memory>();

const noMemory = (): Memory => ({
  names: [],
  texts: Object.fromEntries(SEARCHED.map((name) => [name, [] as Page[]])) as Memory['texts'],
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
  const { names, versions, version, size, coded, dictionaries, tagSets } = catalog;
  const holds = linesHolding(word, { lines: names, size, pages: memory.names, versions, version });
  for (const name of SEARCHED) {
    const lines = dictionaries[name].words;
    markCodes(
      coded[name],
      linesHolding(word, { lines, size: lines.length, pages: memory.texts[name], version }),
      holds,
    );
  }
  const tags = dictionaries.tags.words.map((tag) => tag.toLowerCase().includes(word));
  markCodes(
    coded.tagSets,
    Uint8Array.from(tagSets, (codes) => Number(codes.some((code) => tags[code]))),
    holds,
  );
  memory.words.set(word, holds);
  if (memory.words.size > REMEMBERED) memory.words.delete(memory.words.keys().next().value!);
  return holds;
}

function markCodes(column: Uint32Array, allowed: Uint8Array, holds: Uint8Array): void {
  if (allowed.includes(1)) for (let at = 0; at < holds.length; at++) holds[at]! |= allowed[column[at]!]!;
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

/** Which lines hold a word, 1 or 0. */
function linesHolding(word: string, all: Lines): Uint8Array {
  const holds = new Uint8Array(all.size);
  for (let from = 0, k = 0; from < all.size; from += PAGE, k++) {
    const { text, starts } = (all.pages[k] = upToDate(all, from, all.pages[k]));
    let line = 0;
    for (let at = text.indexOf(word); at >= 0; at = text.indexOf(word, starts[line])) {
      while (starts[line + 1]! <= at) line++;
      holds[from + line] = 1;
      // One line is found once.
      line++;
    }
  }
  return holds;
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
