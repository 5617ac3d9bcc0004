import type { Take } from '../capture/take.ts';
import { STATUS, CONTROLLER, kindOf, channelOf } from '../midi/smf.ts';
import type { Key } from '../music/key.ts';
import { barTicks, bpmOf, meterAt, tempoAt, type Timeline } from '../music/timeline.ts';
import { UNPITCHED, type Role } from '../split/roles.ts';
import { partNotes, soundingPitch, type PitchPair, type Split } from '../split/split.ts';

/**
 * A note of a clip. `origin` is the index of the captured note, in its take, that it came from; below 0 it was added by
 * hand, and from `MADE` down by a step. Where a loop wraps a note, its two pieces have one origin.
 */
export interface ClipNote {
  tick: number;
  duration: number;
  pitch: number;
  velocity: number;
  release: number;
  origin: number;
}

/** Origin of the first note that a step adds; those after it count down. More than that is never added by hand. */
export const MADE = -1_000_001;

/** The origin of the next note that a step adds to some. */
export function firstMade(notes: readonly ClipNote[]): number {
  return notes.reduce((lowest, { origin }) => Math.min(lowest, origin - 1), MADE);
}

/** Whether a note was added by a step. */
export function isMade({ origin }: Pick<ClipNote, 'origin'>): boolean {
  return origin <= MADE;
}

/** A channel message that is neither note nor program: controller, pressure, bend. Its channel is the clip's. */
export interface Control {
  tick: number;
  /** 0xA0, 0xB0, 0xD0 or 0xE0. */
  kind: number;
  data1: number;
  data2: number;
}

/**
 * A stretch of one part with all that it needs to sound: what recipes work on and phrases consist of.
 * Tick 0 is a bar line: of its first bar, or of the bar before it that holds its pickup.
 */
export interface Clip {
  timeline: Timeline;
  /** Ticks; whole bars once it has been cut. */
  length: number;
  /** Ticks before its first bar, in which its pickup stands; 0 where it has none. */
  pickup: number;
  /** In order of onset, then pitch. */
  notes: ClipNote[];
  controls: Control[];
  role: Role;
  /** Tonality it stands in; null where none is known or it has no pitches. */
  key: Key | null;
  /** Channel 0..15 and program 0..127 it sounds with. */
  channel: number;
  program: number;
  /** Origins of notes that are locked: key switches, which are never transposed. */
  locked: readonly number[];
  /** What a naming pattern can say of where it comes from. */
  labels?: ClipLabels;
  /** What a naming step called it. */
  name?: string;
}

/** Where a clip comes from. */
export interface ClipLabels {
  take?: string;
  part?: string;
  source?: string;
  project?: string;
  /** Its first bar in the take, from 1. */
  start?: number;
  /** Which of its take's phrases it is, from 1. */
  number?: number;
}

/*
 * Steps make new notes by the thousand. These write the fields out: spreading an object whose numbers have been rounded
 * costs ten times as much (bench/normalize).
 */

/** The same note from another tick, and as long as is said. */
export function withPlace(note: ClipNote, tick: number, duration = note.duration): ClipNote {
  const { pitch, velocity, release, origin } = note;
  return { tick, duration, pitch, velocity, release, origin };
}

/** The same note at another pitch. */
export function withPitch(note: ClipNote, pitch: number): ClipNote {
  const { tick, duration, velocity, release, origin } = note;
  return { tick, duration, pitch, velocity, release, origin };
}

/** The same note struck otherwise. */
export function withVelocity(note: ClipNote, velocity: number): ClipNote {
  const { tick, duration, pitch, release, origin } = note;
  return { tick, duration, pitch, velocity, release, origin };
}

/** The notes that are not locked: what is played, without the keys that switch a sound. */
export function playedNotes({ notes, locked }: Pick<Clip, 'notes' | 'locked'>): ClipNote[] {
  const switches = new Set(locked);
  return notes.filter(({ origin }) => !switches.has(origin));
}

/** Applies a change of pitch to the notes that are not locked. */
export function withPitches(clip: Clip, change: (pitch: number, note: ClipNote) => number): ClipNote[] {
  const locked = new Set(clip.locked);
  return clip.notes.map((note) =>
    locked.has(note.origin) ? note : withPitch(note, change(note.pitch, note)),
  );
}

/** BPM at which its first bar begins. */
export function bpmOfClip({ timeline, pickup }: Pick<Clip, 'timeline' | 'pickup'>): number {
  return bpmOf(tempoAt(timeline, pickup).microseconds);
}

/** Whole bars of a clip from bar one, at least one. */
export function barsOf({ timeline, pickup, length }: Pick<Clip, 'timeline' | 'pickup' | 'length'>): number {
  return Math.max(1, Math.round((length - pickup) / barTicks(timeline.ppq, meterAt(timeline, pickup))));
}

export function isPitched(clip: Pick<Clip, 'role'>): boolean {
  return !UNPITCHED.has(clip.role);
}

export function compareClipNotes(a: ClipNote, b: ClipNote): number {
  return a.tick - b.tick || a.pitch - b.pitch || a.origin - b.origin;
}

/** How captured notes are taken: which streams their controllers are in, and what they are. */
export interface ClipSource {
  streams: readonly { track: number; channel: number }[];
  role: Role;
  key: Key | null;
  channel: number;
  program: number;
  /** Captured pitches that sound as others. */
  pitchMap: readonly PitchPair[];
  /** Indices of the notes that are locked. */
  locked: readonly number[];
  labels?: ClipLabels;
}

/** All of a part of a take, uncut: the clip that a recipe starts from. */
export function clipFromPart(take: Take, split: Split, part: number, key: Key | null): Clip {
  const { role, channel, program, from, pitchMap } = split.parts[part]!;
  const notes = partNotes(split, part);
  const locked = notes.filter((i) => split.locked[i]);
  return clipFromNotes(take, notes, { streams: from, role, channel, program, key, pitchMap, locked });
}

/** Some notes of a take (indices), uncut. */
export function clipFromNotes(take: Take, origins: readonly number[], source: ClipSource): Clip {
  const { notes } = take;
  return {
    timeline: take.timing.timeline,
    length: take.timing.ticks,
    pickup: 0,
    notes: origins
      .map((origin) => ({
        tick: notes.tick[origin]!,
        duration: notes.duration[origin]!,
        pitch: soundingPitch(source.pitchMap, notes.pitch[origin]!),
        velocity: notes.velocity[origin]!,
        release: notes.release[origin]!,
        origin,
      }))
      .sort(compareClipNotes),
    controls: controlsOf(take, source.streams),
    role: source.role,
    key: UNPITCHED.has(source.role) ? null : source.key,
    channel: source.channel,
    program: source.program,
    locked: source.locked,
    ...(source.labels ? { labels: source.labels } : {}),
  };
}

/** What a part's streams say besides notes and programs, in order of time. */
export function controlsOf(take: Take, from: readonly { track: number; channel: number }[]): Control[] {
  const controls: Control[] = [];
  const streams = new Set(from.map(({ track, channel }) => track * 16 + channel));
  take.file.tracks.forEach((events, track) => {
    for (const event of events) {
      const kind = kindOf(event.status);
      if (event.status >= 0xf0 || kind < STATUS.polyPressure || kind === STATUS.program) continue;
      if (!streams.has(track * 16 + channelOf(event.status))) continue;
      if (kind === STATUS.controller && belongsToDevice(event.data1)) continue;
      controls.push({ tick: event.tick, kind, data1: event.data1, data2: event.data2 });
    }
  });
  return controls.sort((a, b) => a.tick - b.tick);
}

/** Bank select goes with the program, and the channel mode messages with the device: neither is playing. */
function belongsToDevice(controller: number): boolean {
  return (
    controller === CONTROLLER.bankMsb ||
    controller === CONTROLLER.bankLsb ||
    controller >= CONTROLLER.allSoundOff
  );
}
