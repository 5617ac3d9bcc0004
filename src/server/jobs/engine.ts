import { setTimeout as delay } from 'node:timers/promises';
import type { Library } from '../db/client.ts';
import { awayProblem, storageProblem } from '../library/errors.ts';
import type { WorkKind } from '../live/news.ts';
import { tellProgress } from '../live/progress.ts';
import { hold, whileHeld } from './holds.ts';

/**
 * A kind of long work. What is to be done waits in the database or on the disk, so that it outlives the page and the process; a piece of it is
 * worked on by one process at a time, round by round, and what a round has done is written before the next begins.
 */
export interface Work {
  kind: WorkKind;
  /** Pieces that are to go on, whoever began them. */
  open(library: Library): Promise<string[]>;
  /**
   * Works on a piece until nothing of it waits. It asks between two rounds whether it may go on: where it may not, the process is about to end or
   * another has taken the piece over, and what waits is left to whoever looks next.
   */
  run(library: Library, id: string, mayGoOn: MayGoOn): Promise<void>;
}

/** Whether another round may begin; how far the piece has come is told to whoever watches, where it is known. */
export type MayGoOn = (done?: number, of?: number) => Promise<boolean>;

/** A piece that this process works on. */
interface Running {
  /** Somebody has added something meanwhile: it is looked through once more before it ends. */
  again: boolean;
  end: Promise<void>;
}

const running = new Map<string, Running>();

/** Set when the library is about to be closed: what is under way is finished, and the rest is left to the next start. */
let isEnding = false;

/** Under which name processes agree on who has a piece. */
export const nameOf = (kind: WorkKind, id: string) => `${kind} ${id}`;

/** Whether this process works on a piece. */
export function isWorkedOn(kind: WorkKind, id: string): boolean {
  return running.has(nameOf(kind, id));
}

/**
 * Works on a piece until nothing waits in it; where another process has it, that goes on with it. Called again for one that is worked on, it
 * is looked through once more.
 */
export function workOn(library: Library, work: Work, id: string): Promise<void> {
  const name = nameOf(work.kind, id);
  const now = running.get(name);
  if (now) {
    now.again = true;
    return now.end;
  }
  const entry: Running = { again: false, end: Promise.resolve() };
  running.set(name, entry);
  entry.end = inRounds(library, work, id, entry).finally(() => {
    running.delete(name);
    tellProgress(library, { work: work.kind, id, isOver: true });
  });
  entry.end.catch((error: unknown) => console.error(error));
  return entry.end;
}

async function inRounds(library: Library, work: Work, id: string, entry: Running): Promise<void> {
  const name = nameOf(work.kind, id);
  const mayGoOn: MayGoOn = async (done, of) => {
    tellProgress(library, { work: work.kind, id, ...(of === undefined ? {} : { done, of }) });
    return !isEnding && (await hold(library, name));
  };
  try {
    do {
      entry.again = false;
      await whileHeld(library, name, () => work.run(library, id, mayGoOn));
    } while (entry.again && !isEnding);
  } catch (error) {
    // What the disk refuses, or a database that is away, ends the work for now: whoever looks next goes on with it.
    const sentence = storageProblem(error) ?? awayProblem(error);
    if (!sentence) throw error;
    console.error(sentence);
  }
}

/** Works on a piece to its end; where another process has it, that is waited for. */
export async function finish(library: Library, work: Work, id: string): Promise<void> {
  while (!(await hold(library, nameOf(work.kind, id)))) await delay(500);
  await workOn(library, work, id);
}

/** Goes on with what another process did not finish, before this one or beside it. */
export async function takeOver(library: Library, works: readonly Work[]): Promise<void> {
  for (const work of works)
    for (const id of await work.open(library)) if (!isWorkedOn(work.kind, id)) void workOn(library, work, id);
}

/** Lets the rounds that are under way end, and begins no more. */
export async function endRounds(): Promise<void> {
  isEnding = true;
  await Promise.allSettled([...running.values()].map(({ end }) => end));
}
