import { listTags, putTagUnder, renameTag } from '../../server/library/phrases/tags.ts';
import { endpoint, readBody } from './_answer.ts';
import { tagChangeSchema } from '../../requests/phrases.ts';

export const GET = endpoint(({ db }) => listTags(db));

/** Renames a tag, makes it one with another, or puts it under one. */
export const PATCH = endpoint(async ({ db }, context) => {
  const { name, rename, under } = await readBody(context, tagChangeSchema);
  if (under !== undefined) await putTagUnder(db, name, under);
  return rename === undefined ? {} : renameTag(db, name, rename);
});
