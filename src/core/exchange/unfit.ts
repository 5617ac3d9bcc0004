import { group } from 'd3-array';
import { upperMedian } from '../numbers.ts';
import { compareClipNotes, firstMade, isPitched, type Clip, type ClipNote } from '../phrase/clip.ts';
import { paired, type PlayedNote } from './returned.ts';

/** A note of a clip, in quarter notes, and as it stands there. */
interface Placed extends PlayedNote {
  note: ClipNote;
}

/**
 * What they did to what had been fitted for them, done to the phrase itself: their notes without our recipient's level, delay, kit and length. Each
 * note of theirs is there once.
 * @param ours the phrase before it was fitted
 * @param left as it left, made of the same notes
 * @param theirs as it came back
 */
export function unfitted(ours: Clip, left: Clip, theirs: Clip): Clip {
  const own = ownOf(ours, left);
  const [was, now] = [placed(left), placed(theirs)];
  const pairs = paired(was, now, { semitones: 0, shift: 0 });
  const matched = new Set(pairs.map(([, there]) => there));
  const fit = fitOf(left, ours, own);
  const kept = pairs.flatMap(([before, after]): ClipNote[] => {
    const note = own.get(before.note);
    return note ? [withChange(note, before, after, { ours, fit })] : [];
  });
  const first = firstMade(ours.notes);
  const added = now
    .filter((one) => !matched.has(one))
    .map(({ note }, k) => ({ ...undone(note, fit, { from: theirs, to: ours }), origin: first - k }));
  const controls = sameControls(left, theirs) ? ours.controls : inTicksOf(ours, theirs);
  return { ...ours, controls, notes: [...kept, ...added].sort(compareClipNotes) };
}

/** The note of ours that each note as it left was; where one was heard twice, in order. */
function ownOf(ours: Clip, left: Clip): Map<ClipNote, ClipNote> {
  const byOrigin = group(ours.notes, ({ origin }) => origin);
  return new Map(
    [...left.notes].flatMap((note) => {
      const own = byOrigin.get(note.origin)?.shift();
      return own ? [[note, own] as const] : [];
    }),
  );
}

const placed = ({ notes, timeline: { ppq } }: Clip): Placed[] =>
  notes.map((note) => ({
    ...{ at: note.tick / ppq, length: note.duration / ppq, pitch: note.pitch, velocity: note.velocity },
    note,
  }));

/** A note of ours with what they changed about it. */
function withChange(
  note: ClipNote,
  before: Placed,
  after: Placed,
  { ours, fit }: { ours: Clip; fit: Fit },
): ClipNote {
  const ticks = (quarters: number) => Math.round(quarters * ours.timeline.ppq);
  return {
    ...note,
    tick: Math.max(0, note.tick + ticks(after.at - before.at)),
    duration: Math.max(1, note.duration + ticks(after.length - before.length)),
    velocity: clamped(note.velocity + (after.velocity - before.velocity) / fit.level),
  };
}

/** What the fitting did on the whole: in quarter notes, in velocity, and to each pitch. */
interface Fit {
  later: number;
  level: number;
  pitches: ReadonlyMap<number, number>;
  semitones: number;
}

function fitOf(left: Clip, ours: Clip, own: ReadonlyMap<ClipNote, ClipNote>): Fit {
  const both = [...own];
  const median = (of: (note: ClipNote, was: ClipNote) => number, none: number) =>
    both.length === 0 ? none : upperMedian(both.map(([note, was]) => of(note, was)));
  return {
    later: median((note, was) => note.tick / left.timeline.ppq - was.tick / ours.timeline.ppq, 0),
    level: median((note, was) => note.velocity / was.velocity, 1),
    pitches: new Map(both.map(([note, was]) => [note.pitch, was.pitch])),
    semitones: isPitched(ours) ? median((note, was) => note.pitch - was.pitch, 0) : 0,
  };
}

/** A note that they added, as it would stand before the fitting. */
function undone(note: ClipNote, fit: Fit, { from, to }: { from: Clip; to: Clip }): ClipNote {
  const scale = to.timeline.ppq / from.timeline.ppq;
  const tick = Math.round(note.tick * scale - fit.later * to.timeline.ppq);
  return {
    ...note,
    tick: Math.max(0, tick),
    duration: Math.max(1, Math.round(note.duration * scale)),
    pitch: fit.pitches.get(note.pitch) ?? Math.min(127, Math.max(0, note.pitch - fit.semitones)),
    velocity: clamped(note.velocity / fit.level),
  };
}

const clamped = (velocity: number) => Math.min(127, Math.max(1, Math.round(velocity)));

function inTicksOf({ timeline: { ppq } }: Clip, { controls, timeline }: Clip): Clip['controls'] {
  return controls.map((one) => ({ ...one, tick: Math.round((one.tick * ppq) / timeline.ppq) }));
}

function sameControls(a: Clip, b: Clip): boolean {
  const told = (clip: Clip) => JSON.stringify(inTicksOf(a, clip).map(({ tick, kind, data1, data2 }) => [tick, kind, data1, data2]).sort()); // prettier-ignore
  return told(a) === told(b);
}
