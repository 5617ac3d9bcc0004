import type { APIContext } from 'astro';
import { LARGEST_FILE } from '../../../core/capture/archive.ts';
import { LibraryError } from '../../../server/library/errors.ts';
import {
  listTakes,
  TAKE_FILTERS,
  TAKE_SORTS,
  TAKES_AT_ONCE,
  type TakeQuery,
} from '../../../server/library/takes/take-list.ts';
import { changeTakes, takeIn } from '../../../server/library/takes/takes.ts';
import { endpoint, readBody, readFileForm } from '../_answer.ts';
import { takeChangeSchema } from '../../../requests/takes.ts';

/** Takes: `search`, `source`, `filter`, `sort` (`turned=1` for the other way round), `offset` and `limit` choose which. */
export const GET = endpoint(async ({ db }, { url }) => listTakes(db, queryOf(url)));

function queryOf({ searchParams }: URL): TakeQuery {
  const choice = <Choice extends string>(name: string, choices: readonly Choice[]): Choice | undefined => {
    const value = searchParams.get(name);
    if (value === null) return undefined;
    if (choices.includes(value as Choice)) return value as Choice;
    throw new LibraryError(400, `"${name}" is one of ${choices.join(', ')}.`);
  };
  const count = (name: string, most: number) => {
    const value = Number(searchParams.get(name) ?? NaN);
    return Number.isInteger(value) && value >= 0 ? Math.min(value, most) : undefined;
  };
  return {
    search: searchParams.get('search')?.slice(0, 200),
    source: searchParams.get('source') ?? undefined,
    filter: choice('filter', TAKE_FILTERS),
    sort: choice('sort', TAKE_SORTS),
    turned: choice('turned', ['1']) !== undefined,
    offset: count('offset', 10_000_000),
    limit: count('limit', 5 * TAKES_AT_ONCE),
  };
}

/** Takes one file in: a form with `file`, and optionally `source`, `contributor` and `rights`. */
export const POST = endpoint(async (library, context: APIContext) => {
  const { form, name, bytes } = await readFileForm(context, LARGEST_FILE);
  const text = (field: string) => {
    const value = form.get(field);
    return typeof value === 'string' && value !== '' ? value : undefined;
  };
  const taken = await takeIn(library, {
    bytes,
    fileName: name || 'unnamed.mid',
    source: text('source'),
    contributor: text('contributor') ?? context.locals.person?.name,
    rights: text('rights'),
  });
  return Response.json(taken, { status: taken.isNew ? 201 : 200 });
});

/** Changes what is known of several takes. Answers what was before. */
export const PATCH = endpoint(async ({ db }, context) => {
  const { ids, ...change } = await readBody(context, takeChangeSchema);
  return changeTakes(db, ids, change as Parameters<typeof changeTakes>[2]);
});
