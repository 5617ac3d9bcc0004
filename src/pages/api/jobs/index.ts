import { inboxFolder } from '../../../server/jobs/inbox.ts';
import type { IntakeSettings } from '../../../server/db/schema.ts';
import { createIntake, recentIntakes } from '../../../server/library/jobs.ts';
import { endpoint, readBody } from '../_answer.ts';
import { newIntakeSchema } from '../../../requests/takes.ts';

/** The last intakes, newest first, and the folder that is watched. */
export const GET = endpoint(async (library) => ({
  intakes: await recentIntakes(library.db),
  inbox: inboxFolder(library),
}));

/** Begins an intake; files are sent to it. */
export const POST = endpoint(async ({ db }, context) => {
  const said = (await readBody(context, newIntakeSchema)) as IntakeSettings;
  // What nobody says otherwise is whose it is who brings it.
  const contributor = said.contributor || context.locals.person?.name;
  const settings = contributor ? { ...said, contributor } : said;
  return Response.json(await createIntake(db, 'page', settings), { status: 201 });
});
