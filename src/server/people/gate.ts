import type { Db } from '../db/client.ts';
import { seesBasket } from './accounts.ts';
import { isEnough, type Rule, type SignedIn } from './permissions.ts';
import { personOf } from './sessions.ts';

/** A request at the gate. */
export interface Asking {
  /** What it needs; null where nobody may. */
  rule: Rule | null;
  /** The id in the address, where it has one. */
  id: string | undefined;
  /** The token that came with it. */
  token: string | undefined;
}

export type Admission =
  { refused: null; person: SignedIn | null } | { refused: { status: 401 | 403; sentence: string } };

const SIGN_IN = { status: 401, sentence: 'Sign in first.' } as const;
const NOT_FOR_YOU = {
  status: 403,
  sentence: 'This is not for you to do: ask an owner of this library.',
} as const;

/** Whether somebody may do what is asked for, and who they are. */
export async function admit(db: Db, { rule, id, token }: Asking): Promise<Admission> {
  const person = token ? await personOf(db, token) : null;
  if (!rule || !isEnough(person?.role ?? null, rule)) return { refused: person ? NOT_FOR_YOU : SIGN_IN };
  // A guest is not told whether there is something that is not theirs.
  if (rule.basket && person?.role === 'guest' && !(id && (await seesBasket(db, person.id, id))))
    return { refused: NOT_FOR_YOU };
  return { refused: null, person };
}
