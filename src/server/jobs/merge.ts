import type { Library } from '../db/client.ts';
import { awayProblem, LibraryError } from '../library/errors.ts';
import { forgetChoice, keepChoice, openChoices, waitingPack } from '../library/packs-in.ts';
import { takePack, type MergeChoice, type Taken } from '../library/taking-packs.ts';
import { hold, letGo } from './holds.ts';

/** Packs that are being taken in here: how many of their phrases are done. */
const underWay = new Map<string, { done: number; of: number }>();

/** How far taking a waiting pack in is; null where nobody does. */
export function takingOf(id: string): { done: number; of: number } | null {
  return underWay.get(id) ?? null;
}

const holdOf = (id: string) => `merge ${id}`;

/**
 * Takes in what was chosen of a pack that waits; stopped, what was taken stays. What was chosen is kept until it is done, so that it goes on where
 * the process dies. @throws LibraryError 404, 409 where it is being taken in already
 */
export async function takeWaiting(
  library: Library,
  id: string,
  choice: MergeChoice,
  signal?: AbortSignal,
): Promise<Taken> {
  const zip = await waitingPack(library, id);
  if (underWay.has(id) || !(await hold(library, holdOf(id))))
    throw new LibraryError(409, 'This pack is being taken in already.');
  underWay.set(id, { done: 0, of: 0 });
  try {
    await keepChoice(library, id, choice);
    const taken = await takePack(library, zip, choice, {
      ...(signal ? { signal } : {}),
      tell: (done, of) => underWay.set(id, { done, of }),
    });
    await forgetChoice(library, id);
    return taken;
  } catch (error) {
    // Stopped, or it cannot be done: it is not to go on by itself. Where the database is away, it is.
    if (!awayProblem(error)) await forgetChoice(library, id);
    throw error;
  } finally {
    underWay.delete(id);
    await letGo(library, holdOf(id)).catch(() => {});
  }
}

/** Goes on with packs whose process died while it took them in; how it ends is seen in the library. */
export async function takeOverMerges(library: Library): Promise<void> {
  for (const { id, choice } of await openChoices(library)) {
    if (underWay.has(id)) continue;
    takeWaiting(library, id, choice as MergeChoice).catch((error: unknown) => {
      if (!(error instanceof LibraryError)) console.error(error);
    });
  }
}
