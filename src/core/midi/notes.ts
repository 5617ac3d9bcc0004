import { CONTROLLER, STATUS, type MidiFile, type Repair, kindOf, channelOf } from './smf.ts';

/**
 * Notes as columns, one entry a note, in order of onset, then track, channel and pitch. Plain data: a copy
 * can be posted to a worker.
 */
export interface Notes {
  length: number;
  /** Onset and length in ticks. */
  tick: Int32Array;
  duration: Int32Array;
  /** 0..127. */
  pitch: Uint8Array;
  /** 1..127. */
  velocity: Uint8Array;
  /** Release velocity 0..127; 64 where the file gives none. */
  release: Uint8Array;
  /** 0..15. */
  channel: Uint8Array;
  /** Index of the track, from 0. */
  track: Uint16Array;
}

/** One note as an object, for the places where a handful is handled. */
export interface Note {
  tick: number;
  duration: number;
  pitch: number;
  velocity: number;
  release: number;
  channel: number;
  track: number;
}

/** Release velocity that a note-on of velocity 0 stands for (MIDI 1.0 Detailed Specification). */
export const DEFAULT_RELEASE = 64;

export function emptyNotes(length: number): Notes {
  return {
    length,
    tick: new Int32Array(length),
    duration: new Int32Array(length),
    pitch: new Uint8Array(length),
    velocity: new Uint8Array(length),
    release: new Uint8Array(length),
    channel: new Uint8Array(length),
    track: new Uint16Array(length),
  };
}

export function noteAt(notes: Notes, index: number): Note {
  return {
    tick: notes.tick[index]!,
    duration: notes.duration[index]!,
    pitch: notes.pitch[index]!,
    velocity: notes.velocity[index]!,
    release: notes.release[index]!,
    channel: notes.channel[index]!,
    track: notes.track[index]!,
  };
}

/** Some of the notes (ascending indices), as columns. */
export function pickNotes(notes: Notes, indices: readonly number[]): Notes {
  const picked = emptyNotes(indices.length);
  for (const column of ['tick', 'duration', 'pitch', 'velocity', 'release', 'channel', 'track'] as const) {
    const [from, to] = [notes[column], picked[column]];
    indices.forEach((index, i) => (to[i] = from[index]!));
  }
  return picked;
}

/** Columns of the given notes, brought into order. */
export function notesFrom(list: readonly Note[]): Notes {
  const sorted = [...list].sort(compareNotes);
  const notes = emptyNotes(sorted.length);
  sorted.forEach((note, i) => {
    notes.tick[i] = note.tick;
    notes.duration[i] = note.duration;
    notes.pitch[i] = note.pitch;
    notes.velocity[i] = note.velocity;
    notes.release[i] = note.release;
    notes.channel[i] = note.channel;
    notes.track[i] = note.track;
  });
  return notes;
}

export function compareNotes(a: Note, b: Note): number {
  return a.tick - b.tick || a.track - b.track || a.channel - b.channel || a.pitch - b.pitch;
}

/**
 * Pairs note-ons with note-offs. A note-on of velocity 0 is a note-off; notes of one pitch and channel pair
 * first in, first out, within their track; a note that never ends is ended with its track and reported; all
 * sound off and the channel mode messages (MIDI 1.0: controllers 120 and 123..127) end what sounds.
 */
export function pairNotes(file: MidiFile): { notes: Notes; repairs: Repair[] } {
  const list: Note[] = [];
  const repairs: Repair[] = [];
  file.tracks.forEach((events, track) => {
    const sounding = new Map<number, Queue>();
    let orphans = 0;
    let firstOrphan = 0;
    for (const event of events) {
      const kind = kindOf(event.status);
      const channel = channelOf(event.status);
      if (event.status >= 0xf0) continue;
      if (kind === STATUS.noteOn && event.data2 > 0) {
        const note: Note = {
          tick: event.tick,
          duration: 0,
          pitch: event.data1,
          velocity: event.data2,
          release: DEFAULT_RELEASE,
          channel,
          track,
        };
        list.push(note);
        const key = (channel << 7) | event.data1;
        const queue = sounding.get(key);
        if (queue) queue.notes.push(note);
        else sounding.set(key, { notes: [note], next: 0 });
      } else if (kind === STATUS.noteOff || kind === STATUS.noteOn) {
        const queue = sounding.get((channel << 7) | event.data1);
        const note = queue?.notes[queue.next];
        if (queue && note) {
          queue.next++;
          note.duration = event.tick - note.tick;
          if (kind === STATUS.noteOff) note.release = event.data2;
        } else if (orphans++ === 0) firstOrphan = event.tick;
      } else if (kind === STATUS.controller && endsNotes(event.data1)) {
        for (const [key, queue] of sounding) {
          if (key >> 7 !== channel) continue;
          for (const note of waiting(queue)) note.duration = event.tick - note.tick;
          sounding.delete(key);
        }
      }
    }
    const end = events.at(-1)?.tick ?? 0;
    const hung = [...sounding.values()].flatMap(waiting);
    for (const note of hung) note.duration = end - note.tick;
    if (hung.length > 0) {
      repairs.push({
        code: 'note-hung',
        message: `${count(hung.length, 'note')} never ended and ${hung.length === 1 ? 'was' : 'were'} ended with the track.`,
        track: track + 1,
        tick: hung.reduce((first, note) => Math.min(first, note.tick), end),
      });
    }
    if (orphans > 0) {
      repairs.push({
        code: 'note-off-orphan',
        message: `${count(orphans, 'note-off')} without a sounding note ${orphans === 1 ? 'means' : 'mean'} nothing and can be ignored.`,
        track: track + 1,
        tick: firstOrphan,
      });
    }
  });
  return { notes: notesFrom(list), repairs };
}

/** Notes of one pitch and channel in order of onset; those from `next` on still sound. */
interface Queue {
  notes: Note[];
  next: number;
}

function waiting(queue: Queue): Note[] {
  return queue.notes.slice(queue.next);
}

function endsNotes(controller: number): boolean {
  return controller === CONTROLLER.allSoundOff || controller >= CONTROLLER.allNotesOff;
}

function count(n: number, what: string): string {
  return `${n} ${what}${n === 1 ? '' : 's'}`;
}
