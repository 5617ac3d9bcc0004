import { meterAt } from '../music/timeline.ts';
import { compareClipNotes, firstMade, type Clip, type ClipNote } from '../phrase/clip.ts';
import { layOver, readOrWhy, type Track, type WrittenChanges } from '../through/sounding.ts';
import { comingOrder } from '../vary/busier.ts';
import { leavingOrder } from '../vary/calmer.ts';
import { strokesIn } from '../vary/strokes.ts';
import { unchanged, type Step } from './step.ts';

export interface DensityParams {
  /** -3 the calmest, 0 as it is, 3 the busiest. */
  level: number;
  /** What is chosen among equals; the same seed chooses the same, always. */
  seed?: number;
  /** The chords it sounds over, where they are known: the first stroke under a chord matters. */
  over?: WrittenChanges;
}

/** How many strokes there are at each level, for one as it is. */
export const DENSITY_FACTORS = [0.3, 0.5, 0.75, 1, 1.3, 1.6, 2] as const;

/** A phrase busier or calmer: no note that stays moves, and the strokes of each level contain those of the calmer ones. */
export const setDensity: Step<DensityParams> = (clip, { level, seed = 1, over }) => {
  const count = strokesIn(clip).length;
  const wanted = Math.round(count * DENSITY_FACTORS[level + 3]!);
  if (level === 0 || count === 0) return unchanged(clip, `${count} strokes as they are`);
  const changes = over === undefined ? null : trackOver(clip, over);
  if (level < 0) return calmer(clip, count, wanted, changes);
  const added = comingOrder(clip, changes, seed).slice(0, wanted - count);
  let next = firstMade(clip.notes);
  const notes = added.flat().map((note): ClipNote => ({ ...note, origin: next-- }));
  return {
    clip: { ...clip, notes: [...clip.notes, ...notes].sort(compareClipNotes) },
    changed: notes.length,
    summary:
      `${count} to ${count + added.length} strokes` +
      (count + added.length < wanted ? ', there is no room for more' : ''),
    setAside: [],
  };
};

function calmer(clip: Clip, count: number, wanted: number, changes: Track | null) {
  const leaving = leavingOrder(clip, changes?.from ?? []).slice(0, count - wanted);
  const gone = new Set(leaving.flatMap(({ notes }) => notes));
  const kept = clip.notes.filter((note) => !gone.has(note));
  const still = new Set(kept.map(({ origin }) => origin));
  return {
    clip: { ...clip, notes: kept },
    changed: gone.size,
    summary: `${count} to ${count - leaving.length} strokes`,
    setAside: [
      {
        reason: 'for a calmer phrase',
        origins: [...new Set([...gone].map(({ origin }) => origin))].filter((origin) => !still.has(origin)),
      },
    ],
  };
}

function trackOver(clip: Clip, over: WrittenChanges): Track | null {
  const changes = readOrWhy(over, meterAt(clip.timeline, clip.pickup).numerator);
  return typeof changes === 'string' ? null : layOver(clip, changes);
}
