import { listSources } from '../../../server/library/takes/take-list.ts';
import { endpoint } from '../_answer.ts';

export const GET = endpoint(async ({ db }) => ({ sources: await listSources(db) }));
