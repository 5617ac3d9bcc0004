import { number, object, string, type ObjectSchema } from 'yup';
import type { Key } from '../music/key.ts';
import { parsePitchClass } from '../music/pitch.ts';
import type { Clip } from '../phrase/clip.ts';
import {
  asCaptured,
  asChosen,
  atTempo,
  inKey,
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
    (key) => key === undefined || isChoice(key) || parsePitchClass(key) !== undefined,
  ),
  bpm: number()
    .min(SLOWEST, `A tempo is ${SLOWEST} BPM or more`)
    .max(FASTEST, `A tempo is ${FASTEST} BPM or less`),
  fitting: string().oneOf(FITTINGS_OUT),
}).noUnknown() as unknown as ObjectSchema<OwnOut>;

function isChoice(key: string): key is KeyChoice {
  return KEY_CHOICES.some((choice) => choice === key);
}

/** What a phrase is on its way out of: as it is kept, as the rest leaves, and the project that it leaves for. */
interface Way {
  takeKey: Key | null;
  key: KeyChoice;
  project: ProjectSetting | null | undefined;
}

/** A kept clip as it leaves. */
export function leavingOwn(clip: Clip, own: OwnOut | null, { takeKey, key, project }: Way): Clip {
  const wanted = own?.key ?? key;
  const tonic = isChoice(wanted) ? undefined : parsePitchClass(wanted);
  const captured = asCaptured(clip, takeKey);
  const moved =
    tonic === undefined
      ? asChosen(clip, takeKey, isChoice(wanted) ? wanted : key, project)
      : inKey(captured, captured.key && { tonic, mode: captured.key.mode });
  return own?.bpm ? atTempo(moved, own.bpm) : moved;
}

/** Its key and tempo then, by what is known of it alone. */
export function leavesAs(
  kept: { key: Key | null; bpm: number },
  own: OwnOut | null,
  { takeKey, key, project }: Way,
): { key: Key | null; bpm: number } {
  const wanted = own?.key ?? key;
  const tonic = isChoice(wanted) ? undefined : parsePitchClass(wanted);
  const rest = leavesIn({ ...kept, takeKey }, isChoice(wanted) ? wanted : 'captured', project);
  return {
    key: tonic === undefined || !rest.key ? rest.key : { tonic, mode: rest.key.mode },
    bpm: own?.bpm ?? rest.bpm,
  };
}

/** Whether nothing of its own is said. */
export function isPlainOwn({ key, bpm, fitting }: OwnOut): boolean {
  return key === undefined && bpm === undefined && fitting === undefined;
}
