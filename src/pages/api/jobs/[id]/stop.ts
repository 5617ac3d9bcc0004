import { endJob } from '../../../../server/library/jobs.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** Ends an intake before its last file; what was taken in stays. */
export const POST = endpoint(({ db }, context) => endJob(db, pathId(context), 'stopped'));
