import { updateProject } from '../../../server/library/projects.ts';
import { endpoint, pathId, readBody } from '../_answer.ts';
import { projectChangeSchema } from '../../../requests/projects.ts';

export const PUT = endpoint(async ({ db }, context) =>
  updateProject(db, pathId(context), await readBody(context, projectChangeSchema)),
);
