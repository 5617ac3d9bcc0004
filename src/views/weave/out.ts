import { zipSync } from 'fflate';
import { cutTo, weaveInOneFile, weavePartFiles, weaveSectionFiles } from '../../core/exchange/weave-files.ts';
import { madeParts } from '../../core/harmonize/made-clips.ts';
import { writeMidiFile } from '../../core/midi/write.ts';
import { parseKey } from '../../core/music/key.ts';
import { barTicks, meterAt } from '../../core/music/timeline.ts';
import { safeFileName } from '../../core/phrase/naming.ts';
import type { WeaveSound } from '../../core/weave/lay.ts';
import { nameIn, type Weave } from '../../core/weave/weave.ts';
import { saveFile } from '../../ui/save-file.ts';
import { toastWithUndo } from '../../ui/history/undoToast.ts';
import { sendJson } from '../api/client.ts';
import { renew, tellProblem } from '../api/queries.ts';
import { setPhraseState } from '../shared/phrases/state.ts';
import type { LaidSheet } from './laid.ts';
import type { Place } from './place.ts';

/** Parts that are kept at once. */
const MOST_KEPT = 15;

const zipped = (files: { file: string; midi: Parameters<typeof writeMidiFile>[0] }[], as: string) =>
  saveFile(
    zipSync(Object.fromEntries(files.map(({ file, midi }) => [file, writeMidiFile(midi)]))),
    as,
    'application/zip',
  );

/** A file a part, equally long, and one of all, in a ZIP. */
export function savePartFiles(laid: LaidSheet): void {
  const name = safeFileName(laid.weave.title);
  const all = { file: `${name}, all parts.mid`, midi: weaveInOneFile(laid.weave, laid) };
  zipped([...weavePartFiles(laid.weave, laid), all], `${name}.zip`);
}

/** One file of all parts. */
export function saveOneFile(laid: LaidSheet): void {
  const name = safeFileName(laid.weave.title);
  saveFile(writeMidiFile(weaveInOneFile(laid.weave, laid)), `${name}.mid`, 'audio/midi');
}

/** A file a section, in a ZIP. */
export function saveSectionFiles(laid: LaidSheet): void {
  zipped(weaveSectionFiles(laid.weave, laid), `${safeFileName(laid.weave.title)}, sections.zip`);
}

/** One file of all parts but one, to play over. */
export function saveWithout(laid: LaidSheet, part: string): void {
  const left = safeFileName(nameIn(laid.weave.parts, part));
  saveFile(
    writeMidiFile(weaveInOneFile(laid.weave, laid, new Set([part]))),
    `${safeFileName(laid.weave.title)}, without ${left}.mid`,
    'audio/midi',
  );
}

/**
 * Keeps what stands at a place as children of its phrases: a cell, a part, a section as a sheaf, or (at no place) the whole. What
 * goes through several meters is kept a section each.
 */
export async function keepPlace(laid: LaidSheet, place: Place, projectId: string | null): Promise<void> {
  const isOneMeter = laid.timeline.meters.length === 1;
  const firsts = laid.sections.filter(({ time }) => time === 1);
  const places = place.section || isOneMeter ? [place] : firsts.map(({ id }) => ({ ...place, section: id }));
  try {
    const kept: string[] = [];
    for (const one of places) kept.push(...(await keepOne(laid, one, projectId)));
    void renew('phrases', 'facets', 'children', 'relatives', 'takes', 'lineage');
    if (kept.length === 0) throw new Error('There are no notes here that could be kept.');
    const what =
      kept.length === 1
        ? 'a phrase'
        : places.length === 1
          ? `a sheaf of ${kept.length}`
          : `${places.length} sheaves`;
    toastWithUndo(`Kept "${nameOfPlace(laid.weave, place)}" as ${what}.`, 'keeping it', () =>
      setPhraseState(kept, 'discarded').catch(tellProblem),
    );
  } catch (error) {
    tellProblem(error);
  }
}

async function keepOne(laid: LaidSheet, place: Place, projectId: string | null): Promise<string[]> {
  const { weave } = laid;
  const { section, part } = place;
  const sounding = soundAt(laid, section).parts.filter(
    (one) => (part === null || one.part.id === part) && one.clip.notes.length > 0,
  );
  const made = madeParts(
    sounding.slice(0, MOST_KEPT).map(({ part: { name, role }, clip }) => ({ name, role, clip })),
  );
  if (!made) return [];
  const cells = weave.cells.filter(
    (cell) => (section === null || cell.section === section) && (part === null || cell.part === part),
  );
  const name = nameOfPlace(weave, place);
  const { phraseIds } = await sendJson<{ phraseIds: string[] }>('POST', '/api/made', {
    ...made,
    name,
    key: parseKey(weave.key) ?? null,
    parentIds: [...new Set(cells.map(({ phrase }) => phrase))],
    done: `woven: ${name}`,
    tags: [],
    projectId,
  });
  return phraseIds;
}

function nameOfPlace(weave: Weave, { section, part }: Place): string {
  return [weave.title, section && nameIn(weave.sections, section), part && nameIn(weave.parts, part)]
    .filter(Boolean)
    .join(', ');
}

/** A section by itself; the whole where none is asked for, without the bar of a pickup. */
function soundAt(laid: LaidSheet, section: string | null): WeaveSound {
  if (section !== null)
    return cutTo(
      laid,
      laid.sections.find(({ id }) => id === section)!,
    );
  const { timeline, pickup, length } = laid;
  const bars = Math.round((length - pickup) / barTicks(timeline.ppq, meterAt(timeline, pickup)));
  return cutTo(laid, { ...laid.sections[0]!, tick: pickup, end: length, bars });
}
