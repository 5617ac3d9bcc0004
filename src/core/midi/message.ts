/**
 * Messages as they travel on a wire. Source: MIDI Manufacturers Association, "MIDI 1.0 Detailed Specification".
 */

import { kindOf, STATUS } from './smf.ts';

/** One complete message and when it is meant, in milliseconds on a clock that its sender and receiver share. */
export interface WireMessage {
  ms: number;
  bytes: readonly number[] | Uint8Array;
}

export const REALTIME = {
  clock: 0xf8,
  start: 0xfa,
  continue: 0xfb,
  stop: 0xfc,
} as const;

export const SONG_POSITION = 0xf2;

/** MIDI clocks a quarter note. */
export const CLOCKS_PER_QUARTER = 24;

/** Clocks in one step of the song position: a sixteenth. */
export const CLOCKS_PER_SONG_STEP = 6;

/** Sixteenths from the beginning, of a song position message. */
export function songPosition(data1: number, data2: number): number {
  return data1 | (data2 << 7);
}

/** Whether a message begins a note: a note-on of velocity 0 ends one. */
export function beginsNote(status: number, velocity: number): boolean {
  return kindOf(status) === STATUS.noteOn && velocity > 0;
}

export function endsNote(status: number, velocity: number): boolean {
  return kindOf(status) === STATUS.noteOff || (kindOf(status) === STATUS.noteOn && velocity === 0);
}
