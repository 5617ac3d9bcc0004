import { tellNews } from '../../../server/live/news.ts';
import { endpoint, readBody } from '../_answer.ts';
import { hereSchema } from '../../../requests/people.ts';
import { shownPath } from '../_context.ts';

/** A window says where it is now. */
export const POST = endpoint(async (library, context) => {
  const { window, path } = await readBody(context, hereSchema);
  const by = context.locals.person?.name ?? '';
  await tellNews(library, { type: 'here', window, by, path: shownPath(path) });
});
