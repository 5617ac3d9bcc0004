import { pairNotes, type Notes } from '../midi/notes.ts';
import { readMidiFile } from '../midi/read.ts';
import { isMeta, META, type MidiFile, type Repair } from '../midi/smf.ts';
import { decodeText } from '../midi/text.ts';
import { readTiming, type Timing } from '../midi/timing.ts';

/** A captured performance, read from its original bytes. Everything here can be derived again from them. */
export interface Take {
  file: MidiFile;
  timing: Timing;
  notes: Notes;
  repairs: Repair[];
  /** Its time as it was captured, where it was put on other bars. */
  asCaptured?: Pick<Take, 'file' | 'timing'> & Pick<Notes, 'tick' | 'duration'>;
}

/**
 * Reads the takes that a file holds: one, or one a track for a format 2 file, whose tracks are independent
 * patterns (RP-001).
 *
 * @throws NotMidiError when the bytes are no Standard MIDI File.
 */
export function readTakes(bytes: Uint8Array): Take[] {
  const { file, repairs } = readMidiFile(bytes);
  if (file.format !== 2 || file.tracks.length < 2) return [takeFrom(file, repairs)];
  return file.tracks.map((events, index) => {
    const own = repairs
      .filter((repair) => repair.track === 0 || repair.track === index + 1)
      .map((repair) => ({ ...repair, track: Math.min(repair.track, 1) }));
    return takeFrom({ ...file, format: 0, tracks: [events], otherChunks: [] }, own);
  });
}

export function takeFrom(file: MidiFile, repairs: Repair[] = []): Take {
  const timing = readTiming(file);
  const paired = pairNotes(file);
  return {
    file,
    timing,
    notes: paired.notes,
    repairs: [...repairs, ...timing.repairs, ...paired.repairs],
  };
}

/** Name of a track: its track name, else its instrument name, else nothing. */
export function trackName(file: MidiFile, track: number): string {
  const events = file.tracks[track] ?? [];
  for (const type of [META.trackName, META.instrumentName]) {
    const event = events.find((candidate) => isMeta(candidate, type) && candidate.bytes?.length);
    if (event?.bytes) return decodeText(event.bytes);
  }
  return '';
}
