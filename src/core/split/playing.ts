import type { Take } from '../capture/take.ts';
import { GM_DRUM_CHANNEL } from '../midi/gm.ts';
import { tempoAt } from '../music/timeline.ts';
import { upperMedian } from '../numbers.ts';
import { isClick } from './click.ts';
import { harmonyOf, misfit, MOST_BARS } from './harmony.ts';
import { KIT_ENOUGH, kitLikeness } from './kit.ts';
import type { RoleEvidence } from './roles.ts';
import { sliceCycle } from './slices.ts';

/** Range, polyphony, density, length and strum of some notes. */
export function describePlaying(
  take: Take,
  indices: readonly number[],
): Pick<RoleEvidence, 'low' | 'median' | 'high' | 'polyphony' | 'density' | 'medianLength' | 'strummed'> {
  const { notes, timing } = take;
  const ppq = timing.timeline.ppq;
  const pitches = Uint8Array.from(indices, (i) => notes.pitch[i]!).sort();
  const onsets = new Set(indices.map((i) => notes.tick[i]!));
  let sounding = 0;
  let covered = 0;
  let coveredUntil = -1;
  for (const i of indices) {
    const start = notes.tick[i]!;
    const end = start + notes.duration[i]!;
    sounding += notes.duration[i]!;
    covered += Math.max(0, end - Math.max(start, coveredUntil));
    coveredUntil = Math.max(coveredUntil, end);
  }
  const first = notes.tick[indices[0]!] ?? 0;
  const last = notes.tick[indices.at(-1)!] ?? 0;
  return {
    low: pitches[0] ?? 0,
    median: pitches[pitches.length >> 1] ?? 0,
    high: pitches.at(-1) ?? 0,
    polyphony: covered > 0 ? sounding / covered : 1,
    density: last > first ? (onsets.size * ppq) / (last - first) : 0,
    medianLength: upperMedian(indices.map((i) => notes.duration[i]!)) / ppq,
    strummed: strummedShare(take, indices),
  };
}

/** From one string to the next, at the most, in milliseconds. */
const STRING_MS = 25;

/** Fewer chords tell nothing. */
const FEWEST_CHORDS = 4;

/** Of the chords of three notes and more, those whose notes follow each other upward or downward, not at once. */
function strummedShare(take: Take, indices: readonly number[]): number {
  const { notes, timing } = take;
  const { ppq } = timing.timeline;
  const close = (STRING_MS * 1000 * ppq) / tempoAt(timing.timeline, 0).microseconds;
  let chords = 0;
  let strummed = 0;
  for (let from = 0, k = 1; k <= indices.length; k++) {
    const goesOn = k < indices.length && notes.tick[indices[k]!]! - notes.tick[indices[k - 1]!]! <= close;
    if (goesOn) continue;
    const chord = indices.slice(from, k);
    from = k;
    if (chord.length < 3) continue;
    chords++;
    if (isOneWay(chord.map((i) => notes.pitch[i]!)) && spreadOf(take, chord) >= ppq / 96) strummed++;
  }
  return chords < FEWEST_CHORDS ? 0 : strummed / chords;
}

function isOneWay(pitches: readonly number[]): boolean {
  const up = pitches.every((pitch, k) => k === 0 || pitch > pitches[k - 1]!);
  return up || pitches.every((pitch, k) => k === 0 || pitch < pitches[k - 1]!);
}

/** Ticks from the first note to the last, a note: notes at one tick stand in order of pitch and are no strum. */
function spreadOf(take: Take, chord: readonly number[]): number {
  return (take.notes.tick[chord.at(-1)!]! - take.notes.tick[chord[0]!]!) / (chord.length - 1);
}

/** What is heard of a part among the others: all the evidence for its role but channel, program and name. */
export type Heard = Omit<RoleEvidence, 'isDrumChannel' | 'program' | 'name'>;

/** Listens to each of several parts (lists of note indices) with the others around it. */
export function listenAmong(take: Take, parts: readonly (readonly number[])[]): (part: number) => Heard {
  const harmony = harmonyOf(take, parts);
  const strange = parts.map((indices, part) =>
    misfit(
      take,
      harmony,
      indices,
      [...parts.keys()].filter((other) => other !== part),
    ),
  );
  const kits = parts.map((indices, part) => kitLikeness(take, indices, strange[part]!));
  // A kit lies on no floor: its pitches are no pitches.
  const floors = lowestByBar(
    take,
    parts.map((indices, part) => (kits[part]! >= KIT_ENOUGH ? [] : indices)),
    harmony.bar,
  );
  return (part) => ({
    ...describePlaying(take, parts[part]!),
    kit: kits[part]!,
    misfit: strange[part]!,
    lowest: lowestShare(floors, part),
    click: isClick(take, parts[part]!),
    slices: sliceCycle(take, parts[part]!) !== null,
  });
}

/** By part, then bar: the lowest pitch that begins there; 128 where none does. */
function lowestByBar(take: Take, parts: readonly (readonly number[])[], bar: number): Uint8Array[] {
  const bars = Math.min(MOST_BARS, Math.floor(take.timing.ticks / bar) + 1);
  return parts.map((indices) => {
    const floor = new Uint8Array(bars).fill(NOTHING);
    for (const i of indices) {
      if (take.notes.channel[i] === GM_DRUM_CHANNEL) continue;
      const at = Math.floor(take.notes.tick[i]! / bar);
      if (at < bars) floor[at] = Math.min(floor[at]!, take.notes.pitch[i]!);
    }
    return floor;
  });
}

/** Above every pitch: nothing begins in this bar. */
const NOTHING = 128;

/** Of the bars in which a part plays with others, the share in which nothing begins lower; null where there are none. */
function lowestShare(floors: readonly Uint8Array[], part: number): number | null {
  let together = 0;
  let lowest = 0;
  floors[part]!.forEach((own, bar) => {
    if (own === NOTHING) return;
    let under = NOTHING;
    floors.forEach((floor, other) => {
      if (other !== part) under = Math.min(under, floor[bar]!);
    });
    if (under === NOTHING) return;
    together++;
    if (own <= under) lowest++;
  });
  return together < 2 ? null : lowest / together;
}
