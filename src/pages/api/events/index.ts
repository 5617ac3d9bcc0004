import { newsStream } from '../../../server/live/stream.ts';
import { personOf } from '../../../server/people/sessions.ts';
import { endpoint } from '../_answer.ts';
import { sessionToken } from '../_session.ts';

/** News: what others change, and where they are. Guests hear what is theirs only. */
export const GET = endpoint(({ db }, context) => {
  const token = sessionToken(context);
  const { person } = context.locals;
  return Promise.resolve(
    newsStream({
      isGuest: person?.role === 'guest',
      mayGoOn: async () => !person || (token !== undefined && (await personOf(db, token)) !== null),
    }),
  );
});
