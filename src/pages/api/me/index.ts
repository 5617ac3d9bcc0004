import { changePassword, isNobodyThere } from '../../../server/people/accounts.ts';
import { accountsAreOn, passwordsAreOpen } from '../../../server/people/setting.ts';
import { endpoint, readBody, signedIn } from '../_answer.ts';
import { passwordChangeSchema } from '../../../requests/people.ts';

/** Whether people sign in here, who has, and what is still to be done before anybody can. */
export const GET = endpoint(async ({ db }, { locals: { person } }) => ({
  accounts: accountsAreOn(),
  person: person && { id: person.id, name: person.name, role: person.role },
  isNobodyThere: accountsAreOn() && (await isNobodyThere(db)),
  /** Passwords would travel as plain text. */
  isOpen: passwordsAreOpen(),
}));

/** Another password. */
export const PATCH = endpoint(async ({ db }, context) => {
  await changePassword(db, signedIn(context), await readBody(context, passwordChangeSchema));
});
