import type { ChangesChord } from '../analyze/changes.ts';
import { barStart, barTicks, beatTicks, meterAt } from '../music/timeline.ts';
import { cutBars } from '../normalize/bars.ts';
import type { Clip } from '../phrase/clip.ts';
import type { PhraseOut } from './handoff.ts';

/** What of something leaves. */
export interface OutScope {
  /** Its bars from 1, both of them with; null is all of them. */
  bars: { from: number; to: number } | null;
  /** Ids of the parts or phrases; null is all of them. */
  parts: readonly string[] | null;
}

/** All of it. */
export const WHOLE: OutScope = { bars: null, parts: null };

/** The chosen bars of the chosen parts, in their order. */
export function scoped(phrases: readonly PhraseOut[], { bars, parts }: OutScope): PhraseOut[] {
  const chosen = parts ? phrases.filter(({ id }) => parts.includes(id)) : [...phrases];
  return bars ? chosen.flatMap((phrase) => cutTo(phrase, bars)) : chosen;
}

/** Some bars of a phrase, from its own bar one; nothing where it has none of them, or rests in them. */
function cutTo(phrase: PhraseOut, { from, to }: { from: number; to: number }): PhraseOut[] {
  const last = Math.min(to, phrase.bars);
  if (from > last) return [];
  if (from === 1 && last === phrase.bars) return [phrase];
  const { clip, changes, marks, keys } = phrase;
  const { timeline, pickup } = clip;
  const meter = meterAt(timeline, pickup);
  const beatsPerBar = barTicks(timeline.ppq, meter) / beatTicks(timeline.ppq, meter);
  const bars = last - from + 1;
  const cut = barsOfClip(clip, from, bars);
  // A part that rests there has no file.
  if (cut.notes.length === 0) return [];
  // Where the cut clip's bar one stands in the whole one.
  const start = barStart(timeline, from + leadBars(clip)) - cut.pickup;
  return [
    {
      ...phrase,
      clip: cut,
      bars,
      changes: changes && changesBetween(changes, (from - 1) * beatsPerBar, last * beatsPerBar),
      ...(marks ? { marks: between(marks, start, start + cut.length) } : {}),
      ...(keys ? { keys: between(keys, start, start + cut.length) } : {}),
      source: { ...phrase.source, startBar: phrase.source.startBar + from - 1 },
    },
  ];
}

/** A pickup stands in a bar of its own before bar one. */
const leadBars = ({ pickup }: Pick<Clip, 'pickup'>) => (pickup > 0 ? 1 : 0);

/** Bar one keeps its pickup. */
function barsOfClip(clip: Clip, from: number, count: number): Clip {
  const lead = leadBars(clip);
  if (from > 1) return cutBars(clip, { start: from + lead, count }).clip;
  return { ...cutBars(clip, { start: 1, count: count + lead }).clip, pickup: clip.pickup };
}

/** Chords between two beats, the one that sounds at the first from there on. */
function changesBetween(changes: readonly ChangesChord[], from: number, to: number): ChangesChord[] {
  return changes.flatMap((chord) => {
    const [begin, end] = [Math.max(from, chord.beat), Math.min(to, chord.beat + chord.beats)];
    return end > begin ? [{ ...chord, beat: begin - from, beats: end - begin }] : [];
  });
}

/** What begins between two ticks, and what goes on at the first from there on. */
function between<Item extends { tick: number }>(items: readonly Item[], from: number, to: number): Item[] {
  const going = items.findLast(({ tick }) => tick <= from);
  const inside = items.filter(({ tick }) => tick > from && tick < to);
  return [
    ...(going ? [{ ...going, tick: 0 }] : []),
    ...inside.map((item) => ({ ...item, tick: item.tick - from })),
  ];
}
