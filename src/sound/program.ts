import type { Fitting } from '../core/normalize/fitting.ts';
import { CONTROLLER, STATUS } from '../core/midi/smf.ts';
import { GM_DRUM_CHANNEL } from '../core/midi/gm.ts';
import {
  barStart,
  byTick,
  positionAt,
  secondsToTicks,
  ticksToSeconds,
  type Timeline,
} from '../core/music/timeline.ts';
import { UNPITCHED, type Role } from '../core/split/roles.ts';
import { withPickupBar } from '../core/normalize/pickup.ts';
import { setResolution } from '../core/normalize/resolution.ts';
import type { Clip } from '../core/phrase/clip.ts';
import type { WrittenChanges } from '../core/through/sounding.ts';

/** One voice of what is listened to. */
export interface Lane {
  /** By which it is muted and soloed. */
  id: string;
  clip: Clip;
  /** 0..1, 1 where it is not given: what lies under something else is softer. */
  level?: number;
  /** The chords it was played over, in the clip's key; where they are known it can be heard through others. */
  over?: WrittenChanges;
  /** What suits the sound that is to play it; applied where somebody asks to hear it so. */
  fitting?: Fitting;
}

/** A message for the synthesizer, at a tick. */
export interface TimedMessage {
  tick: number;
  /** Which lane it belongs to; messages of silent lanes are not sent. */
  lane: string;
  bytes: readonly number[];
}

/** What sounds: messages over one timeline, all lanes together. */
export interface SoundProgram {
  timeline: Timeline;
  /** Ticks; the loop goes back to 0 here. */
  length: number;
  /** In order of time; at one tick, what ends comes before what begins. */
  messages: TimedMessage[];
  /** Sent before anything sounds: each lane's program, then each channel's volume. */
  setUp: (readonly number[])[];
}

/** Channel volume of what is heard as it is (General MIDI's default). */
const FULL_VOLUME = 100;

/** Roles that sound on the drum bank, whatever channel they came on. */
function isDrums(role: Role): boolean {
  return role !== 'slices' && UNPITCHED.has(role);
}

/** Lanes in the ticks of the first, and with bar one at one place: where one has a pickup, the others wait for it. */
function fromOneBarOne(lanes: readonly Lane[]): Lane[] {
  const { ppq } = lanes[0]!.clip.timeline;
  const isLed = lanes.some(({ clip }) => clip.pickup > 0);
  return lanes.map(({ clip, ...lane }) => {
    const counted = clip.timeline.ppq === ppq ? clip : setResolution(clip, { ppq }).clip;
    return { ...lane, clip: isLed ? withPickupBar(counted) : counted };
  });
}

/**
 * Lanes as a sound program. Drums go to the drum channel, every other lane to a channel of its own while
 * there are enough, from `firstChannel` on; `sound` (0..127) takes the place of every lane's own program.
 */
export function soundProgram(
  given: readonly Lane[],
  sound: number | null = null,
  firstChannel = 0,
): SoundProgram {
  const lanes = fromOneBarOne(given);
  const first = lanes[0]!.clip;
  const length = Math.max(...lanes.map(({ clip }) => clip.length));
  const setUp: (readonly number[])[] = [];
  const messages: (TimedMessage & { order: number })[] = [];
  const volumes = new Map<number, number>();
  let next = firstChannel;
  for (const { id, clip, level = 1 } of lanes) {
    const drums = isDrums(clip.role);
    const channel = drums ? GM_DRUM_CHANNEL : freeChannel(next++);
    const program = drums ? 0 : (sound ?? clip.program);
    setUp.push([STATUS.program | channel, program]);
    // Drums of several lanes share a channel: the loudest decides.
    volumes.set(channel, Math.max(volumes.get(channel) ?? 0, Math.round(FULL_VOLUME * level)));
    const put = (tick: number, order: number, bytes: readonly number[]) =>
      messages.push({ tick, lane: id, order, bytes });
    for (const control of clip.controls) {
      const { kind, data1, data2 } = control;
      // Loudness belongs to the listener here.
      if (kind === STATUS.controller && data1 === CONTROLLER.volume) continue;
      put(
        control.tick,
        1,
        kind === STATUS.channelPressure ? [kind | channel, data1] : [kind | channel, data1, data2],
      );
    }
    for (const note of clip.notes) {
      if (note.tick >= length) continue;
      const end = Math.min(Math.max(note.tick + note.duration, note.tick + 1), length);
      put(note.tick, 2, [STATUS.noteOn | channel, note.pitch, note.velocity]);
      put(end, 0, [STATUS.noteOff | channel, note.pitch, note.release]);
    }
    // The loop begins each pass with the pedal up and the bend straight.
    if (clip.controls.length > 0) {
      put(length, 0, [STATUS.controller | channel, CONTROLLER.sustain, 0]);
      put(length, 0, [STATUS.pitchBend | channel, 0, 64]);
    }
  }
  for (const [channel, volume] of volumes)
    setUp.push([STATUS.controller | channel, CONTROLLER.volume, volume]);
  messages.sort((a, b) => a.tick - b.tick || a.order - b.order);
  return {
    timeline: first.timeline,
    length,
    messages: messages.map(({ order: _order, ...message }) => message),
    setUp,
  };
}

/** Channels in order, without the drums'; beyond fifteen lanes they are shared. */
export function freeChannel(lane: number): number {
  const channel = lane % 15;
  return channel >= GM_DRUM_CHANNEL ? channel + 1 : channel;
}

/** A message and the seconds after the start of playing at which it sounds. */
export interface DueMessage extends TimedMessage {
  seconds: number;
}

/** How a program is played. */
export interface Playing {
  /** 1 is the program's own tempo, 2 twice as fast. */
  speed: number;
  loop: boolean;
  /** Tick at which playing began. */
  fromTick: number;
}

/** Seconds one pass lasts. */
export function passSeconds(program: SoundProgram, speed: number): number {
  return ticksToSeconds(program.timeline, program.length) / speed;
}

/** What seconds may be off by once they are ticks. */
const ROUNDED = 1e-3;

/** The next bar line from some seconds after playing began, or later: when it comes, and its tick in the pass. */
export function nextBarLine(
  program: SoundProgram,
  playing: Playing,
  seconds: number,
): { seconds: number; tick: number } {
  const { timeline, length } = program;
  const { speed, fromTick } = playing;
  const pass = passSeconds(program, speed);
  const lead = ticksToSeconds(timeline, fromTick) / speed;
  const round = pass > 0 ? Math.floor((seconds + lead) / pass + 1e-9) : 0;
  const within = Math.max(0, (seconds + lead - round * pass) * speed);
  const at = secondsToTicks(timeline, within);
  // Rounding must not lose a line that is just reached.
  const { bar } = positionAt(timeline, Math.max(0, at - ROUNDED));
  const line = at <= ROUNDED ? 0 : barStart(timeline, bar + 1);
  const place = ticksToSeconds(timeline, Math.min(line, length)) / speed;
  return { seconds: round * pass + place - lead, tick: line >= length ? 0 : line };
}

/**
 * The messages due from one moment to before another, in seconds since playing began at `fromTick`. In a
 * loop the end of one pass and the start of the next are the same moment: what ends, ends, what begins,
 * begins, and nothing lies between.
 */
export function messagesDue(program: SoundProgram, playing: Playing, from: number, to: number): DueMessage[] {
  const { timeline, length, messages } = program;
  const pass = passSeconds(program, playing.speed);
  const lead = ticksToSeconds(timeline, playing.fromTick) / playing.speed;
  const due: DueMessage[] = [];
  if (!(pass > 0)) return due;
  const firstPass = Math.max(0, Math.floor((from + lead) / pass) - 1);
  const lastPass = playing.loop ? Math.floor((to + lead) / pass) : 0;
  for (let n = firstPass; n <= lastPass; n++) {
    const offset = n * pass - lead;
    // A whole arrangement has a hundred thousand messages, and is asked for its next 100 ms forty times a second.
    const early = secondsToTicks(timeline, Math.max(0, from - offset) * playing.speed) - 1;
    for (let k = byTick.left(messages, early); k < messages.length; k++) {
      const message = messages[k]!;
      if (n === 0 && message.tick < playing.fromTick) continue;
      const seconds =
        message.tick >= length
          ? offset + pass
          : offset + ticksToSeconds(timeline, message.tick) / playing.speed;
      if (seconds >= to) break;
      if (seconds >= from) due.push({ ...message, seconds });
    }
  }
  return due.sort((a, b) => a.seconds - b.seconds);
}

/** The tick that sounds a number of seconds after playing began; the length once a program without loop is over. */
export function tickAt(program: SoundProgram, playing: Playing, seconds: number): number {
  const pass = passSeconds(program, playing.speed);
  const at = seconds + ticksToSeconds(program.timeline, playing.fromTick) / playing.speed;
  if (!playing.loop && at >= pass) return program.length;
  const within = pass > 0 ? at - Math.floor(at / pass) * pass : 0;
  return secondsToTicks(program.timeline, within * playing.speed);
}
