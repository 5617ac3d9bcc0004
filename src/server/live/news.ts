import { EventEmitter } from 'node:events';
import { setTimeout as delay } from 'node:timers/promises';
import { sql } from 'drizzle-orm';
import pg from 'pg';
import type { Library } from '../db/client.ts';
import type { DeedKind } from '../db/schema.ts';

/** Something that was changed. */
export interface Changed {
  type: 'changed';
  kind: DeedKind;
  /** What was changed; null where it is no one thing. */
  id: string | null;
  /** Who did it; empty where nobody is signed in. */
  by: string;
  /** The window it was done in, which knows; empty for work in the background. */
  window: string;
}

/** A window is at an address, or (with an empty path) no longer there. */
export interface Here {
  type: 'here';
  window: string;
  by: string;
  path: string;
}

/** News may have been missed: whoever shows something looks again. */
export interface Missed {
  type: 'missed';
}

/** Kinds of long work. */
export type WorkKind =
  'intake' | 'batch' | 'sweep' | 'merge' | 'making' | 'marks' | 'pack' | 'twice' | 'mirror';

/** Long work has come further. */
export interface Progress {
  type: 'progress';
  work: WorkKind;
  /** The piece of it. */
  id: string;
  /** How far it is, where that is known to nobody but the process that works on it. */
  done?: number;
  of?: number;
  /** Nobody works on it any more. */
  isOver?: boolean;
}

export type News = Changed | Here | Missed | Progress;

/** The channel of PostgreSQL on which the processes of one library tell each other. */
const CHANNEL = 'hollow_basket_news';

/** PostgreSQL refuses a payload of 8000 bytes or more. */
const LONGEST = 7900;

/** How long it is waited before the database is tried again, in milliseconds: first, and at most. */
const [FIRST_WAIT, LONGEST_WAIT] = [200, 5000];

/** A connection that does not end is not waited for longer, in milliseconds. */
const LONGEST_END = 2000;

const holder = globalThis as { hollowBasketNews?: EventEmitter };

function emitter(): EventEmitter {
  return (holder.hollowBasketNews ??= new EventEmitter().setMaxListeners(0));
}

/** Hears all news until what is answered is called. */
export function hearNews(listener: (news: News) => void): () => void {
  emitter().on('news', listener);
  return () => emitter().off('news', listener);
}

/** Tells all windows, and the other processes of the library where there are any. What cannot be told changes nothing of what was done. */
export async function tellNews(library: Pick<Library, 'db' | 'address'>, news: News): Promise<void> {
  const text = JSON.stringify(news);
  if (!isShared(library) || text.length > LONGEST) {
    emitter().emit('news', news);
    return;
  }
  await library.db.execute(sql`select pg_notify(${CHANNEL}, ${text})`).catch((error: unknown) => {
    emitter().emit('news', news);
    console.error(error);
  });
}

/** Whether other processes may work on the library: PGlite has one. */
function isShared({ address }: Pick<Library, 'address'>): boolean {
  return address.connectionString !== undefined;
}

/** Listens to the other processes of the library, again and again where the connection breaks. */
export function listenToOthers({ address }: Pick<Library, 'address'>): { close(): Promise<void> } {
  const ending = new AbortController();
  const listening = isShared({ address }) ? listenOn() : Promise.resolve();
  async function listenOn(): Promise<void> {
    for (let wait = FIRST_WAIT; !ending.signal.aborted; wait = Math.min(wait * 2, LONGEST_WAIT)) {
      const broke = await listenOnce().catch(() => 'before' as const);
      if (broke === 'later') wait = FIRST_WAIT;
      await delay(wait, undefined, { signal: ending.signal }).catch(() => {});
    }
  }
  /** Resolves when the connection is gone. @throws where it could not be made */
  async function listenOnce(): Promise<'later'> {
    const one = new pg.Client(address);
    const gone = new Promise<'later'>((resolve) => {
      one.on('error', () => resolve('later'));
      one.on('end', () => resolve('later'));
    });
    one.on('notification', ({ payload }) => emitter().emit('news', JSON.parse(payload ?? '{}')));
    await one.connect();
    const leave = () => void one.end().catch(() => {});
    ending.signal.addEventListener('abort', leave);
    // Asked to end while it was still on its way there.
    if (ending.signal.aborted) leave();
    else await one.query(`listen ${CHANNEL}`);
    // Whatever was told before this moment was not heard.
    emitter().emit('news', { type: 'missed' } satisfies Missed);
    await gone;
    ending.signal.removeEventListener('abort', leave);
    return 'later';
  }
  return {
    async close() {
      ending.abort();
      await Promise.race([listening, delay(LONGEST_END, undefined, { ref: false })]);
    },
  };
}
