import { allDeeds } from '../../../server/people/deeds.ts';
import { endpoint } from '../_answer.ts';

/** Who did what, the latest first; `before` a moment. */
export const GET = endpoint(async ({ db }, { url }) => {
  const before = new Date(url.searchParams.get('before') ?? NaN);
  return { deeds: await allDeeds(db, Number.isNaN(before.getTime()) ? undefined : before) };
});
