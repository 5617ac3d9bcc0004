import { sameMeter } from '../music/meters.ts';
import stringify from 'fast-json-stable-stringify';
import type { Take } from '../capture/take.ts';
import { pulled, scaled } from '../capture/retime.ts';
import { programName } from '../midi/gm.ts';
import { barStart, barTicks, barsUntil, meterAt } from '../music/timeline.ts';
import { plural } from '../words.ts';
import { barsSounding } from './bars-sounding.ts';
import { continueMoves, singleMoves, type Move, type SingleMove } from './moves.ts';
import { noteSet, notesIn } from './note-set.ts';
import { mendsFor, offersFor, type Proposal } from './proposals.ts';
import type { Role } from './roles.ts';
import { partNotes, playingParts, type Part, type PitchPair, type Split } from './split.ts';

/**
 * What somebody did to a take, told so that it can be done to another take of the same source. A part is told by its mark:
 * the streams it came from, which one source numbers alike every time.
 */
export type Habit =
  | { do: 'rename'; mark: string; name: string }
  | { do: 'role'; mark: string; role: Role }
  | { do: 'sound'; mark: string; channel: number; program: number }
  | { do: 'weigh'; mark: string; weight: number | null }
  | { do: 'pitchMap'; mark: string; pairs: readonly PitchPair[] }
  | { do: 'setAside'; mark: string; reason: string }
  | { do: 'merge'; marks: string[] }
  | { do: 'lock'; mark: string; pitches: number[] }
  /** Accepts what is proposed of a kind about a part, whatever notes it is about this time. */
  | { do: 'accept'; kind: Proposal['kind']; marks: string[] }
  | { do: 'tail'; bars: number }
  | { do: 'pull'; bars: number }
  | { do: 'time'; factor: 0.5 | 2 }
  | { do: 'meter'; numerator: number; denominator: number }
  /** Phrases of a role are made with steps of their own. */
  | { do: 'recipe'; role: Role; steps: readonly { step: string }[] };

interface State {
  take: Take;
  split: Split;
  /** Marks of parts by id. */
  marks: Map<string, string>;
}

/** The habits in what was done to a take from its first split on. What is about single notes and no proposal is nobody's habit. */
export function habitsIn(original: Take, first: Split, moves: readonly Move[]): Habit[] {
  let state = begin(original, first);
  const rest = singleMoves(moves);
  const habits: Habit[] = [];
  while (rest.length > 0) {
    const accepted = acceptedBy(state, rest);
    const count = accepted ? accepted.count : 1;
    const habit = accepted ? accepted.habit : habitOf(state, rest[0]!);
    if (habit) habits.push(habit);
    state = after(state, rest.splice(0, count));
  }
  return lastOfEach(habits);
}

/**
 * The moves that do to a take what its source's takes usually need, after what was done to it already: what is so, or was
 * decided otherwise, is left. Null where nothing is left to do.
 */
export function habitMove(
  original: Take,
  first: Split,
  done: readonly Move[],
  habits: readonly Habit[],
  title: string,
): Extract<Move, { move: 'together' }> | null {
  const decided = new Set(habitsIn(original, first, done).map(matterOf));
  let state = singleMoves(done).reduce((now, move) => after(now, [move]), begin(original, first));
  const moves: SingleMove[] = [];
  for (const habit of habits) {
    if (decided.has(matterOf(habit))) continue;
    const next = movesOf(state, habit);
    if (next.length === 0) continue;
    state = after(state, next);
    moves.push(...next);
  }
  return moves.length > 0 ? { move: 'together', title, moves } : null;
}

function begin(take: Take, split: Split): State {
  return { take, split, marks: marksOf(split) };
}

/** The state after some moves; parts they made are marked by the part they were taken from and what they are called. */
function after({ take, split, marks }: State, moves: readonly SingleMove[]): State {
  const next = continueMoves(take, split, moves);
  const known = new Map(marks);
  for (const part of next.split.parts) {
    if (known.has(part.id)) continue;
    const from = moves.find(
      (move) => move.move === 'divide' && move.into.some(({ name }) => name === part.name),
    );
    const parent = from?.move === 'divide' ? (known.get(from.part) ?? '') : '';
    known.set(part.id, `${parent}>${part.name}`);
  }
  return { ...next, marks: known };
}

/** Channels and programs of a part's streams; its name too where several are alike. */
function marksOf(split: Split): Map<string, string> {
  const plain = (part: Part) =>
    part.from.map(({ channel, program }) => `${channel + 1}/${program ?? '-'}`).join('+');
  const counts = new Map<string, number>();
  for (const part of split.parts) counts.set(plain(part), (counts.get(plain(part)) ?? 0) + 1);
  const seen = new Map<string, number>();
  return new Map(
    split.parts.map((part) => {
      const mark = plain(part);
      const nth = (seen.get(mark) ?? 0) + 1;
      seen.set(mark, nth);
      return [part.id, counts.get(mark)! > 1 ? `${mark}#${nth}` : mark];
    }),
  );
}

/** Whether the next moves are a proposal that was accepted: then the habit is to accept its like. */
function acceptedBy(state: State, rest: readonly SingleMove[]): { habit: Habit; count: number } | null {
  if (!rest.slice(0, 3).some(isOfNotes)) return null;
  for (const proposal of [...mendsFor(state.take, state.split), ...offersFor(state.take, state.split)]) {
    for (const { move } of proposal.ways.slice(0, 1)) {
      const moves = singleMoves([move]);
      if (stringify(moves) !== stringify(rest.slice(0, moves.length))) continue;
      const marks = proposal.parts.map((id) => state.marks.get(id) ?? '');
      return { habit: { do: 'accept', kind: proposal.kind, marks }, count: moves.length };
    }
  }
  return null;
}

/** Moves about notes that only their own take has. */
function isOfNotes(move: SingleMove): boolean {
  return (
    move.move === 'divide' ||
    move.move === 'lock' ||
    move.move === 'give' ||
    (move.move === 'setAside' && move.notes !== undefined)
  );
}

function habitOf({ take, split, marks }: State, move: SingleMove): Habit | null {
  const mark = 'part' in move ? marks.get(move.part) : undefined;
  switch (move.move) {
    case 'rename':
      return mark ? { do: 'rename', mark, name: move.name } : null;
    case 'role':
      return mark ? { do: 'role', mark, role: move.role } : null;
    case 'sound':
      return mark ? { do: 'sound', mark, channel: move.channel, program: move.program } : null;
    case 'weigh':
      return mark ? { do: 'weigh', mark, weight: move.weight } : null;
    case 'pitchMap':
      return mark ? { do: 'pitchMap', mark, pairs: move.pairs } : null;
    case 'merge':
      return { do: 'merge', marks: move.parts.map((id) => marks.get(id) ?? '') };
    case 'setAside':
      if (move.notes !== undefined || !mark) return null;
      if (move.fromTick === undefined) return { do: 'setAside', mark, reason: move.reason };
      return move.toTick === undefined ? tailHabit(take, split, move.fromTick) : null;
    case 'lock': {
      if (!mark || !move.on) return null;
      const pitches = [...new Set(notesIn(move.notes).map((i) => take.notes.pitch[i]!))];
      return { do: 'lock', mark, pitches: pitches.sort((a, b) => a - b) };
    }
    case 'meter':
      return move.fromTick === 0
        ? { do: 'meter', numerator: move.numerator, denominator: move.denominator }
        : null;
    case 'retime':
      return retimeHabit(move.how);
    case 'recipe':
      return { do: 'recipe', role: move.role, steps: move.steps };
    default:
      return null;
  }
}

function tailHabit(take: Take, split: Split, fromTick: number): Habit | null {
  // A little ahead of a bar line is meant for it.
  const { timeline } = take.timing;
  const bars = barsSounding(take, split) - barsUntil(timeline, fromTick + timeline.ppq / 4) + 1;
  return bars > 0 ? { do: 'tail', bars } : null;
}

function retimeHabit(how: string): Habit | null {
  if (how === 'double time') return { do: 'time', factor: 2 };
  if (how === 'half time') return { do: 'time', factor: 0.5 };
  const bars = /^pull back by (\d+) bars?$/.exec(how)?.[1];
  return bars ? { do: 'pull', bars: Number(bars) } : null;
}

/** Of two that say different things about the same, the later holds. */
function lastOfEach(habits: readonly Habit[]): Habit[] {
  const byMatter = new Map<string, Habit>();
  for (const habit of habits) {
    byMatter.delete(matterOf(habit));
    byMatter.set(matterOf(habit), habit);
  }
  return [...byMatter.values()];
}

/** What a habit is about, without what it says of it: two habits of one matter contradict each other. */
export function matterOf(habit: Habit): string {
  switch (habit.do) {
    case 'merge':
    case 'accept':
      return `${habit.do} ${'kind' in habit ? habit.kind : ''} ${habit.marks.join(' ')}`;
    case 'recipe':
      return `recipe ${habit.role}`;
    case 'tail':
    case 'pull':
    case 'time':
    case 'meter':
      return habit.do;
    default:
      return `${habit.do} ${habit.mark}`;
  }
}

function movesOf(state: State, habit: Habit): SingleMove[] {
  const { take, split, marks } = state;
  const partOf = (mark: string) => {
    const id = [...marks].find(([, known]) => known === mark)?.[0];
    const part = split.parts.find((one) => one.id === id);
    return part && playingParts(split).some((one) => one.part.id === part.id) ? part : undefined;
  };
  const part = 'mark' in habit ? partOf(habit.mark) : undefined;
  if ('mark' in habit && !part) return [];
  switch (habit.do) {
    case 'rename':
      return part!.name === habit.name ? [] : [{ move: 'rename', part: part!.id, name: habit.name }];
    case 'role':
      return part!.role === habit.role ? [] : [{ move: 'role', part: part!.id, role: habit.role }];
    case 'sound': {
      const { channel, program } = habit;
      const isSo = part!.channel === channel && part!.program === program;
      return isSo ? [] : [{ move: 'sound', part: part!.id, channel, program }];
    }
    case 'weigh':
      return part!.weight === habit.weight ? [] : [{ move: 'weigh', part: part!.id, weight: habit.weight }];
    case 'pitchMap':
      return JSON.stringify(part!.pitchMap) === JSON.stringify(habit.pairs)
        ? []
        : [{ move: 'pitchMap', part: part!.id, pairs: [...habit.pairs] }];
    case 'setAside':
      return [{ move: 'setAside', part: part!.id, reason: habit.reason }];
    case 'merge': {
      const ids = habit.marks.map((mark) => partOf(mark)?.id);
      return ids.length > 1 && ids.every((id) => id !== undefined)
        ? [{ move: 'merge', parts: ids as string[] }]
        : [];
    }
    case 'lock':
      return lockMoves(state, part!, habit.pitches);
    case 'accept':
      return acceptMoves(state, habit);
    case 'tail':
      return tailMoves(take, split, habit.bars);
    case 'pull':
      return pullMoves(take, split, habit.bars);
    case 'time':
      return [
        {
          move: 'retime',
          how: habit.factor === 2 ? 'double time' : 'half time',
          ...scaled(habit.factor),
        },
      ];
    case 'meter': {
      const { numerator, denominator } = habit;
      const isSo = sameMeter(meterAt(take.timing.timeline, 0), habit);
      return isSo ? [] : [{ move: 'meter', fromTick: 0, numerator, denominator }];
    }
    case 'recipe':
      return [{ move: 'recipe', role: habit.role, steps: habit.steps }];
  }
}

function lockMoves({ take, split }: State, part: Part, pitches: readonly number[]): SingleMove[] {
  const named = new Set(pitches);
  const index = split.parts.indexOf(part);
  const notes = partNotes(split, index).filter((i) => named.has(take.notes.pitch[i]!) && !split.locked[i]);
  return notes.length > 0 ? [{ move: 'lock', part: part.id, notes: noteSet(notes), on: true }] : [];
}

function acceptMoves({ take, split, marks }: State, habit: Extract<Habit, { do: 'accept' }>): SingleMove[] {
  const wanted = habit.marks.join(' ');
  const like = [...mendsFor(take, split), ...offersFor(take, split)].find(
    ({ kind, parts }) => kind === habit.kind && parts.map((id) => marks.get(id) ?? '').join(' ') === wanted,
  );
  return like ? singleMoves([like.ways[0]!.move]) : [];
}

function tailMoves(take: Take, split: Split, bars: number): SingleMove[] {
  const { timeline } = take.timing;
  const all = barsSounding(take, split);
  if (bars >= all) return [];
  const fromTick = Math.round(barStart(timeline, all - bars + 1) - timeline.ppq / 8);
  return playingParts(split)
    .filter(({ notes }) => notes.some((i) => take.notes.tick[i]! >= fromTick))
    .map(({ part }): SingleMove => ({ move: 'setAside', part: part.id, reason: 'tail bars', fromTick }));
}

/** Only where nothing sounds in those bars: what sounds would be lost before bar one. */
function pullMoves(take: Take, split: Split, bars: number): SingleMove[] {
  const { timeline } = take.timing;
  const ticks = bars * barTicks(timeline.ppq, meterAt(timeline, 0));
  const first = Math.min(
    ...playingParts(split).flatMap(({ notes }) => notes.slice(0, 1).map((i) => take.notes.tick[i]!)),
  );
  if (!(first >= ticks - timeline.ppq / 4)) return [];
  return [{ move: 'retime', how: `pull back by ${plural(bars, 'bar')}`, ...pulled(ticks) }];
}

/** A habit for people. */
export function habitInWords(habit: Habit): string {
  const where = (mark: string) => {
    const [stream, ...made] = mark.split('>');
    const channels = stream!.split('+').map((one) => one.split('/')[0]);
    return made.length > 0 ? `"${made.at(-1)}"` : `channel ${channels.join(' and ')}`;
  };
  switch (habit.do) {
    case 'rename':
      return `${where(habit.mark)} is called "${habit.name}"`;
    case 'role':
      return `${where(habit.mark)} is ${habit.role}`;
    case 'sound':
      return `${where(habit.mark)} sounds on channel ${habit.channel + 1} as ${programName(habit.program)}`;
    case 'weigh':
      return habit.weight === null
        ? `${where(habit.mark)} counts by its role`
        : `${where(habit.mark)} counts ${Math.round(habit.weight * 100)} % for the harmony`;
    case 'pitchMap':
      return `${where(habit.mark)} has a map of ${plural(habit.pairs.length, 'key')}`;
    case 'setAside':
      return `${where(habit.mark)} is set aside (${habit.reason})`;
    case 'merge':
      return `${habit.marks.map(where).join(' and ')} are one part`;
    case 'lock':
      return `${where(habit.mark)} has ${plural(habit.pitches.length, 'key switch', 'key switches')}`;
    case 'accept':
      return `${ACCEPTED[habit.kind] ?? habit.kind}: ${habit.marks.map(where).join(', ')}`;
    case 'tail':
      return `adds ${plural(habit.bars, 'tail bar')}`;
    case 'pull':
      return `begins with ${plural(habit.bars, 'silent bar')}`;
    case 'time':
      return habit.factor === 2 ? 'is written in half time' : 'is written in double time';
    case 'meter':
      return `is in ${habit.numerator}/${habit.denominator}`;
    case 'recipe':
      return `phrases of ${habit.role} have steps of their own`;
  }
}

const ACCEPTED: Partial<Record<Proposal['kind'], string>> = {
  merge: 'one instrument on several tracks',
  mixedKit: 'a kit among other notes, taken out',
  layers: 'several instruments on one stream, taken apart',
  kit: 'a kit on another channel',
  doubled: 'notes that come twice',
  click: 'a click among the parts',
  slices: 'slices of a loop',
  keySwitches: 'key switches, locked',
  drumMap: 'a kit in its own layout',
  layered: 'a part layered on two sounds',
  hands: 'both hands on one stream',
  voices: 'voices on one stream',
};
