import { basketsOfGuest } from '../../server/people/guests.ts';
import { endpoint, signedIn } from './_answer.ts';

/** What was chosen for the guest who asks. */
export const GET = endpoint(async ({ db }, context) => ({
  baskets: await basketsOfGuest(db, signedIn(context).id),
}));
