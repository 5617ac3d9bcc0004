import { group } from 'd3-array';
import { deviation, upperMedian } from '../numbers.ts';
import { plural } from '../words.ts';

/** A note of something that left or came in: onset and length in quarter notes. */
export interface PlayedNote {
  at: number;
  length: number;
  pitch: number;
  velocity: number;
}

/** Something that left, or a part of what came in. */
export interface Played {
  /** In order of onset. */
  notes: readonly PlayedNote[];
  bpm: number;
  isDrums: boolean;
  /** The phrase that a file says it is of; trusted only where the notes agree. */
  id?: string | null;
}

/** What came of something that left, as far as a part that came in is it. */
export interface Returned {
  /** Share of the notes that both have, 0..1. */
  shared: number;
  semitones: number;
  /** How much faster it sounds. */
  tempoRatio: number;
  /** Quarter notes that it begins later, whole ones. */
  offset: number;
  /** How much later than that all of it is, in milliseconds at its own tempo. */
  lateMs: number;
  /** Notes at another moment than all others are, added, gone. */
  moved: number;
  added: number;
  gone: number;
  /** Factor on the velocities. */
  velocityFactor: number;
  /** It holds only some of its bars, or more than them. */
  extent: 'whole' | 'cut' | 'longer';
}

/** From this share on it is said to have come back; from the lower one on it is asked. */
export const CAME_BACK = 0.6;
export const PERHAPS = 0.3;

export type ReturnVerdict = 'same' | 'came back' | 'perhaps' | 'new';

/** Notes are one where they lie nearer than this, in quarter notes: what quantizing to sixteenths moves, and a little. */
const NEAR = 0.16;

/** Onsets are laid over each other on a grid of so many places a quarter note. */
const PLACES = 8;

/** As it was, in half and in double time. */
const SCALES = [1, 2, 0.5] as const;

/** Transpositions that are looked for. */
const MOST_SEMITONES = 24;

/**
 * Whether a part that comes in is something that left, through other resolutions, channels, keys, tempos, offsets, edits and quantizing; null
 * where they have next to nothing in common. Onsets and pitches are laid over each other where most of them agree; velocities say
 * whether what agrees was copied, or is only played alike.
 * @param isMixture what comes in holds other parts too, such as a file whose parts were all put on one channel
 */
export function comparedWith(
  sent: Played,
  back: Played,
  { isMixture = false }: { isMixture?: boolean } = {},
): Returned | null {
  if (sent.notes.length === 0 || back.notes.length === 0) return null;
  let best: (Returned & { weight: number }) | null = null;
  for (const scale of SCALES) {
    const scaled = back.notes.map((note) => ({ ...note, at: note.at * scale, length: note.length * scale }));
    const found = laidOver(sent, { ...back, notes: scaled }, { scale, isMixture });
    if (found && (!best || found.weight > best.weight + 1e-9)) best = found;
  }
  if (!best) return null;
  const { weight: _, ...returned } = best;
  return returned;
}

/** What a comparison comes to. */
export function verdictOf(returned: Returned | null): ReturnVerdict {
  if (!returned || returned.shared < PERHAPS) return 'new';
  if (returned.shared < CAME_BACK) return 'perhaps';
  const { semitones, offset, lateMs, moved, added, gone, extent, tempoRatio, velocityFactor } = returned;
  const isSame =
    extent === 'whole' &&
    [semitones, offset, lateMs, moved, added, gone].every((value) => value === 0) &&
    tempoRatio === 1 &&
    velocityFactor === 1;
  return isSame ? 'same' : 'came back';
}

function laidOver(
  sent: Played,
  back: Played,
  { scale, isMixture }: { scale: number; isMixture: boolean },
): (Returned & { weight: number }) | null {
  const place = bestPlace(sent, back);
  if (!place) return null;
  const { semitones } = place;
  const pairs = paired(sent.notes, back.notes, place);
  if (pairs.length < Math.min(4, sent.notes.length)) return null;
  const shift = upperMedian(pairs.map(([a, b]) => b.at - a.at));
  const matched = paired(sent.notes, back.notes, { semitones, shift });
  // The stretch in which both are there.
  const [from, to] = [
    Math.max(sent.notes[0]!.at, back.notes[0]!.at - shift) - NEAR,
    Math.min(sent.notes.at(-1)!.at, back.notes.at(-1)!.at - shift) + NEAR,
  ];
  const inBoth = sent.notes.filter(({ at }) => at >= from && at <= to).length;
  // What else is in a mixture is no part of it.
  const others = isMixture ? matched.map(([, note]) => note) : back.notes;
  const theirs = others.filter(({ at }) => at - shift >= from && at - shift <= to).length;
  const shared = matched.length / Math.max(inBoth, theirs);
  const offset = Math.round(shift);
  const late = shift - offset;
  const extent =
    inBoth < 0.85 * sent.notes.length ? 'cut' : theirs < 0.85 * others.length ? 'longer' : 'whole';
  const lateMs = Math.round(((late / scale) * 60_000) / back.bpm);
  const factor = upperMedian(matched.map(([a, b]) => b.velocity / a.velocity));
  const evidence = isCopied(sent, { ...back, notes: others }, matched, factor) ? 1 : 0.45;
  return {
    shared: round(shared * evidence, 1000),
    semitones,
    tempoRatio: round((back.bpm / sent.bpm) * scale, 1000),
    offset: round(offset / scale, 1000),
    lateMs: Math.abs(lateMs) < 2 ? 0 : lateMs,
    moved: matched.filter(([a, b]) => Math.abs(b.at - a.at - shift) > 0.03).length,
    // Where only some of its bars are there, the others are not gone, and what is around it was not added.
    added: (extent === 'longer' ? theirs : others.length) - matched.length,
    gone: (extent === 'cut' ? inBoth : sent.notes.length) - matched.length,
    velocityFactor: round(factor, 100),
    extent,
    weight: shared * evidence * Math.min(1, matched.length / 8),
  };
}

interface Place {
  semitones: number;
  shift: number;
}

/** So many notes of what left vote on where it lies, evenly taken from all of it. */
const VOTERS = 200;

/** Where most notes of one lie on notes of the other. */
function bestPlace(sent: Played, back: Played): Place | null {
  // A kit stands on its keys, but where a file says that it is ours.
  const isSaid = sent.id != null && sent.id === back.id;
  const limit = (sent.isDrums || back.isDrums) && !isSaid ? 0 : MOST_SEMITONES;
  const every = Math.ceil(sent.notes.length / VOTERS);
  const voters = sent.notes.filter((_, i) => i % every === 0);
  const semitones = 2 * limit + 1;
  const earliest = placesTo(back.notes[0]!.at - voters.at(-1)!.at) - 1;
  const places = placesTo(back.notes.at(-1)!.at - voters[0]!.at) + 2 - earliest;
  if (places > MOST_PLACES) return null;
  const votes = new Float32Array(places * semitones);
  let best = -1;
  let most = 0;
  for (const a of voters)
    for (const b of back.notes) {
      const up = b.pitch - a.pitch;
      if (Math.abs(up) > limit) continue;
      const middle = placesTo(b.at - a.at) - earliest;
      // A note between two places counts for both.
      for (let at = middle - 1; at <= middle + 1; at++) {
        const key = at * semitones + up + limit;
        votes[key]! += at === middle ? 1 : 0.5;
        if (votes[key]! > most) [most, best] = [votes[key]!, key];
      }
    }
  if (best < 0) return null;
  return {
    semitones: (best % semitones) - limit,
    shift: (Math.floor(best / semitones) + earliest) / PLACES,
  };
}

const placesTo = (quarters: number) => Math.round(quarters * PLACES);

/** Farther apart than this is nothing that could be laid over each other: some 20,000 bars. */
const MOST_PLACES = 80_000 * PLACES;

type Pair<Note extends PlayedNote = PlayedNote> = readonly [sent: Note, back: Note];

/** Notes that are one, each once: the nearest of the same pitch. */
export function paired<Note extends PlayedNote>(
  sent: readonly Note[],
  back: readonly Note[],
  { semitones, shift }: Place,
): Pair<Note>[] {
  const free = group(back, ({ pitch }) => pitch);
  return sent.flatMap((a): Pair<Note>[] => {
    const there = free.get(a.pitch + semitones) ?? [];
    let best = -1;
    there.forEach((b, i) => {
      const off = Math.abs(b.at - a.at - shift);
      if (off <= NEAR && (best < 0 || off < Math.abs(there[best]!.at - a.at - shift))) best = i;
    });
    if (best < 0) return [];
    const [b] = there.splice(best, 1);
    return [[a, b!]];
  });
}

/** Velocities differ by so much in what was played; less tells nothing. */
const LIVELY = 4;

/** So many notes of even velocity that all agree are copied. */
const MANY = 100;

/**
 * Whether what agrees was copied: velocities that were played differ from hit to hit, and agree in a copy at whatever level. Where they tell
 * nothing, it takes many notes on several pitches.
 */
function isCopied(sent: Played, back: Played, matched: readonly Pair[], factor: number): boolean {
  if (matched.length === 0) return false;
  const spread = deviation(sent.notes.map(({ velocity }) => velocity));
  const agree =
    matched.filter(([a, b]) => Math.abs(b.velocity - Math.min(127, a.velocity * factor)) <= 3).length /
    matched.length;
  if (spread >= LIVELY) return agree >= 0.6;
  const isEven = deviation(back.notes.map(({ velocity }) => velocity)) < LIVELY;
  const pitches = new Set(sent.notes.map(({ pitch }) => pitch)).size;
  // A whole part, hit by hit, is nobody's by chance.
  if (matched.length >= MANY && matched.length === sent.notes.length && isEven) return true;
  if (isOneByOne(sent, back, matched)) return true;
  const isToldApart = !sent.isDrums && pitches >= 4 && matched.length >= 10;
  return (isEven && isToldApart) || (sent.id != null && sent.id === back.id);
}

/** So many ways in which a note follows another, counted by distance, pitch and length, are no pattern that everybody plays. */
const VARIED = 6;

/** Whether nearly every note of both has its like in the other, with its length, in a line that is varied enough to be somebody's. */
function isOneByOne(sent: Played, back: Played, matched: readonly Pair[]): boolean {
  const alike = matched.filter(([a, b]) => Math.abs(b.length / a.length - 1) <= 0.06).length;
  const isWhole = alike >= 0.8 * Math.max(sent.notes.length, back.notes.length);
  return isWhole && waysOn(sent) >= VARIED;
}

/** In how many ways a note follows the one before it. */
function waysOn({ notes }: Played): number {
  return new Set(
    notes.map(({ at, length, pitch }, i) => {
      const before = notes[i - 1];
      return [
        before ? placesTo(at - before.at) : 0,
        before ? pitch - before.pitch : 0,
        placesTo(length),
      ].join(' ');
    }),
  ).size;
}

const round = (value: number, to: number) => Math.round(value * to) / to;

/** What was done to something, in words; `name` is what it was when it left. */
export function returnedWords(name: string, returned: Returned | null): string {
  const verdict = verdictOf(returned);
  if (!returned || verdict === 'new') return 'new: nothing like it has left';
  const done = doneWords(returned);
  const said = done ? `: ${done}` : ', as it left';
  return verdict === 'perhaps' ? `perhaps ${name}${said}` : `${name}, come back${said}`;
}

/** What is otherwise, in words; empty where nothing is. */
export function doneWords(returned: Returned): string {
  const { semitones, tempoRatio, offset, lateMs, moved, added, gone, velocityFactor, extent } = returned;
  const done = [
    semitones ? `${plural(Math.abs(semitones), 'semitone')} ${semitones > 0 ? 'up' : 'down'}` : '',
    tempoRatio !== 1 ? `at ${Math.round(tempoRatio * 100)} % of its tempo` : '',
    extent === 'cut' ? 'some of its bars' : extent === 'longer' ? 'with more around it' : '',
    offset ? `${plural(Math.abs(offset), 'quarter note')} ${offset > 0 ? 'later' : 'earlier'}` : '',
    lateMs ? `all ${Math.abs(lateMs)} ms ${lateMs > 0 ? 'later' : 'earlier'}` : '',
    moved ? `${plural(moved, 'note')} moved` : '',
    added ? `${plural(added, 'note')} added` : '',
    gone ? `${plural(gone, 'note')} gone` : '',
    velocityFactor !== 1
      ? `all ${velocityFactor > 1 ? 'louder' : 'softer'}, ${Math.round(velocityFactor * 100)} %`
      : '',
  ];
  return done.filter(Boolean).join(', ');
}
