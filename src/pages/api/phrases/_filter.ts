import type { Role } from '../../../core/split/roles.ts';
import { LibraryError } from '../../../server/library/errors.ts';
import type { PhraseFilter } from '../../../server/library/search.ts';

/** Reads a filter from an address: `text`, and `role`, `key`, `meter`, `bars`, `tempo`, `tag` as often as wanted;
 * `starts`, `ends` and `changes` are numerals; `aside` asks for what was set aside. */
export function filterFrom(params: URLSearchParams): PhraseFilter {
  const numbers = (name: string) => {
    const values = params.getAll(name).map(Number);
    if (values.some((value) => !Number.isInteger(value)))
      throw new LibraryError(400, `"${name}" is a whole number.`);
    return values;
  };
  return {
    text: params.get('text') ?? '',
    roles: params.getAll('role') as Role[],
    keys: params.getAll('key'),
    meters: params.getAll('meter'),
    bars: numbers('bars'),
    tempos: numbers('tempo'),
    tags: params.getAll('tag'),
    starts: params.get('starts') ?? '',
    ends: params.get('ends') ?? '',
    changes: params.get('changes') ?? '',
    aside: params.has('aside'),
  };
}
