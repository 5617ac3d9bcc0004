import type { Library } from '../db/client.ts';
import { isNobodyThere } from './accounts.ts';
import { FIRST_OWNER, invite } from './invitations.ts';
import { accountsAreOn, passwordsAreOpen } from './setting.ts';

/** Where people have to sign in and nobody is there yet, says by which link the first owner comes in: on the terminal, which only they read. */
export async function welcome({ db }: Pick<Library, 'db'>): Promise<void> {
  if (!accountsAreOn()) return;
  if (passwordsAreOpen())
    console.error(
      'Passwords travel as plain text: put a server with TLS before this one, and say PUBLIC_URL=https://... (docs/groups.md).',
    );
  if (!(await isNobodyThere(db))) return;
  const { link } = await invite(db, { note: FIRST_OWNER, role: 'owner' }, null);
  console.error(`Nobody is here yet. The first owner comes in by ${link}`);
}
