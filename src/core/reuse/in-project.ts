import { tonicName, type Key, type Mode } from '../music/key.ts';
import { transpose } from '../normalize/transpose.ts';
import type { Clip } from '../phrase/clip.ts';

/** What a project says of its music. */
export interface ProjectSetting {
  keyTonic: number | null;
  keyMode: Mode | null;
  bpm: number;
}

/** A clip moved to another tonic by the shorter way. Where either key is unknown it stays. */
export function inKey(clip: Clip, key: Key | null): Clip {
  return key && clip.key ? transpose(clip, { to: tonicName(key) }).clip : clip;
}

/** A clip as it sounds in a project: its tonic on the project's, its tempo the project's. Drums keep their pitch. */
export function inProject(clip: Clip, project: ProjectSetting): Clip {
  const retimed = {
    ...clip,
    timeline: { ...clip.timeline, tempos: [{ tick: 0, microseconds: 60_000_000 / project.bpm }] },
  };
  if (project.keyTonic === null || !project.keyMode) return retimed;
  return inKey(retimed, { tonic: project.keyTonic, mode: project.keyMode });
}
