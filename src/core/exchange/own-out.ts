import { number, object, string, type ObjectSchema } from 'yup';
import type { Key } from '../music/key.ts';
import { parsePitchClass } from '../music/pitch.ts';
import type { Clip } from '../phrase/clip.ts';
import {
  asChosen,
  atTempo,
  inKey,
  isKeyChoice,
  KEY_CHOICES,
  leavesIn,
  type KeyChoice,
  type ProjectSetting,
} from '../reuse/in-project.ts';
import { FITTINGS_OUT, type FittingOut } from './out-options.ts';

/** How one phrase of a basket leaves where that is otherwise than the rest of it; what is not said goes as the basket does. */
export interface OwnOut {
  /** One of the choices, or the tonic that it is moved to ("Eb"), its mode as it is. */
  key?: string | undefined;
  /** One tempo throughout. */
  bpm?: number | undefined;
  fitting?: FittingOut | undefined;
}

/** Slowest and fastest that a phrase is sent at. */
export const SLOWEST = 20;
export const FASTEST = 400;

/** What a page may say of it. */
export const ownOutSchema = object({
  key: string().test(
    'key',
    `A phrase leaves ${KEY_CHOICES.join(', ')}, or on a tonic such as Eb`,
    (key) => key === undefined || isKeyChoice(key) || parsePitchClass(key) !== undefined,
  ),
  bpm: number()
    .min(SLOWEST, `A tempo is ${SLOWEST} BPM or more`)
    .max(FASTEST, `A tempo is ${FASTEST} BPM or less`),
  fitting: string().oneOf(FITTINGS_OUT),
}).noUnknown() as unknown as ObjectSchema<OwnOut>;

/** What a phrase is on its way out of: as it is kept, as the rest leaves, and the project that it leaves for. */
interface Way {
  takeKey: Key | null;
  key: KeyChoice;
  project: ProjectSetting | null | undefined;
}

/** The choice by which a phrase leaves, and the tonic that it is then moved to; null where it is not. */
function wayOf(own: OwnOut | null, rest: KeyChoice): { choice: KeyChoice; tonic: number | null } {
  const wanted = own?.key ?? rest;
  if (isKeyChoice(wanted)) return { choice: wanted, tonic: null };
  return { choice: 'captured', tonic: parsePitchClass(wanted) ?? null };
}

const onTonic = (key: Key | null, tonic: number | null): Key | null =>
  key && tonic !== null ? { tonic, mode: key.mode } : key;

/** A kept clip as it leaves. */
export function leavingOwn(clip: Clip, own: OwnOut | null, { takeKey, key, project }: Way): Clip {
  const { choice, tonic } = wayOf(own, key);
  const chosen = asChosen(clip, takeKey, choice, project);
  const moved = tonic === null ? chosen : inKey(chosen, onTonic(chosen.key, tonic));
  return own?.bpm ? atTempo(moved, own.bpm) : moved;
}

/** Its key and tempo then, by what is known of it alone. */
export function leavesAs(
  kept: { key: Key | null; bpm: number },
  own: OwnOut | null,
  { takeKey, key, project }: Way,
): { key: Key | null; bpm: number } {
  const { choice, tonic } = wayOf(own, key);
  const rest = leavesIn({ ...kept, takeKey }, choice, project);
  return { key: onTonic(rest.key, tonic), bpm: own?.bpm ?? rest.bpm };
}

/** What is said of its own and nothing else; undefined where nothing is: so that two of a kind are alike. */
export function saidOwn(own: OwnOut | undefined): OwnOut | undefined {
  const said = Object.entries(own ?? {}).filter(([, value]) => value !== undefined);
  return said.length > 0 ? Object.fromEntries(said) : undefined;
}
