import { listPeople } from '../../../server/people/accounts.ts';
import { endpoint } from '../_answer.ts';

/** Who works here. */
export const GET = endpoint(async ({ db }) => ({ people: await listPeople(db) }));
