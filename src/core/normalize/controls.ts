import { CONTROLLER, STATUS } from '../midi/smf.ts';
import type { Clip, Control } from '../phrase/clip.ts';
import { controlKey } from './bars.ts';
import { count, unchanged, type Step } from './step.ts';

export interface ControlsParams {
  /** `keep` leaves controllers and bend; `settle` also lets them begin where they are usual, so that a loop's seam is clean; `drop` takes them away. */
  mode: 'keep' | 'settle' | 'drop';
}

/** Where controllers stand when nothing was said (General MIDI recommended practice RP-015), by number. */
const USUAL: Record<number, number> = {
  [CONTROLLER.modulation]: 0,
  [CONTROLLER.expression]: 127,
  [CONTROLLER.sustain]: 0,
};

/** Bend in the middle: 8192 in its two data bytes. */
const NO_BEND = { data1: 0, data2: 64 };

/** Settles controllers, pressure and bend: what a loop leaves changed at its end is said again at its beginning. */
export const settleControls: Step<ControlsParams> = (clip, { mode }) => {
  const { controls } = clip;
  const same = (summary: string, next: readonly Control[] = controls) =>
    unchanged({ ...clip, controls: [...next] }, summary);
  if (controls.length === 0) return same('there are none');
  if (mode === 'drop') return same(`${count(controls.length, 'message')} taken away`, []);
  if (mode === 'keep') return same('kept as played');
  const added = missingAtStart(clip);
  return same(
    added.length === 0
      ? 'all are said at the beginning'
      : `${count(added.length, 'message')} added at the beginning`,
    [...added, ...controls],
  );
};

/** The usual state of each controller, pressure and bend that is used and not said at tick 0. */
function missingAtStart({ controls }: Clip): Control[] {
  const seen = new Set<string>();
  const said = new Set(controls.filter(({ tick }) => tick === 0).map(controlKey));
  return controls.flatMap((control) => {
    const key = controlKey(control);
    if (seen.has(key) || said.has(key)) return [];
    seen.add(key);
    const usual = usualControl(control);
    return usual ? [{ ...usual, tick: 0 }] : [];
  });
}

/** A control as it usually stands, at its own tick; undefined where nothing is usual. */
export function usualControl({ tick, kind, data1 }: Control): Control | undefined {
  if (kind === STATUS.pitchBend) return { tick, kind, ...NO_BEND };
  if (kind === STATUS.controller) {
    const usual = USUAL[data1];
    return usual === undefined ? undefined : { tick, kind, data1, data2: usual };
  }
  return { tick, kind, data1: kind === STATUS.polyPressure ? data1 : 0, data2: 0 };
}
