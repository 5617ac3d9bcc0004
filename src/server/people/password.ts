import { randomBytes, scrypt, timingSafeEqual, type ScryptOptions } from 'node:crypto';
import { PASSWORD } from '../../core/people/password.ts';
import { LibraryError } from '../library/errors.ts';

/** Cost of deriving: N = 2^17, r = 8, p = 1, 128 MB (OWASP Password Storage Cheat Sheet, "scrypt"). */
const COST = { N: 2 ** 17, r: 8, p: 1 };
const SALT_BYTES = 16;
const KEY_BYTES = 32;

/** zxcvbn's score of what can be guessed in fewer than 10^8 tries is 0 to 2. */
const LEAST_SCORE = 3;

/** A sentence for what is wrong with a new password, or null. What somebody is called, or the product, makes it no better. */
export async function passwordProblem(password: string, name: string): Promise<string | null> {
  const length = [...password].length;
  if (length < PASSWORD.shortest)
    return `A password has at least ${PASSWORD.shortest} characters; several words are good.`;
  if (length > PASSWORD.longest) return `A password has at most ${PASSWORD.longest} characters.`;
  // Its dictionaries are read when the first password is chosen, not at every start.
  const { default: zxcvbn } = await import('zxcvbn');
  const { score, feedback } = zxcvbn(password.slice(0, 100), [name, 'hollow', 'basket', 'hollowbasket']);
  if (score >= LEAST_SCORE) return null;
  return `This password is easily guessed. ${feedback.warning ? `${feedback.warning}. ` : ''}Several words that do not belong together are better.`;
}

/** @throws LibraryError 422 where a password is too short, too long, or easily guessed */
export async function checkPassword(password: string, name: string): Promise<void> {
  const problem = await passwordProblem(password, name);
  if (problem) throw new LibraryError(422, problem);
}

/** What is kept of a password: method, cost, salt and derived key, so that the cost can be raised later. */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(SALT_BYTES);
  const key = await derived(password, salt, COST);
  const { N, r, p } = COST;
  return ['scrypt', N, r, p, salt.toString('base64url'), key.toString('base64url')].join('$');
}

/** Whether a password is the one that was kept. With nothing kept it takes as long, and is not. */
export async function isPassword(password: string, kept: string | null): Promise<boolean> {
  const [, N, r, p, salt, key] = (kept ?? NOBODY).split('$');
  const cost = { N: Number(N), r: Number(r), p: Number(p) };
  const found = await derived(password, Buffer.from(salt!, 'base64url'), cost);
  const wanted = Buffer.from(key!, 'base64url');
  return kept !== null && found.length === wanted.length && timingSafeEqual(found, wanted);
}

/** Of no password: names that are not there are answered as slowly as those that are. */
const NOBODY = ['scrypt', COST.N, COST.r, COST.p, 'AAAAAAAAAAAAAAAAAAAAAA', 'A'.repeat(43)].join('$');

/** At most so many at once: each takes 128 MB. Others wait. */
const AT_ONCE = 2;
let busy = 0;
const waiting: (() => void)[] = [];

async function derived(password: string, salt: Buffer, cost: ScryptOptions): Promise<Buffer> {
  if (busy >= AT_ONCE) await new Promise<void>((resolve) => waiting.push(resolve));
  else busy++;
  try {
    return await new Promise<Buffer>((resolve, reject) =>
      // The same text can be written in more than one way: NFC is one of them.
      scrypt(
        password.normalize('NFC'),
        salt,
        KEY_BYTES,
        { ...cost, maxmem: 256 * 1024 * 1024 },
        (error, key) => (error ? reject(error) : resolve(key)),
      ),
    );
  } finally {
    const next = waiting.shift();
    if (next) next();
    else busy--;
  }
}
