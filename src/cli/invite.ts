import { eq, sql } from 'drizzle-orm';
import { PERSON_ROLES, type PersonRole } from '../core/people/roles.ts';
import { people } from '../server/db/schema.ts';
import { invite } from '../server/people/invitations.ts';
import { withLibrary, type LibraryOptions } from './library.ts';
import { Refusal, type Output } from './output.ts';

export interface InviteOptions extends LibraryOptions {
  role?: string;
}

/**
 * `invite NAME`: a link by which somebody comes in, or by which who is called so already chooses a new password. Whoever can run this can
 * read the database: it is how an owner comes in again who has forgotten theirs.
 */
export async function inviteCommand(name: string, options: InviteOptions, out: Output): Promise<void> {
  const { role = 'member' } = options;
  if (!PERSON_ROLES.includes(role as PersonRole) || role === 'guest')
    throw new Refusal(
      '--role is member or owner. Guests are invited on the People page, where their baskets are chosen.',
    );
  const { link } = await withLibrary(options, true, async ({ db }) => {
    const [known] = await db
      .select({ id: people.id, role: people.role })
      .from(people)
      .where(eq(sql`lower(${people.name})`, name.toLowerCase()));
    return invite(db, { note: name, role: known?.role ?? (role as PersonRole), personId: known?.id }, null);
  });
  out.answer(out.json ? JSON.stringify({ name, link }) : link);
}
