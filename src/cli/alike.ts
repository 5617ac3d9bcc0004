import { groupsOf, likenessOf, TWICE, type Compared } from '../core/catalog/alike.ts';
import { comparedPhrase } from '../core/catalog/compared.ts';
import { Refusal, table, type Output } from './output.ts';
import { phraseOfFile } from './phrase-of-file.ts';

/** `alike FILE...`: every pair that has something in common, and what is there twice in groups. Returns the exit code. */
export function alikeCommand(files: readonly string[], out: Output): number {
  const read: { file: string; compared: Compared }[] = [];
  let refused = false;
  for (const file of files) {
    try {
      read.push({ file, compared: comparedPhrase(phraseOfFile(file, (text) => out.problem(text))) });
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      refused = true;
      out.problem(error.message);
    }
  }
  const found = read.flatMap((a, i) =>
    read.slice(i + 1).flatMap((b, k) => {
      const likeness = likenessOf(a.compared, b.compared);
      return likeness ? [{ places: [i, i + 1 + k] as const, a: a.file, b: b.file, ...likeness }] : [];
    }),
  );
  const groups = groupsOf(
    read.length,
    found.filter(({ verdict }) => TWICE.has(verdict)).map(({ places }) => places),
  ).map((group) => group.map((k) => read[k]!.file));
  const pairs = found.map(({ a, b, verdict, shared, semitones, text }) => ({
    ...{ a, b, verdict, text, semitones },
    shared: Math.round(shared * 1000) / 1000,
  }));
  if (out.json) out.answer(JSON.stringify({ pairs, groups }));
  else if (pairs.length === 0) out.answer('No two of them have anything in common.');
  else out.answer(table([['first', 'second', 'what'], ...pairs.map(({ a, b, text }) => [a, b, text])]));
  return refused ? 1 : 0;
}
