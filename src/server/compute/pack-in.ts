import { unzipSync } from 'fflate';
import type { HandOff, PhraseOut } from '../../core/exchange/handoff.ts';
import { leavingClip, leavingPpq } from '../../core/exchange/leaving.ts';
import { changesTold, isInside, keyTold, PackError } from '../../core/exchange/manifest-read.ts';
import {
  playedOf,
  readPack,
  sourceIn,
  phraseInFile,
  type InPhrase,
  type PackFiles,
  type PackIn,
} from '../../core/exchange/pack-in.ts';
import { clipToMidi } from '../../core/exchange/midi-out.ts';
import type { Along } from '../../core/exchange/merge.ts';
import { unfitted } from '../../core/exchange/unfit.ts';
import { writeMidiFile } from '../../core/midi/write.ts';
import { playedSum } from '../../core/exchange/played.ts';
import { comparedWith, type Returned } from '../../core/exchange/returned.ts';
import { readTakes } from '../../core/capture/take.ts';
import { houseRecipe, type House } from '../../core/normalize/house.ts';
import type { Recipe } from '../../core/normalize/recipe.ts';
import { setResolution } from '../../core/normalize/resolution.ts';
import type { Clip } from '../../core/phrase/clip.ts';
import { packControls, packIndices, unpackControls } from '../../core/phrase/pack.ts';
import { packSwatch } from '../../core/phrase/swatch.ts';
import { sha256Of } from '../checksum.ts';
import { LARGEST_FILE } from '../../core/capture/archive.ts';
import { LibraryError } from '../library/errors.ts';
import { phraseContent, type PhraseSource } from '../library/phrases/phrase-content.ts';
import type { CutRow } from './cut-phrases.ts';

/** What all that is looked at in a pack may come to, in bytes. */
const LARGEST_UNPACKED = 512 * 1024 * 1024;

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
        if (bytes > LARGEST_UNPACKED)
          throw new PackError(`it unpacks to more than ${LARGEST_UNPACKED / 1024 / 1024} MB`);
        return name.endsWith('.json') || originalSize <= LARGEST_FILE;
      },
    });
  } catch (error) {
    if (error instanceof PackError) throw error;
    throw new PackError('this is no ZIP, or it is damaged');
  }
  // Its own stands above that of another pack in it.
  const [manifest] = Object.keys(files)
    .filter((name) => /^([^/]+\/)?manifest\.json$/.test(name))
    .sort((a, b) => a.length - b.length);
  const root = manifest?.replace(/manifest\.json$/, '') ?? '';
  // What somebody has laid beside the pack's own folder is in it too.
  return new Map(
    Object.entries(files).map(([name, content]) => [
      name.startsWith(root) ? name.slice(root.length) : name,
      content,
    ]),
  );
}

/** How a pack went out, and for whose place. */
export type HowItLeft = Pick<HandOff, 'out' | 'card'>;

const leftAs = (phrase: PhraseOut, how: HowItLeft): Clip =>
  leavingClip(phrase, how, leavingPpq(phrase.recipe, how.out)).clip;

/**
 * What they did to a phrase that had been fitted for them, done to the phrase itself, as a file of its own; null where nothing was fitted, or
 * where it cannot be told any more.
 */
export function withoutFit(one: InPhrase, phrase: PhraseOut, how: HowItLeft): InPhrase | null {
  const left = leftAs(phrase, how);
  const same = setResolution(phrase.clip, { ppq: left.timeline.ppq }).clip;
  const played = playedSum(left, sha256Of);
  if (!one.clip || played !== one.told.played || playedSum(same, sha256Of) === played) return null;
  const clip = unfitted(phrase.clip, left, one.clip);
  const told = { ...one.told, pickupBars: clip.pickup > 0 ? 1 : 0 };
  const file = phraseInFile(told, writeMidiFile(clipToMidi(clip, one.told.name)), sha256Of);
  // It is theirs, by which it is known again.
  return { ...file, played: one.played };
}

/** What a phrase of ours would play if it left like the pack, and what they have done to it. */
export interface AgainstOurs {
  id: string;
  played: string;
  returned: Returned | null;
  /** Both in one frame, to be laid over each other. */
  swatches: { ours: Uint8Array; theirs: Uint8Array };
}

/** The phrases of a pack, by the ids that they have here, against ours. */
export function packAgainstOurs(
  phrases: readonly (readonly [id: string, phrase: InPhrase])[],
  ours: readonly PhraseOut[],
  how: HowItLeft | null,
): AgainstOurs[] {
  const theirs = new Map(phrases);
  return ours.flatMap((phrase): AgainstOurs[] => {
    const there = theirs.get(phrase.id);
    if (!there?.clip) return [];
    const clip = how ? leftAs(phrase, how) : phrase.clip;
    const returned = comparedWith(playedOf(clip, phrase.id), playedOf(there.clip, phrase.id));
    const swatches = laidOver(clip, there.clip);
    return [{ id: phrase.id, played: playedSum(clip, sha256Of), returned, swatches }];
  });
}

function laidOver(ours: Clip, given: Clip): AgainstOurs['swatches'] {
  const theirs = setResolution(given, { ppq: ours.timeline.ppq }).clip;
  const frame = {
    ...{ role: ours.role, length: Math.max(ours.length, theirs.length) },
    notes: [...ours.notes, ...theirs.notes],
  };
  return { ours: packSwatch(ours, frame), theirs: packSwatch(theirs, frame) };
}

/** Steps that change no music: what somebody else has normalized is kept as it came. */
const AS_IT_CAME: ReadonlySet<string> = new Set(['transpose', 'channel']);

/** Channel volume, pan and expression (MIDI 1.0, controllers 7, 10 and 11): how loud it stands and where. */
const PLACE: ReadonlySet<number> = new Set([7, 10, 11]);
const CONTROL_CHANGE = 0xb0;

function withoutPlace(controls: Uint8Array): Uint8Array {
  return packControls(
    unpackControls(controls).filter(({ kind, data1 }) => kind !== CONTROL_CHANGE || !PLACE.has(data1)),
  );
}

/** A phrase of a pack as a row of the library, as it came but for the key that the library keeps things in. */
export function phraseIn(
  bytes: Uint8Array,
  { told, origins, bars }: InPhrase,
  house: House,
  along: Along,
): CutRow {
  const take = readTakes(bytes)[0]!;
  const key = keyTold(told.key);
  const own = sourceIn(take, origins, told);
  const { steps } = houseRecipe(told.role, null, key?.mode ?? null, house);
  const recipe: Recipe = {
    version: 1,
    steps: [{ step: 'bars', ...bars }, ...steps.filter(({ step }) => AS_IT_CAME.has(step))],
  };
  const source: PhraseSource = {
    ...{ origins, streams: own.streams, role: told.role, pitchMap: [], locked: '' },
    program: along.sound ? own.program : 0,
    ...{ takeKey: key, labels: { part: told.name, number: 1 } },
  };
  const made = phraseContent(take, source, recipe, () => (along.changes ? changesTold(told) : []));
  if (made.phrase.noteCount === 0) throw new LibraryError(422, `"${told.name}" has no notes in its bars.`);
  return {
    phrase: { ...made.phrase, ...{ name: told.name, partName: told.name, role: told.role, takeKey: key, number: 1 } }, // prettier-ignore
    content: {
      ...made.content,
      ...(along.sound ? {} : { controls: withoutPlace(made.content.controls) }),
      ...{ streams: own.streams, pitchMap: [], locked: '' as const, origins: packIndices(origins) },
      ...{ partProgram: source.program, corrections: [], fitting: {} },
    },
    marks: made.marks,
  };
}
