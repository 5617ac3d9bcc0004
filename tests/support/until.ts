import { setTimeout as delay } from 'node:timers/promises';

/**
 * Asks again and again until there is something; that is answered. @throws Error with what was waited for, once `within`
 * milliseconds are over: a test that waits says for what, and ends.
 */
export async function until<Value>(
  what: string,
  ask: () => Value | undefined | false | Promise<Value | undefined | false>,
  { within = 60_000, every = 30 }: { within?: number; every?: number } = {},
): Promise<Value> {
  for (const start = Date.now(); ; await delay(every)) {
    const found = await ask();
    if (found !== undefined && found !== false) return found;
    if (Date.now() - start > within) throw new Error(`${what}: not within ${within / 1000} s.`);
  }
}
