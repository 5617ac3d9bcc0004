import { GM_CRASH, GM_KICK, pitchOfPiece } from '../midi/gm.ts';
import { barTicks, bpmOf, meterAt, tempoAt } from '../music/timeline.ts';
import {
  barsOf,
  compareClipNotes,
  firstMade,
  isPitched,
  playedNotes,
  type Clip,
  type ClipNote,
} from '../phrase/clip.ts';
import { unitsOf } from '../phrase/units.ts';
import type { Role } from '../split/roles.ts';
import { count, unchanged, type Step } from './step.ts';

/** How a piece ends. */
export const ENDINGS = ['ring', 'stop', 'slower'] as const;
export type EndingWay = (typeof ENDINGS)[number];

export interface EndingParams {
  /** Let ring, stop short, or let ring after a last bar that grows slower. */
  as: EndingWay;
  /** Bars the last chord is held, added at the end. */
  bars?: number;
}

/** At the end of the last bar it has come down to so much of its tempo. */
const SLOWEST = 0.85;

/** A stop, in quarter notes. */
const SHORT = 0.5;

/** Roles that end with their last stroke, short; and such as end before the others do. */
const STRUCK: ReadonlySet<Role> = new Set<Role>(['guitar', 'arpeggio', 'lead', 'reeds', 'voice']);
const SILENT: ReadonlySet<Role> = new Set<Role>(['percussion', 'click', 'slices']);

/**
 * An ending by role (common practice): drums strike kick and crash, then nothing; a guitar strikes once; bass, keys and pad
 * hold their last chord; shakers are out.
 */
export const endPhrase: Step<EndingParams> = (clip, { as, bars = 1 }) => {
  if (clip.notes.length === 0) return unchanged(clip, 'there is nothing that could end');
  const bar = barTicks(clip.timeline.ppq, meterAt(clip.timeline, Math.max(0, clip.length - 1)));
  const lastBar = Math.min(bar, clip.length);
  const long = as === 'stop' ? Math.round(SHORT * clip.timeline.ppq) : bars * bar;
  const added = SILENT.has(clip.role) ? [] : lastStroke(clip, long);
  let origin = firstMade(clip.notes);
  const notes = [...clip.notes, ...added.map((note) => ({ ...note, origin: origin-- }))].sort(
    compareClipNotes,
  );
  const slower = as === 'slower' ? { ...clip.timeline, tempos: slowing(clip, lastBar) } : clip.timeline;
  return {
    clip: { ...clip, timeline: slower, length: clip.length + bars * bar, notes },
    changed: added.length,
    summary: [
      `${count(bars, 'bar')} more, ${barsOf(clip) + bars} in all`,
      added.length > 0
        ? `${count(added.length, 'note')} ${as === 'stop' ? 'struck short' : 'held'}`
        : 'silent',
      as === 'slower' ? `slower to ${Math.round(100 * SLOWEST)} % over the bar before` : '',
    ]
      .filter(Boolean)
      .join('; '),
    setAside: [],
  };
};

/** What sounds on the first beat after the phrase. */
function lastStroke(clip: Clip, long: number): Omit<ClipNote, 'origin'>[] {
  const played = playedNotes(clip);
  if (played.length === 0) return [];
  const tick = clip.length;
  if (!isPitched(clip)) {
    const velocity = Math.max(...played.map((note) => note.velocity));
    const pieces = [pitchOfPiece(played, 'kick') ?? GM_KICK, pitchOfPiece(played, 'crash') ?? GM_CRASH];
    return pieces.map((pitch) => ({
      tick,
      duration: Math.round(long / 2),
      pitch,
      velocity,
      release: 64,
    }));
  }
  const duration = STRUCK.has(clip.role) ? Math.min(long, clip.timeline.ppq * 2) : long;
  // Home is where the phrase began: its first full stroke, else its first.
  const units = unitsOf({ ...clip, notes: played });
  const most = Math.max(...units.map((unit) => unit.length));
  const home = units.find((unit) => unit.length === most)!;
  // A rolled chord is struck one after the other and ends together.
  return home.map(({ tick: at, pitch, velocity, release }) => ({
    tick: tick + at - home[0]!.tick,
    duration: Math.max(1, duration - (at - home[0]!.tick)),
    pitch,
    velocity,
    release,
  }));
}

/** The tempos, with the last bar slowing down a beat at a time, and the old tempo held back for the last chord. */
function slowing(clip: Clip, bar: number): Clip['timeline']['tempos'] {
  const { tempos } = clip.timeline;
  const from = clip.length - bar;
  const { numerator } = meterAt(clip.timeline, from);
  const bpm = bpmOf(tempoAt(clip.timeline, from).microseconds);
  const steps = Array.from({ length: numerator }, (_, k) => ({
    tick: Math.round(from + (k * bar) / numerator),
    microseconds: 60_000_000 / (bpm * (1 - ((1 - SLOWEST) * (k + 1)) / numerator)),
  }));
  return [...tempos.filter(({ tick }) => tick < from), ...steps];
}
