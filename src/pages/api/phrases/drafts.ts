import { listDrafts } from '../../../server/library/phrases/phrases.ts';
import { endpoint } from '../_answer.ts';

/** What waits at Normalize. */
export const GET = endpoint(async ({ db }) => ({ drafts: await listDrafts(db) }));
