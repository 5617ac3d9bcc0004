import { CONTROLLER, STATUS } from '../midi/smf.ts';
import type { Clip, Control } from '../phrase/clip.ts';
import { changedNotes, count, unchanged, type Step } from './step.ts';

export interface PedalParams {
  /** `keep` leaves it, up at the end; `length` makes notes as long as it held them; `drop` takes it away. */
  mode: 'keep' | 'length' | 'drop';
}

/** From this value on the pedal is down (MIDI 1.0 Detailed Specification). */
const DOWN = 64;

const isPedal = ({ kind, data1 }: Control) => kind === STATUS.controller && data1 === CONTROLLER.sustain;

/** Settles the sustain pedal: so that the seam of a loop is clean, or the notes need none. */
export const settlePedal: Step<PedalParams> = (clip, { mode }) => {
  const pedal = clip.controls.filter(isPedal);
  if (pedal.length === 0) return unchanged(clip, 'no pedal was used');
  const others = clip.controls.filter((control) => !isPedal(control));
  if (mode === 'drop') return unchanged({ ...clip, controls: others }, 'taken away');
  if (mode === 'keep') return keepPedal(clip, pedal);
  const held = holdings(pedal, clip.length);
  const notes = clip.notes.map((note) => {
    const end = note.tick + note.duration;
    const holding = held.find(([from, to]) => end >= from && end < to);
    if (!holding) return note;
    const again = clip.notes.find(
      ({ pitch, tick }) => pitch === note.pitch && tick > note.tick && tick >= end,
    );
    return {
      ...note,
      duration: Math.max(note.duration, Math.min(holding[1], again?.tick ?? Infinity) - note.tick),
    };
  });
  return changedNotes(
    clip,
    { ...clip, notes, controls: others },
    (changed) => `${count(changed, 'note')} as long as the pedal held ${changed === 1 ? 'it' : 'them'}`,
  );
};

/** The pedal comes up at the end where it was left down. */
function keepPedal(clip: Clip, pedal: readonly Control[]) {
  const isDown = (pedal.at(-1)?.data2 ?? 0) >= DOWN;
  const up: Control = {
    tick: Math.max(0, clip.length - 1),
    kind: STATUS.controller,
    data1: CONTROLLER.sustain,
    data2: 0,
  };
  const controls = isDown ? [...clip.controls, up].sort((a, b) => a.tick - b.tick) : clip.controls;
  return unchanged({ ...clip, controls }, isDown ? 'kept, up at the end' : 'kept as played');
}

/** Stretches in which the pedal is down. */
function holdings(pedal: readonly Control[], end: number): [from: number, to: number][] {
  const held: [number, number][] = [];
  let since: number | null = null;
  for (const { tick, data2 } of pedal) {
    if (data2 >= DOWN) since ??= tick;
    else if (since !== null) {
      held.push([since, tick]);
      since = null;
    }
  }
  if (since !== null) held.push([since, Math.max(since, end)]);
  return held;
}
