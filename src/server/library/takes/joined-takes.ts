import type { LastRound } from '../../../core/capture/blocks.ts';
import type { JoinWay } from '../../../core/capture/blocks.ts';
import { strictestRights } from '../../../core/phrase/rights.ts';
import { compute } from '../../compute/pool.ts';
import type { Library } from '../../db/client.ts';
import type { TakeAsked } from '../../db/schema.ts';
import { LibraryError } from '../errors.ts';
import { changeTakes, storedTake, takeIn, type TakenIn, type TakeRow } from './takes.ts';

/**
 * Several takes as one: passes of one performance, all from bar one; or blocks, each behind the one before. They are set aside, not
 * deleted. @throws LibraryError 404, 422 where fewer than two are named.
 */
export async function joinTakes(
  library: Library,
  { ids, name, way = 'over' }: { ids: readonly string[]; name: string; way?: JoinWay | undefined },
): Promise<TakenIn> {
  if (new Set(ids).size < 2) throw new LibraryError(422, 'At least two takes are joined.');
  const passes = [];
  for (const id of new Set(ids)) passes.push(await storedTake(library.db, id));
  if (way === 'over') passes.sort((a, b) => (a.row.fileName < b.row.fileName ? -1 : 1));
  const given = passes.map(({ row, stored }) => ({ name: row.name, stored }));
  const [{ row: first }] = passes as [(typeof passes)[number]];
  if (way === 'over') {
    const bytes = await compute('joinedPasses', name, given);
    return takeInOf(library, first, { bytes, name, asked: first.asked, replaces: ids });
  }
  const { bytes, bars } = await compute('joinedBlocks', name, given);
  const charts = passes.map(({ row }) => row.asked.chart);
  // What each was asked to play, all of them were one after another.
  const chart = charts.every(Boolean) && !charts.some((one) => one!.includes(':')) ? charts.join(' | ') : '';
  const rights = strictestRights(passes.map(({ row }) => row.rights));
  return takeInOf(library, { ...first, rights }, { bytes, name, asked: { bars, ...(chart ? { chart } : {}) }, replaces: ids }); // prettier-ignore
}

/** A take repeated until so many bars are filled. It is set aside, not deleted. @throws LibraryError 404 */
export async function fillBars(
  library: Library,
  id: string,
  bars: number,
  last: LastRound,
): Promise<TakenIn> {
  const { row, stored } = await storedTake(library.db, id);
  const name = `${row.name}, ${bars} bars`;
  const bytes = await compute('filledBars', name, stored, bars, last);
  return takeInOf(library, row, { bytes, name, asked: { ...row.asked, bars }, replaces: [id] });
}

/** Takes in what was made of other takes, from where the first of them came; they are set aside. */
async function takeInOf(
  library: Library,
  first: TakeRow,
  made: { bytes: Uint8Array; name: string; asked: TakeAsked; replaces: readonly string[] },
): Promise<TakenIn> {
  const taken = await takeIn(library, {
    ...{ bytes: made.bytes, fileName: `${made.name}.mid`, name: made.name, asked: made.asked },
    source: first.source ?? undefined,
    contributor: first.contributor ?? undefined,
    rights: first.rights,
  });
  await changeTakes(library.db, made.replaces, { aside: true });
  await changeTakes(library.db, taken.takeIds, { aside: false });
  return taken;
}
