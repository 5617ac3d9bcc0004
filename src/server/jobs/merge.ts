import type { Library } from '../db/client.ts';
import { awayProblem, LibraryError } from '../library/errors.ts';
import { forgetChoice, keepChoice, openChoices, waitingPack } from '../library/handoff/packs-in.ts';
import { takePack, type MergeChoice, type Taken } from '../library/handoff/taking-packs.ts';
import { isWorkedOn, nameOf, workOn, type MayGoOn, type Work } from './engine.ts';
import { whileHeld } from './holds.ts';

/** Packs that wait, of which something was chosen: how it ends is seen in the library, and told to whoever waits for it. */
export const MERGES: Work = {
  kind: 'merge',
  open: async (library) => (await openChoices(library)).map(({ id }) => id),
  run: takeChosen,
};

/** Somebody who waits until a pack is taken in. */
interface Waiting {
  stop: AbortSignal;
  answer?: Taken;
  error?: unknown;
}

const waiting = new Map<string, Waiting>();

/**
 * Takes in what was chosen of a pack that waits; stopped, what was taken stays. What was chosen is kept until it is done, so that it goes on where
 * the process dies. @throws LibraryError 404, 409 where it is being taken in already
 */
export async function takeWaiting(
  library: Library,
  id: string,
  choice: MergeChoice,
  stop: AbortSignal,
): Promise<Taken> {
  await waitingPack(library, id);
  const already = new LibraryError(409, 'This pack is being taken in already.');
  if (waiting.has(id) || isWorkedOn(MERGES.kind, id)) throw already;
  const mine: Waiting = { stop };
  waiting.set(id, mine);
  await whileHeld(library, nameOf(MERGES.kind, id), async () => {
    await keepChoice(library, id, choice);
    await workOn(library, MERGES, id);
  }).finally(() => waiting.delete(id));
  if (mine.answer) return mine.answer;
  throw mine.error ?? already;
}

async function takeChosen(library: Library, id: string, mayGoOn: MayGoOn): Promise<void> {
  const chosen = (await openChoices(library)).find((one) => one.id === id);
  if (!chosen) return;
  const asker = waiting.get(id);
  const ending = new AbortController();
  const signal = AbortSignal.any([ending.signal, ...(asker ? [asker.stop] : [])]);
  const tell = (done: number, of: number) =>
    void mayGoOn(done, of).then(
      (goes) =>
        goes ||
        ending.abort(
          new LibraryError(409, 'The server is about to end. It goes on with it when it is started again.'),
        ),
    );
  try {
    const zip = await waitingPack(library, id);
    const answer = await takePack(library, zip, chosen.choice as MergeChoice, { signal, tell });
    if (asker) asker.answer = answer;
    await forgetChoice(library, id);
  } catch (error) {
    if (asker) asker.error = error;
    // Stopped, or it cannot be done: it is not to go on by itself. Where the database is away, or the process ends, it is.
    const goesOn = ending.signal.aborted || awayProblem(error) !== undefined;
    if (!goesOn) await forgetChoice(library, id);
    if (!asker && !(error instanceof LibraryError)) throw error;
  }
}
