import { setSourceDefaults } from '../../../server/library/sources.ts';
import { endpoint, pathId, readBody } from '../_answer.ts';
import { sourceDefaultsSchema } from '../../../requests/takes.ts';

export const PATCH = endpoint(async ({ db }, context) =>
  setSourceDefaults(db, pathId(context), await readBody(context, sourceDefaultsSchema)),
);
