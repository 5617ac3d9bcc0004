import type { APIContext } from 'astro';
import { isUuid } from '../../server/checksum.ts';
import type { Library } from '../../server/db/client.ts';
import { tellNews } from '../../server/live/news.ts';
import { keepDeed } from '../../server/people/deeds.ts';

/** How a page says which of the windows it is: those of others hear of what it did, it knows. */
const WINDOW_HEADER = 'x-window';

/** Keeps and tells what was done, as its rule says: who did it, and to what. */
export async function tellOf(library: Library, context: APIContext, answer: unknown): Promise<void> {
  const { person, rule } = context.locals;
  if (!rule?.about || (answer instanceof Response && !answer.ok)) return;
  const id = context.params.id ?? (await idIn(answer));
  if (person && rule.did) {
    const did = context.locals.did ?? rule.did;
    const deed = { personId: person.id, kind: rule.about, subjectId: id, did };
    // What was done is done: what cannot be noted of it must not answer that it was not.
    await keepDeed(library.db, deed).catch((error: unknown) => console.error(error));
  }
  if (context.request.method === 'GET') return;
  const window = context.request.headers.get(WINDOW_HEADER)?.slice(0, 60) ?? '';
  await tellNews(library, { type: 'changed', kind: rule.about, id, by: person?.name ?? '', window });
}

/** What was made: the id in an answer, or the one of its list where it is one. */
async function idIn(answer: unknown): Promise<string | null> {
  const isJson =
    answer instanceof Response && answer.headers.get('content-type')?.startsWith('application/json');
  const told = (isJson ? await answer.clone().json() : answer) as Record<string, unknown> | null;
  if (typeof told !== 'object' || told === null) return null;
  const lists = [told.takeIds, told.phraseIds].filter(Array.isArray) as unknown[][];
  const found = told.id ?? (lists[0]?.length === 1 ? lists[0][0] : null);
  return typeof found === 'string' && isUuid(found) ? found : null;
}
