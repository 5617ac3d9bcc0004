import { CONTROLLER, kindOf, STATUS } from '../core/midi/smf.ts';
import type { Role } from '../core/split/roles.ts';
import { messagesDue, tickAt, type DueMessage, type Playing, type SoundProgram } from './program.ts';

/** Something that sounds from one moment of a common clock to another: a pin, or what is tried beside it. */
export interface Layer {
  id: string;
  role: Role;
  /** On channels of its own; drums share theirs. */
  program: SoundProgram;
  playing: Playing;
  /** Seconds of the clock at which it begins, and ends; Infinity for never. */
  from: number;
  until: number;
  /** Pins are silent while something of their role is tried. */
  isPin: boolean;
}

/** Before a layer begins, its channel has its sound, in seconds. */
const SET_UP = 0.02;

/** What rounding can move a message by when a moment of a layer becomes one of the clock, in seconds. */
const ROUNDING = 1e-9;

/**
 * What a layer plays from one moment of the clock to before another. A message has one moment of the clock, whatever is asked for, and that
 * decides: consecutive spans hold each message once, and none stands at the end of its layer or later.
 */
function played({ program, playing, from: begin, until }: Layer, from: number, to: number): DueMessage[] {
  const end = Math.min(to, until);
  return messagesDue(program, playing, from - begin - ROUNDING, end - begin + ROUNDING)
    .map((message) => ({ ...message, seconds: Math.max(begin, message.seconds + begin) }))
    .filter(({ seconds }) => seconds >= from && seconds < end);
}

/** The messages of a layer due from one moment of the clock to before another. What still sounds when it ends, ends there. */
export function layerMessages(layer: Layer, from: number, to: number): DueMessage[] {
  const { program, from: begin, until } = layer;
  const due = played(layer, from, to);
  if (until >= from && until < to) due.push(...endings(layer));
  const setUp = Math.max(0, begin - SET_UP);
  const first =
    setUp >= from && setUp < to && begin > 0
      ? program.setUp.map((bytes) => ({ bytes, tick: 0, lane: layer.id, seconds: setUp }))
      : [];
  return [...first, ...due];
}

/** What ends the notes that sound when a layer ends, its pedal and its bend. */
function endings(layer: Layer): DueMessage[] {
  const { id, from, until } = layer;
  const sounding = new Map<string, readonly number[]>();
  const channels = new Set<number>();
  for (const { bytes } of played(layer, from, until)) {
    const [status = 0, pitch = 0] = bytes;
    const key = `${status & 0xf} ${pitch}`;
    channels.add(status & 0xf);
    if (kindOf(status) === STATUS.noteOn) sounding.set(key, [STATUS.noteOff | (status & 0xf), pitch, 64]);
    else if (kindOf(status) === STATUS.noteOff) sounding.delete(key);
  }
  const at = (bytes: readonly number[]) => ({ bytes, tick: 0, lane: id, seconds: until });
  return [
    ...[...sounding.values()].map(at),
    ...[...channels].flatMap((channel) => [
      at([STATUS.controller | channel, CONTROLLER.sustain, 0]),
      at([STATUS.pitchBend | channel, 0, 64]),
    ]),
  ];
}

/**
 * The messages of all layers in order of time. A pin of a role that something else plays is silent meanwhile; what it had begun ends as it
 * was to end.
 */
export function messagesOfLayers(layers: readonly Layer[], from: number, to: number): DueMessage[] {
  const tried = layers.filter(({ isPin }) => !isPin);
  return layers
    .flatMap((layer) => {
      const due = layerMessages(layer, from, to);
      if (!layer.isPin) return due;
      const others = tried.filter(({ role }) => role === layer.role);
      return due.filter(
        ({ bytes, seconds }) =>
          kindOf(bytes[0]!) !== STATUS.noteOn ||
          !others.some((one) => seconds >= one.from && seconds < one.until),
      );
    })
    .sort((a, b) => a.seconds - b.seconds || order(a) - order(b));
}

/** At one moment, what ends comes before what begins. */
function order({ bytes }: DueMessage): number {
  const kind = kindOf(bytes[0]!);
  return kind === STATUS.noteOff ? 0 : kind === STATUS.noteOn ? 2 : 1;
}

/** The tick of a layer that sounds at a moment of the clock. */
export function layerTick({ program, playing, from }: Layer, seconds: number): number {
  return seconds < from ? playing.fromTick : tickAt(program, playing, seconds - from);
}

/** When what is tried next begins. */
export const CHANGES = ['bar', 'round', 'once'] as const;
export type Change = (typeof CHANGES)[number];

/**
 * The next moment at which something can begin, `ahead` seconds from `now` at the earliest: a bar line, the end of a round (the longest pin's), or
 * at once. `bar` and `round` are in seconds, counted from the clock's zero.
 */
export function nextMoment(
  change: Change,
  now: number,
  { bar, round, ahead }: { bar: number; round: number; ahead: number },
): number {
  if (change === 'once') return now + ahead;
  const every = change === 'bar' ? bar : round;
  return Math.ceil((now + ahead) / every - 1e-9) * every;
}

/** Above this and below that much of the own tempo, something is heard in half or double time. */
const TOO_FAST = 1.41;
const TOO_SLOW = 0.71;

/** How fast a phrase of one tempo goes round at another: as fast, in half or in double time. */
export function speedAt(own: number, tempo: number): { speed: number; time: 'own' | 'half' | 'double' } {
  const ratio = tempo / own;
  if (ratio > TOO_FAST) return { speed: ratio / 2, time: 'half' };
  if (ratio < TOO_SLOW) return { speed: ratio * 2, time: 'double' };
  return { speed: ratio, time: 'own' };
}
