import { createProject, listProjects } from '../../../server/library/projects.ts';
import { endpoint, readBody } from '../_answer.ts';
import { projectSchema } from '../../../requests/projects.ts';

export const GET = endpoint(async ({ db }) => ({ projects: await listProjects(db) }));

export const POST = endpoint(async ({ db }, context) =>
  Response.json(await createProject(db, await readBody(context, projectSchema)), { status: 201 }),
);
