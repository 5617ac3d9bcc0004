import type { PersonRole } from '../../src/core/people/roles.ts';
import { openLibrary, type Library } from '../../src/server/db/client.ts';
import { invite } from '../../src/server/people/invitations.ts';
import { apiClient, type Api } from './api.ts';
import { databaseFor, type TestServer } from './server.ts';

/** People who come in to a test's server by links, as they would. */

export const PASSWORD = 'goose thistle ferry lamp';

/** The library of a running server, beside it. */
export async function besideServer({ dataDirectory }: Pick<TestServer, 'dataDirectory'>): Promise<Library> {
  const { DATABASE_URL: databaseUrl } = await databaseFor(dataDirectory);
  return openLibrary({ dataDirectory, databaseUrl, join: true });
}

/** A link's token, made as an owner would on the command line. */
export async function tokenFor(library: Library, role: PersonRole, baskets: string[] = []): Promise<string> {
  const { link } = await invite(library.db, { note: '', role, baskets }, null);
  return link.split('#')[1]!;
}

/** A client that keeps its cookie, or goes on with one. */
export function personClient(address: string, known = ''): Api & { cookie: () => string } {
  let cookie = known;
  const plain = apiClient(address, {
    headers: (): Record<string, string> => (cookie ? { cookie } : {}),
    onAnswer: (answer) => {
      for (const set of answer.headers.getSetCookie()) cookie = set.split(';')[0]!;
    },
  });
  return { ...plain, cookie: () => cookie };
}

/** Somebody who has come in. */
export async function newcomer(
  { address }: Pick<TestServer, 'address'>,
  library: Library,
  { name, role, baskets = [] }: { name: string; role: PersonRole; baskets?: string[] },
) {
  const client = personClient(address);
  const token = await tokenFor(library, role, baskets);
  const { status, body } = await client.post('/api/join', { token, name, password: PASSWORD });
  if (status !== 200) throw new Error(JSON.stringify(body));
  return client;
}
