import { fillLibrary } from '../server/demo/fill.ts';
import { seedDemo } from '../server/demo/seed.ts';
import { holdsAnything } from '../server/library/keeping/backup.ts';
import { withLibrary, type LibraryOptions } from './library.ts';
import { Refusal, type Output } from './output.ts';

/** Phrases that are put there at the most. */
const MOST = 1_000_000;

/** `fill N`: the demo and N phrases more in an empty library, to try how a large one works. */
export async function fillCommand(count: string, options: LibraryOptions, out: Output): Promise<void> {
  const phrases = Number(count);
  if (!Number.isInteger(phrases) || phrases < 1 || phrases > MOST)
    throw new Refusal(`${count}: say how many phrases, 1 to ${MOST.toLocaleString('en')}.`);
  await withLibrary(options, false, async (library) => {
    if (await holdsAnything(library))
      throw new Refusal(
        'Only an empty library is filled; this one holds something. Say another with --data.',
      );
    await seedDemo(library);
    await fillLibrary(library, phrases, (done, of) => out.problem(`${done} of ${of}`));
  });
  out.answer(
    out.json
      ? JSON.stringify({ phrases })
      : `${phrases.toLocaleString('en')} phrases beside the demo's: npm start with DATA_DIR shows them.`,
  );
}
