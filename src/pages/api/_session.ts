import type { APIContext } from 'astro';
import { sessionHours } from '../../server/people/sessions.ts';
import { isEncrypted } from '../../server/people/setting.ts';

/** A name that browsers take over encrypted connections only, and for this host alone (RFC 6265bis, "Cookie Name Prefixes"). */
const cookieName = () => (isEncrypted() ? '__Host-basket' : 'basket');

/** The token that came with a request. */
export function sessionToken({ cookies }: Pick<APIContext, 'cookies'>): string | undefined {
  return cookies.get(cookieName())?.value;
}

/** Lets the browser keep a token: no script reads it, and no page of others sends it. */
export function setSessionToken({ cookies }: Pick<APIContext, 'cookies'>, token: string): void {
  cookies.set(cookieName(), token, {
    ...{ httpOnly: true, sameSite: 'strict', secure: isEncrypted(), path: '/' },
    maxAge: sessionHours() * 3600,
  });
}

export function dropSessionToken({ cookies }: Pick<APIContext, 'cookies'>): void {
  cookies.delete(cookieName(), { path: '/', secure: isEncrypted() });
}
