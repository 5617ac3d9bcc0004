import { lastIntake, startIntake } from '../../../server/library/jobs.ts';
import { endpoint, readBody } from '../_answer.ts';
import { newIntakeSchema } from '../_schemas.ts';

/** The last intake, with what came of each file. */
export const GET = endpoint(async ({ db }) => ({ intake: await lastIntake(db) }));

export const POST = endpoint(async ({ db }, context) => {
  const { total } = await readBody(context, newIntakeSchema);
  return Response.json(await startIntake(db, total), { status: 201 });
});
