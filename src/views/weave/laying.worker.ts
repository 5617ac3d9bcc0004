/** Weaves are laid in a thread of their own: the page goes on drawing and sounding while it works. */
import { expose } from 'comlink';
import { clashesBetween, type Clash } from '../../core/clash/clashes.ts';
import { cutTo } from '../../core/exchange/weave-files.ts';
import type { Clip } from '../../core/phrase/clip.ts';
import type { WovenPhrase } from '../../core/weave/cell.ts';
import { layWeave, type LaidWeave, type WeaveRemark, type WeaveSound } from '../../core/weave/lay.ts';
import type { Weave, WeavePart } from '../../core/weave/weave.ts';

/** A weave as it was laid; parts without a clip are as they were in the answer before. */
export interface LaidAnswer extends Omit<WeaveSound, 'parts'> {
  parts: { part: WeavePart; clip: Clip | null }[];
  remarks: WeaveRemark[];
}

interface Sheet {
  phrases: Map<string, WovenPhrase>;
  laid: LaidWeave | undefined;
}

/** Sheets that are open, by the numbers the page gave them. */
const sheets = new Map<number, Sheet>();

/**
 * Lays a sheet. Phrases are handed over once, and again where they changed.
 * @returns a sentence where it cannot be laid
 */
function lay(
  number: number,
  weave: Weave,
  fresh: readonly (readonly [string, WovenPhrase])[],
): LaidAnswer | string {
  const sheet = sheets.get(number) ?? { phrases: new Map(), laid: undefined };
  sheets.set(number, sheet);
  for (const [id, phrase] of fresh) sheet.phrases.set(id, phrase);
  const before = new Set(sheet.laid?.parts.map(({ clip }) => clip));
  try {
    sheet.laid = layWeave(weave, sheet.phrases, sheet.laid);
  } catch (error) {
    if (error instanceof RangeError) return error.message;
    throw error;
  }
  const { parts, ...laid } = sheet.laid;
  return { ...laid, parts: parts.map(({ part, clip }) => ({ part, clip: before.has(clip) ? null : clip })) };
}

/** What clashes down the column of a section, the worst first; of the sheet as it was laid last. */
function clashesIn(number: number, section: string): { clashes: Clash[]; parts: WeavePart[] } {
  const laid = sheets.get(number)?.laid;
  const place = laid?.sections.find(({ id }) => id === section);
  if (!laid || !place) return { clashes: [], parts: [] };
  const sounding = cutTo(laid, place).parts.filter(({ clip }) => clip.notes.length > 0);
  const clashes = clashesBetween(sounding.map(({ part, clip }) => ({ name: part.name, clip })));
  return { clashes, parts: sounding.map(({ part }) => part) };
}

function close(number: number): void {
  sheets.delete(number);
}

const api = { lay, clashesIn, close };
export type LayingWorker = typeof api;

expose(api);
