import { listSourceDefaults } from '../../../server/library/sources.ts';
import { endpoint } from '../_answer.ts';

/** What the takes of each source have where nobody says otherwise. */
export const GET = endpoint(async ({ db }) => ({ sources: await listSourceDefaults(db) }));
