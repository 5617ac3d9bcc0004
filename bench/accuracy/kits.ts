import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import { readTakes, takeFrom } from '../../src/core/capture/take.ts';
import { GM_DRUM_CHANNEL } from '../../src/core/midi/gm.ts';
import { META, STATUS, type MidiEvent, type MidiFile } from '../../src/core/midi/smf.ts';
import { splitTake } from '../../src/core/split/split.ts';
import { openmsxFiles } from '../../tests/support/openmsx.ts';

export interface KitFinding {
  file: string;
  /** Notes of the kit; 0 in a file without one. */
  kit: number;
  /** Channels to which it was moved, and on how many of them every note was found in drums. */
  channels: number;
  whole: number;
  /** Names of pitched parts taken for a kit. */
  falseAlarms: string[];
}

/**
 * The kit of each real file, and what stands on channel 10 besides, moved to every channel that is free, under a piano
 * program and without names: is it found?
 */
export function kitFindings(): KitFinding[] {
  return openmsxFiles.map((path) => {
    const take = readTakes(readFileSync(path))[0]!;
    const isKit = Array.from(take.notes.channel, (channel) => channel === GM_DRUM_CHANNEL);
    const used = new Set(take.notes.channel);
    const free = [...Array(16).keys()].filter((channel) => !used.has(channel));
    const falseAlarms = new Set<string>();
    let whole = 0;
    for (const channel of free) {
      const moved = takeFrom(withoutNames(onChannel(take.file, channel)));
      const split = splitTake(moved);
      const drums = split.parts.map((part) => part.role === 'drums');
      if (isKit.every((kit, i) => !kit || drums[split.owner[i]!])) whole++;
      split.parts.forEach((part, index) => {
        if (drums[index] && part.channel !== channel) falseAlarms.add(part.name);
      });
    }
    return {
      file: basename(path, '.mid'),
      kit: isKit.filter(Boolean).length,
      channels: free.length,
      whole,
      falseAlarms: [...falseAlarms],
    };
  });
}

/** A file with channel 10 on another, under the first piano. */
export function onChannel(file: MidiFile, channel: number): MidiFile {
  const moved = (event: MidiEvent): MidiEvent =>
    event.status < 0xf0 && (event.status & 0x0f) === GM_DRUM_CHANNEL
      ? { ...event, status: (event.status & 0xf0) | channel, ...(isProgram(event) ? { data1: 0 } : {}) }
      : event;
  return { ...file, tracks: file.tracks.map((events) => events.map(moved)) };
}

const isProgram = (event: MidiEvent) => event.status >> 4 === STATUS.program >> 4;

export function withoutNames(file: MidiFile): MidiFile {
  const tells = (event: MidiEvent) =>
    event.status === 0xff && (event.data1 === META.trackName || event.data1 === META.instrumentName);
  return { ...file, tracks: file.tracks.map((events) => events.filter((event) => !tells(event))) };
}

/** A file without programs and names: nothing but channels and notes. */
export function withoutPrograms(file: MidiFile): MidiFile {
  return {
    ...file,
    tracks: file.tracks.map((events) => events.filter((event) => event.status >= 0xf0 || !isProgram(event))),
  };
}
