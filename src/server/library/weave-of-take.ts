import { keyName } from '../../core/music/key.ts';
import type { TakeForm } from '../../core/weave/sections-of.ts';
import { ENDING_BARS, newCell, type Weave, type WeaveCell } from '../../core/weave/weave.ts';
import { compute } from '../compute/pool.ts';
import type { Db } from '../db/client.ts';
import { makePhrases } from './phrases/make-phrases.ts';
import { storedTake } from './takes/takes.ts';
import { createWeave, type WeaveDetail } from './weaves.ts';

/**
 * A sheet laid out as a take was: its sections with their chords, and (where asked) its parts, each section's bars of a part kept
 * as a phrase. What was kept of those bars already is used again.
 * @throws LibraryError 404, 422
 */
export async function weaveOfTake(
  db: Db,
  takeId: string,
  { withParts, projectId }: { withParts: boolean; projectId: string | null },
): Promise<WeaveDetail> {
  const { row, stored } = await storedTake(db, takeId);
  const form = await compute('takeForm', stored, row.asked.chart ?? '');
  const cells = withParts ? await cellsOf(db, takeId, form, projectId) : [];
  const weave: Weave = {
    title: row.name,
    bpm: Math.min(400, Math.max(20, form.bpm)),
    meter: form.meter,
    key: form.key ? keyName(form.key) : '',
    sections: form.sections.map(({ section }) => section),
    parts: withParts ? form.parts.map((part) => ({ ...part, program: null, level: 1, pan: null })) : [],
    cells,
    ...{ ending: 'none', endingBars: ENDING_BARS, refused: [] },
  };
  return createWeave(db, weave, projectId);
}

async function cellsOf(
  db: Db,
  takeId: string,
  { sections }: TakeForm,
  projectId: string | null,
): Promise<WeaveCell[]> {
  const cells: WeaveCell[] = [];
  for (const { section, startBar, parts: sounding } of sections) {
    if (sounding.length === 0) continue;
    const { phraseIds } = await makePhrases(db, {
      takeId,
      parts: sounding,
      ...{ startBar, bars: section.bars, projectId, keep: true },
    });
    // They come in the order of the parts that were asked for.
    cells.push(...phraseIds.map((id, k) => newCell(section.id, sounding[k]!, id)));
  }
  return cells;
}
