import { CONTROLLER, STATUS } from '../midi/smf.ts';
import { ticksOfMs } from '../music/timeline.ts';
import { isPitched, withPitches, withPlace, withVelocity, type Clip, type ClipNote } from '../phrase/clip.ts';
import { setDensity } from './density.ts';
import { octavesUp } from './octave.ts';
import { changedNotes, type Step } from './step.ts';

export interface LayerParams {
  /** Octaves above the phrase, or below it. */
  octave?: number;
  /** Factor on velocities. */
  level?: number;
  /** How late it sounds, in milliseconds. */
  lateMs?: number;
  /** 1..128, as General MIDI prints them. */
  program?: number;
  /** 0 left, 64 middle, 127 right. */
  pan?: number;
  /** As the step of that name. */
  density?: number;
}

/** A layer of a phrase: the same notes in another sound, octave and level, a little late. It is the layer alone, not both. */
export const layer: Step<LayerParams> = (clip, params) => {
  const { octave = 0, level = 1, lateMs = 0, program, pan, density = 0 } = params;
  const thinned = setDensity(clip, { level: density });
  const late = Math.round(ticksOfMs(clip.timeline, lateMs));
  const placed = (note: ClipNote): ClipNote =>
    withVelocity(
      withPlace(note, Math.min(Math.max(0, clip.length - 1), note.tick + late)),
      Math.min(127, Math.max(1, Math.round(note.velocity * level))),
    );
  const higher = isPitched(clip)
    ? withPitches(thinned.clip, (pitch) => octavesUp(pitch, octave))
    : thinned.clip.notes;
  const notes = higher.map(placed);
  const sounding: Clip = {
    ...thinned.clip,
    notes,
    program: program === undefined ? clip.program : program - 1,
    controls: pan === undefined ? clip.controls : panned(clip.controls, pan),
  };
  const result = changedNotes(
    thinned.clip,
    sounding,
    (changed, of) => `a layer, ${changed} of ${of} notes changed`,
  );
  return { ...result, changed: result.changed + thinned.changed, setAside: thinned.setAside };
};

/** Controls with one place between left and right from the beginning on, 0..127. */
export function panned(controls: Clip['controls'], pan: number): Clip['controls'] {
  const others = controls.filter(({ kind, data1 }) => kind !== STATUS.controller || data1 !== CONTROLLER.pan);
  return [{ tick: 0, kind: STATUS.controller, data1: CONTROLLER.pan, data2: pan }, ...others];
}
