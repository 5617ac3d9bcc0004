import { MERGE_WAYS, type MergeWay } from '../core/exchange/merge.ts';
import { endThreads } from '../server/compute/pool.ts';
import { LibraryError } from '../server/library/errors.ts';
import { lookAtPack } from '../server/library/handoff/merging.ts';
import { countsOf, takePack, type MergeCounts } from '../server/library/handoff/taking-packs.ts';
import { withLibrary, type LibraryOptions } from './library.ts';
import { Refusal, table, type Output } from './output.ts';
import { packAt } from './pack-at.ts';

export interface MergeOptions extends LibraryOptions {
  take?: string;
}

/** What can be asked for, as it is written in a command. */
const TAKE: Readonly<Record<string, MergeWay>> = {
  ...Object.fromEntries(MERGE_WAYS.map((way) => [way, way])),
  children: 'child',
};

/**
 * `merge PACK.zip|FOLDER [--take same|children|theirs|ours|both]`: a pack held against the library; without `--take` nothing is written.
 * Returns the exit code.
 */
export async function mergeCommand(path: string, options: MergeOptions, out: Output): Promise<number> {
  const all = options.take === undefined ? null : TAKE[options.take];
  if (all === undefined) throw new Refusal('--take: it is one of same, children, theirs, ours, both.');
  const zip = packAt(path);
  try {
    return await withLibrary(options, true, async (library) => {
      const { rows, added } = await lookAtPack(library.db, zip);
      const counts =
        all === null
          ? countsOf(rows)
          : await takePack(
              library,
              zip,
              { all },
              {
                tell: (done, of) => { if (done % 20 === 0 || done === of) out.problem(`${done} of ${of}`); }, // prettier-ignore
              },
            );
      const told = rows.map(({ id, name, fate, text }) => ({ id, name, fate, text }));
      if (out.json) out.answer(JSON.stringify({ ...fieldsOf(counts), rows: told, added }));
      else {
        out.answer(table([['phrase', 'what became of it', ''], ...told.map(({ name, fate, text }) => [name, fate, text])])); // prettier-ignore
        for (const { file } of added) out.answer(`${file}: put beside`);
        out.answer(all === null ? 'Nothing was written.' : `${counts.written} written.`);
      }
      return 0;
    });
  } catch (error) {
    if (error instanceof LibraryError) throw new Refusal(`${path}: ${error.message}`);
    throw error;
  } finally {
    await endThreads();
  }
}

function fieldsOf(counts: MergeCounts) {
  return {
    same: counts.same,
    theirsChanged: counts['theirs changed'],
    oursChanged: counts['ours changed'],
    bothChanged: counts['both changed'],
    new: counts.new,
    notSentBack: counts['not sent back'],
    written: counts.written,
  };
}
