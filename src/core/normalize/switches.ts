import { plural } from '../words.ts';
import { pitchName } from '../music/pitch.ts';
import { unchanged, type Step } from './step.ts';

export interface SwitchesParams {
  /** Pitches (0..127), as captured, that choose how the others are played and are not music themselves. */
  pitches?: number[];
  /** `lock` lets them stay as they are whatever is done to pitches; `drop` leaves them out. */
  mode: 'lock' | 'drop';
}

/** Tells key switches from what is played, beyond those the take's split knows already. */
export const settleSwitches: Step<SwitchesParams> = (clip, { pitches = [], mode }) => {
  const named = new Set(pitches);
  const known = new Set(clip.locked);
  const isSwitch = ({ pitch, origin }: { pitch: number; origin: number }) =>
    named.has(pitch) || known.has(origin);
  const switches = clip.notes.filter(isSwitch);
  if (switches.length === 0) return unchanged(clip, 'no key switches');
  const origins = [...new Set(switches.map(({ origin }) => origin))];
  const names = [...new Set(switches.map(({ pitch }) => pitchName(pitch)))].join(', ');
  const which = `${plural(origins.length, 'key switch', 'key switches')} (${names})`;
  if (mode === 'lock') {
    const locked = [...new Set([...clip.locked, ...origins])];
    return { clip: { ...clip, locked }, changed: 0, summary: `${which} kept as captured`, setAside: [] };
  }
  return {
    clip: { ...clip, notes: clip.notes.filter((note) => !isSwitch(note)) },
    changed: switches.length,
    summary: `${which} left out`,
    setAside: [{ reason: 'key switches', origins }],
  };
};
