import { filterFrom } from '../../../core/catalog/address.ts';
import type { PhraseFilter } from '../../../core/catalog/find.ts';
import { LibraryError } from '../../../server/library/errors.ts';

/** Facets whose values are whole numbers. */
const NUMBERS = ['bars', 'tempo'] as const;

/** The filter in an address. @throws LibraryError 400 where a number is none */
export function checkedFilter(params: URLSearchParams): PhraseFilter {
  for (const name of NUMBERS)
    if (params.getAll(name).some((value) => !Number.isInteger(Number(value))))
      throw new LibraryError(400, `"${name}" is a whole number.`);
  return filterFrom(params);
}
