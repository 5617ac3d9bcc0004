import { randomUUID } from 'node:crypto';
import { setTimeout as delay } from 'node:timers/promises';
import { and, eq, sql } from 'drizzle-orm';
import type { Db, Library } from '../db/client.ts';
import { holds, workers } from '../db/schema.ts';
import { awayProblem } from '../library/errors.ts';

/** A process says that it lives so often, and is taken for dead after so long without a word, in milliseconds. */
const BEAT = 3000;
const DEAD_AFTER = 12_000;

/** How often it is looked whether there is something to be taken over, in milliseconds. */
const LOOK_EVERY = 4000;

/** This process, as far as others know of it. */
interface Worker {
  id: string;
  beat?: ReturnType<typeof setInterval>;
  /** When it began to say that it lives the last time that was written, by its own clock. */
  signedAt: number;
  /** What it has. */
  held: Set<string>;
}

/** Kept over reloads of the code while developing. */
const holder = globalThis as { hollowBasketWorker?: Worker };

function me(): Worker {
  return (holder.hollowBasketWorker ??= { id: randomUUID(), signedAt: 0, held: new Set() });
}

const isAlive = sql`workers.seen_at > now() - make_interval(secs => ${DEAD_AFTER / 1000})`;

/**
 * Says from now on that this process lives. Where it is alone on the library, whatever another had is free: that is dead, or this one
 * could not have opened it.
 */
export async function beginWork({ db, isAlone }: Pick<Library, 'db' | 'isAlone'>): Promise<void> {
  const worker = me();
  if (isAlone) {
    await db.delete(holds);
    await db.delete(workers);
  }
  await sign(db, worker);
  worker.beat ??= setInterval(() => {
    // A database that is away for a moment is back before one is taken for dead, or another goes on.
    sign(db, worker).catch(() => {});
  }, BEAT).unref();
}

async function sign(db: Db, worker: Worker): Promise<void> {
  const at = Date.now();
  await db
    .insert(workers)
    .values({ id: worker.id })
    .onConflictDoUpdate({ target: workers.id, set: { seenAt: sql`now()` } });
  worker.signedAt = at;
}

/** Says that this process ends: what it had is free for others at once. */
export async function endWork({ db }: Pick<Library, 'db'>): Promise<void> {
  const { id, beat } = me();
  clearInterval(beat);
  delete holder.hollowBasketWorker;
  await db.delete(holds).where(eq(holds.workerId, id));
  await db.delete(workers).where(eq(workers.id, id));
  await db.delete(workers).where(sql`not ${isAlive}`);
}

/**
 * Takes a piece of work, or goes on having it; false where another process has it that lives. What this process has nobody takes while it
 * says that it lives: as long as it has just done so, the database need not be asked.
 */
export async function hold({ db }: Pick<Library, 'db'>, what: string): Promise<boolean> {
  const { id, held, signedAt } = me();
  if (held.has(what) && Date.now() - signedAt < DEAD_AFTER / 2) return true;
  const taken = await db
    .insert(holds)
    .values({ what, workerId: id })
    .onConflictDoUpdate({
      target: holds.what,
      set: { workerId: id },
      setWhere: sql`${holds.workerId} = ${id} or not exists (select 1 from workers where workers.id = ${holds.workerId} and ${isAlive})`,
    })
    .returning({ what: holds.what });
  if (taken.length > 0) held.add(what);
  else held.delete(what);
  return held.has(what);
}

/** Lets a piece of work go that is done, or is to be done by whoever looks next. */
export async function letGo({ db }: Pick<Library, 'db'>, what: string): Promise<void> {
  const { id, held } = me();
  held.delete(what);
  await db.delete(holds).where(and(eq(holds.what, what), eq(holds.workerId, id)));
}

/** Does some work where no other process has it; false where one has. */
export async function whileHeld(
  library: Pick<Library, 'db'>,
  what: string,
  work: () => Promise<void>,
): Promise<boolean> {
  if (!(await hold(library, what))) return false;
  try {
    await work();
  } finally {
    // A database that is away has forgotten nothing: the hold is let go by the time this process is taken for dead.
    await letGo(library, what).catch(() => {});
  }
  return true;
}

/** A watch that one process of several has: it is begun where it is free, and again where its process has died. */
export function watchAlone(
  library: Pick<Library, 'db'>,
  what: string,
  begin: () => Promise<{ close(): Promise<void> }>,
): { close(): Promise<void> } {
  const ending = new AbortController();
  let watch: { close(): Promise<void> } | null = null;
  const looking = lookAgain(ending.signal, async () => {
    const isOurs = await hold(library, what);
    if (isOurs && !watch) watch = await begin();
    else if (!isOurs && watch) {
      // This process slept for long, and another has taken it.
      await watch.close();
      watch = null;
    }
  });
  return {
    async close() {
      ending.abort();
      await looking;
      await watch?.close();
    },
  };
}

/** Looks again and again, until it is ended. What fails is looked at the next time. */
export async function lookAgain(signal: AbortSignal, look: () => Promise<void>): Promise<void> {
  while (!signal.aborted) {
    // That the database is away is said to those who ask.
    await look().catch((error: unknown) => awayProblem(error) ?? console.error(error));
    await delay(LOOK_EVERY, undefined, { signal, ref: false }).catch(() => {});
  }
}
