import type { Db } from '../db/client.ts';
import { seesBasket } from './accounts.ts';
import { isEnough, ruleOf, type Rule, type SignedIn } from './permissions.ts';
import { personOf } from './sessions.ts';

/** A request at the gate. */
export interface Asking {
  method: string;
  /** The address as its file is called: /api/takes/[id]. */
  pattern: string;
  /** The id in the address, where it has one. */
  id: string | undefined;
  /** The token that came with it. */
  token: string | undefined;
}

export type Admission =
  | { refused: null; person: SignedIn | null; rule: Rule }
  | { refused: { status: 401 | 403; sentence: string } };

const SIGN_IN = { status: 401, sentence: 'Sign in first.' } as const;
const NOT_FOR_YOU = {
  status: 403,
  sentence: 'This is not for you to do: ask an owner of this library.',
} as const;

/** Whether somebody may do what is asked for, and who they are. */
export async function admit(db: Db, { method, pattern, id, token }: Asking): Promise<Admission> {
  const rule = ruleOf(method, pattern);
  const person = token ? await personOf(db, token) : null;
  if (!rule) return { refused: person ? NOT_FOR_YOU : SIGN_IN };
  if (!isEnough(person?.role ?? null, rule)) return { refused: person ? NOT_FOR_YOU : SIGN_IN };
  // A guest is not told whether there is something that is not theirs.
  if (rule.basket && person?.role === 'guest' && !(id && (await seesBasket(db, person.id, id))))
    return { refused: NOT_FOR_YOU };
  return { refused: null, person, rule };
}
