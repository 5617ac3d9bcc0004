import {
  intervalBetween,
  keyName,
  relativeKey,
  sameKey,
  tonicName,
  type Key,
  type Mode,
} from '../music/key.ts';
import { transpose } from '../normalize/transpose.ts';
import type { Clip } from '../phrase/clip.ts';

/** What a project says of its music. */
export interface ProjectSetting {
  keyTonic: number | null;
  keyMode: Mode | null;
  bpm: number;
}

/**
 * The key in which a phrase is heard or leaves: as it was captured, as it is kept, or in the project. What leaves never
 * leaves as it is kept unless somebody says so: the key of storage is nobody's key.
 */
export const KEY_CHOICES = ['captured', 'kept', 'project'] as const;
export type KeyChoice = (typeof KEY_CHOICES)[number];

export function isKeyChoice(key: string): key is KeyChoice {
  return KEY_CHOICES.some((choice) => choice === key);
}

/** A clip moved to another tonic by the shorter way. Where either key is unknown it stays. */
export function inKey(clip: Clip, key: Key | null): Clip {
  return key && clip.key ? transpose(clip, { to: tonicName(key) }).clip : clip;
}

/** A kept clip in the key of its take: the way it was moved into its key of storage, back. */
export function asCaptured(clip: Clip, takeKey: Key | null): Clip {
  if (!clip.key || !takeKey) return clip;
  return movedBy(clip, -intervalBetween(takeKey.tonic, clip.key.tonic));
}

/**
 * Where music of one key goes in a project of another. The same notes before the same tonic: where modes differ it goes
 * to the tonic whose scale has the project's signature (E minor stays where it is in G major); where they agree, tonic
 * goes on tonic.
 */
export function keyInProject(key: Key, project: Key): Key {
  return key.mode === project.mode ? project : relativeKey(project, key.mode);
}

/** Semitones, -5..6, that music of a key moves in a project of another. */
export function semitonesInto(key: Key, project: Key): number {
  return intervalBetween(key.tonic, keyInProject(key, project).tonic);
}

/** Such as "E minor, the relative of G major: not moved"; undefined where the key is simply the project's. */
export function movedInWords(key: Key, project: Key): string | undefined {
  const there = keyInProject(key, project);
  const isMoved = !sameKey(key, there);
  if (there.mode === project.mode) return isMoved ? `${keyName(key)} moved to ${keyName(there)}` : undefined;
  const relative = `${keyName(there)}, the relative of ${keyName(project)}`;
  return isMoved ? `${keyName(key)} moved to ${relative}` : `${relative}: not moved`;
}

/** A project's key; null where it has none. */
export function keyOfProject({
  keyTonic,
  keyMode,
}: Pick<ProjectSetting, 'keyTonic' | 'keyMode'>): Key | null {
  return keyTonic === null || !keyMode ? null : { tonic: keyTonic, mode: keyMode };
}

/** A clip at one tempo throughout. */
export function atTempo(clip: Clip, bpm: number): Clip {
  return {
    ...clip,
    timeline: { ...clip.timeline, tempos: [{ tick: 0, microseconds: 60_000_000 / bpm }] },
  };
}

/** A clip as it sounds in a project: in its key (`keyInProject`), at its tempo. Drums keep their pitch. */
export function inProject(clip: Clip, project: ProjectSetting): Clip {
  const retimed = atTempo(clip, project.bpm);
  const key = keyOfProject(project);
  return key && clip.key ? movedBy(retimed, semitonesInto(clip.key, key)) : retimed;
}

/** A kept clip as it leaves, or is heard. Without a project nothing is moved to one: it leaves as captured. */
export function asChosen(
  clip: Clip,
  takeKey: Key | null,
  choice: KeyChoice,
  project: ProjectSetting | null | undefined,
): Clip {
  if (choice === 'kept') return clip;
  const captured = asCaptured(clip, takeKey);
  return choice === 'project' && project ? inProject(captured, project) : captured;
}

/** Key and tempo of a kept clip as it leaves, by what is known of it alone: what `asChosen` makes of its notes. */
export function leavesIn(
  kept: { key: Key | null; takeKey: Key | null; bpm: number },
  choice: KeyChoice,
  project: ProjectSetting | null | undefined,
): { key: Key | null; bpm: number } {
  const { key, takeKey, bpm } = kept;
  if (choice === 'kept' || !key) return { key, bpm: choice === 'project' && project ? project.bpm : bpm };
  const captured = takeKey ? { tonic: takeKey.tonic, mode: key.mode } : key;
  if (choice === 'captured' || !project) return { key: captured, bpm };
  const there = keyOfProject(project);
  return { key: there ? keyInProject(captured, there) : captured, bpm: project.bpm };
}

function movedBy(clip: Clip, semitones: number): Clip {
  return semitones === 0 ? clip : transpose(clip, { semitones }).clip;
}
