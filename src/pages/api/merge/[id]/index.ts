import { lookAtPack } from '../../../../server/library/handoff/merging.ts';
import { letPackGo, waitingPack } from '../../../../server/library/handoff/packs-in.ts';
import { takeWaiting } from '../../../../server/jobs/merge.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { mergeSchema } from '../../../../requests/merge.ts';

/** A pack held against the library, phrase by phrase. */
export const GET = endpoint(async (library, context) =>
  lookAtPack(library.db, await waitingPack(library, pathId(context))),
);

/** Takes in what was chosen. Whoever breaks off stops it between two phrases; begun again, it goes on. */
export const POST = endpoint(async (library, context) => {
  const choice = await readBody(context, mergeSchema);
  return takeWaiting(library, pathId(context), choice, context.request.signal);
});

/** Lets the pack go; what was taken of it stays. */
export const DELETE = endpoint((library, context) => letPackGo(library, pathId(context)));
