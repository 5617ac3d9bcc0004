import type { APIContext } from 'astro';

/** Where a window is, as far as others are told: the address of a view, and not what is searched for in it. */
export function shownPath(path: string): string {
  const [plain = ''] = path.split(/[?#]/);
  return plain.slice(0, 120);
}

/** Where a request comes from, as far as it can be known; one who stands before this server says it in X-Forwarded-For. */
export function addressOf(context: APIContext): string {
  try {
    return context.clientAddress;
  } catch {
    return 'unknown';
  }
}

/** What a browser says it is. */
export function deviceOf({ request }: APIContext): string {
  return request.headers.get('user-agent') ?? '';
}
