import { keyLabel } from '../../core/music/key.ts';
import { nameFrom, PHRASE_TOKENS, unknownTokens } from '../../core/phrase/naming.ts';
import { plural } from '../../core/words.ts';
import type { PhraseListItem } from '../../server/library/phrases/search.ts';
import { Button } from '../../ui/Button.tsx';
import { Labeled } from '../../ui/fields/Labeled.tsx';
import type { Wire } from '../api/queries.ts';
import { usePhraseList } from '../shared/phrases/filter.ts';
import type { SetHouse } from './set-house.ts';

/** Names shown as they would be. */
const SHOWN = 4;

/** How phrases are named: tokens, and what they make of phrases that are in the library. */
export function NamePattern({ pattern, set }: { pattern: string; set: SetHouse }) {
  const list = usePhraseList('');
  const phrases = list.data?.pages.flatMap((page) => page.phrases) ?? [];
  const unknown = unknownTokens(pattern, PHRASE_TOKENS);
  const names = phrases.map((phrase) => nameFrom(pattern, valuesOf(phrase)));
  const clashing = clashes(names);
  const change = (next: string) => set((old) => ({ ...old, pattern: next }), 'naming pattern');
  // Names that clash are worth seeing before others.
  const order = [...names.keys()].sort((a, b) => Number(clashing.has(b)) - Number(clashing.has(a)) || a - b);
  return (
    <section aria-label="Names" className="grid gap-2">
      <h2 className="text-lg">Names</h2>
      <Labeled label="Naming pattern of new phrases">
        {(id) => (
          <input
            id={id}
            className="field w-full"
            maxLength={200}
            value={pattern}
            onChange={({ target }) => change(target.value)}
          />
        )}
      </Labeled>
      <div className="flex flex-wrap gap-1">
        {PHRASE_TOKENS.map((token) => (
          <Button key={token} small kind="quiet" onClick={() => change(`${pattern}{${token}}`)}>
            {`{${token}}`}
          </Button>
        ))}
      </div>
      {unknown.length > 0 ? (
        <p className="text-sm text-madder" role="alert">
          There is no {unknown.map((token) => `{${token}}`).join(', ')}: choose from the tokens above.
        </p>
      ) : (
        <>
          <p className="text-sm text-muted" role="status">
            {clashing.size > 0
              ? `${plural(clashing.size, 'name')} of ${plural(names.length, 'phrase')} would clash.`
              : `No two of ${plural(names.length, 'phrase')} would have one name.`}
          </p>
          <ul className="text-sm">
            {order.slice(0, SHOWN).map((i) => (
              <li key={phrases[i]!.id} className="truncate">
                {clashing.has(i) && (
                  <span className="text-madder" title="Another phrase would have this name">
                    twice:{' '}
                  </span>
                )}
                {names[i]}
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}

function valuesOf(phrase: Wire<PhraseListItem>) {
  return {
    take: phrase.takeName,
    part: phrase.partName.toLowerCase(),
    source: phrase.sourceName ?? '',
    project: phrase.project ?? '',
    role: phrase.role,
    key: phrase.keptIn ? keyLabel(phrase.keptIn) : '',
    tempo: String(phrase.bpm),
    meter: `${phrase.meterNumerator}-${phrase.meterDenominator}`,
    bars: String(phrase.bars),
    start: String(phrase.startBar),
    number: String(phrase.number),
  };
}

/** Places of names that stand more than once. */
function clashes(names: readonly string[]): Set<number> {
  const counts = new Map<string, number>();
  for (const name of names) counts.set(name, (counts.get(name) ?? 0) + 1);
  return new Set([...names.keys()].filter((i) => counts.get(names[i]!)! > 1));
}
