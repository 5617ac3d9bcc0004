import { keepMade } from '../../server/library/phrases/made.ts';
import { endpoint, readBody } from './_answer.ts';
import { madeSchema } from '../../requests/making.ts';

/** Keeps what was made of phrases, such as chords for a tune: a take of its own, its parts as phrases with parents. */
export const POST = endpoint(async (library, context) =>
  Response.json(await keepMade(library, await readBody(context, madeSchema)), { status: 201 }),
);
