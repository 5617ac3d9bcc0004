import { unzipSync } from 'fflate';
import type { HandOff, PhraseOut } from '../../core/exchange/handoff.ts';
import { leavingClip, leavingPpq } from '../../core/exchange/leaving.ts';
import {
  changesTold,
  isInside,
  keyTold,
  PackError,
  type ToldPack,
} from '../../core/exchange/manifest-read.ts';
import {
  playedOf,
  readPack,
  sourceIn,
  type InPhrase,
  type PackFiles,
  type PackIn,
} from '../../core/exchange/pack-in.ts';
import { playedText } from '../../core/exchange/played.ts';
import { comparedWith, type Returned } from '../../core/exchange/returned.ts';
import { readTakes } from '../../core/capture/take.ts';
import { houseRecipe, type House } from '../../core/normalize/house.ts';
import type { Recipe } from '../../core/normalize/recipe.ts';
import { packTable } from '../../core/phrase/pack.ts';
import { packSwatch } from '../../core/phrase/swatch.ts';
import { sha256Of } from '../checksum.ts';
import { LARGEST_FILE } from '../library/derive.ts';
import { LibraryError } from '../library/errors.ts';
import { phraseContent, type PhraseSource } from '../library/phrase-content.ts';
import type { CutRow } from './cut-phrases.ts';

/** What all that is looked at in a pack may come to, in bytes. */
const LARGEST_PACK = 512 * 1024 * 1024;

/** A pack that came in as a ZIP. @throws LibraryError 422 with what is wrong with it */
export function packIn(zip: Uint8Array): PackIn {
  try {
    return readPack(filesOf(zip), sha256Of);
  } catch (error) {
    if (error instanceof PackError) throw new LibraryError(422, `It was not opened: ${error.message}.`);
    throw error;
  }
}

/** Its manifest and MIDI files, by their names from the folder on that the manifest lies in. What climbs out of the ZIP is left out. */
function filesOf(zip: Uint8Array): PackFiles {
  let bytes = 0;
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(zip, {
      filter: ({ name, originalSize }) => {
        if (!/(\.midi?|(^|\/)manifest\.json)$/i.test(name) || !isInside(name)) return false;
        bytes += originalSize;
        if (bytes > LARGEST_PACK)
          throw new PackError(`it unpacks to more than ${LARGEST_PACK / 1024 / 1024} MB`);
        return name.endsWith('.json') || originalSize <= LARGEST_FILE;
      },
    });
  } catch (error) {
    if (error instanceof PackError) throw error;
    throw new PackError('this is no ZIP, or it is damaged');
  }
  const manifest = Object.keys(files).find((name) => /^([^/]+\/)?manifest\.json$/.test(name));
  const root = manifest?.replace(/manifest\.json$/, '') ?? '';
  // What somebody has laid beside the pack's own folder is in it too.
  return new Map(
    Object.entries(files).map(([name, content]) => [
      name.startsWith(root) ? name.slice(root.length) : name,
      content,
    ]),
  );
}

/** What a phrase of ours would play if it left like the pack, and what they have done to it. */
export interface AgainstOurs {
  id: string;
  played: string;
  returned: Returned | null;
}

/** The phrases of a pack, by the ids that they have here, against ours. */
export function packAgainstOurs(
  phrases: readonly (readonly [id: string, phrase: InPhrase])[],
  ours: readonly PhraseOut[],
  { out }: Pick<ToldPack, 'out'>,
): AgainstOurs[] {
  const theirs = new Map(phrases);
  return ours.flatMap((phrase): AgainstOurs[] => {
    const there = theirs.get(phrase.id);
    if (!there?.clip) return [];
    const how: Pick<HandOff, 'out' | 'card'> | null = out && { out, card: null };
    const { clip } = how ? leavingClip(phrase, how, leavingPpq(phrase.recipe, how.out)) : phrase;
    const returned = comparedWith(playedOf(clip, phrase.id), playedOf(there.clip, phrase.id));
    const played = sha256Of(new TextEncoder().encode(playedText(clip)));
    return [{ id: phrase.id, played, returned }];
  });
}

/** Pictures of some phrases that came in, by their ids. */
export function picturesOf(phrases: readonly InPhrase[]): [id: string, swatch: string][] {
  return phrases.flatMap(({ told, clip }): [string, string][] =>
    clip ? [[told.id, Buffer.from(packSwatch(clip)).toString('base64')]] : [],
  );
}

/** Steps that change no music: what somebody else has normalized is kept as it came. */
const AS_IT_CAME: ReadonlySet<string> = new Set(['transpose', 'channel']);

/** A phrase of a pack as a row of the library, as it came but for the key that the library keeps things in. */
export function phraseIn(bytes: Uint8Array, { told, origins, bars }: InPhrase, house: House): CutRow {
  const take = readTakes(bytes)[0]!;
  const key = keyTold(told.key);
  const own = sourceIn(take, origins, told);
  const { steps } = houseRecipe(told.role, null, key?.mode ?? null, house);
  const recipe: Recipe = {
    version: 1,
    steps: [{ step: 'bars', ...bars }, ...steps.filter(({ step }) => AS_IT_CAME.has(step))],
  };
  const source: PhraseSource = {
    ...{ origins, streams: own.streams, role: told.role, program: own.program, pitchMap: [], locked: '' },
    ...{ takeKey: key, labels: { part: told.name, number: 1 } },
  };
  const made = phraseContent(take, source, recipe, () => changesTold(told));
  if (made.phrase.noteCount === 0) throw new LibraryError(422, `"${told.name}" has no notes in its bars.`);
  return {
    phrase: { ...made.phrase, ...{ name: told.name, partName: told.name, role: told.role, takeKey: key, number: 1 } }, // prettier-ignore
    content: {
      ...made.content,
      ...{ streams: own.streams, pitchMap: [], locked: '' as const, origins: packTable([origins]) },
      ...{ partProgram: own.program, corrections: [], fitting: {} },
    },
    marks: made.marks,
  };
}
