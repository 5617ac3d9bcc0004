import { newsStream } from '../../../server/live/stream.ts';
import { guestHears } from '../../../server/people/guests.ts';
import { personOf } from '../../../server/people/sessions.ts';
import { endpoint } from '../_answer.ts';
import { sessionToken } from '../_session.ts';

/** News: what others change, and where they are. Guests hear what is theirs only. */
export const GET = endpoint(({ db }, context) => {
  const token = sessionToken(context);
  const { person } = context.locals;
  return Promise.resolve(
    newsStream({
      hears: async (news) => person?.role !== 'guest' || guestHears(db, person.id, news),
      mayGoOn: async () => !person || (token !== undefined && (await personOf(db, token)) !== null),
    }),
  );
});
