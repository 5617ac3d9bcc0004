import { trackName, type Take } from '../capture/take.ts';
import type { MidiFile } from '../midi/smf.ts';
import type { Key } from '../music/key.ts';
import { controlsOf } from '../phrase/clip.ts';
import { notesByPart, soundingPitch, type Split } from '../split/split.ts';
import { takeNotesToMidi, type TrackOut } from './midi-out.ts';
import { safeFileName, uniqueNames } from '../phrase/naming.ts';

/** A file of one part of a take. */
export interface PartFile {
  /** With its ending. */
  file: string;
  /** Id of the part; null for what is set aside. */
  part: string | null;
  midi: MidiFile;
}

/**
 * How parts leave: as they were captured, on their own channels, so that together they give the take's notes again; or
 * as they sound, on the channel, program and pitches that were chosen for them.
 */
export type PartsAs = 'captured' | 'sounding';

/**
 * A take as files: one a part, and `set-aside.mid` where notes are set aside, so that together they hold every note. A
 * part of several source tracks keeps them apart only where the notes would otherwise not pair again. The key is told in
 * each, where one is given.
 */
export function partFiles(
  take: Take,
  split: Split,
  as: PartsAs = 'captured',
  key: Key | null = null,
): PartFile[] {
  const names = uniqueNames(split.parts.map((part) => safeFileName(part.name)));
  const byPart = notesByPart(split);
  const files = split.parts.flatMap((part, index): PartFile[] => {
    const tracks = partTracks(take, split, index, byPart[index]!, as);
    if (tracks.length === 0) return [];
    const midi = takeNotesToMidi(take, part.name, tracks, key);
    return [{ file: `${names[index]}.mid`, part: part.id, midi }];
  });
  const aside = asideTracks(take, split);
  if (aside.length > 0) {
    files.push({ file: 'set-aside.mid', part: null, midi: takeNotesToMidi(take, 'Set aside', aside, key) });
  }
  return files;
}

/** All parts as tracks of one file, as they sound, without what is set aside. */
export function partsInOneFile(take: Take, split: Split, name: string, key: Key | null = null): MidiFile {
  const byPart = notesByPart(split);
  const tracks = split.parts.flatMap((_, index) =>
    partTracks(take, split, index, byPart[index]!, 'sounding'),
  );
  return takeNotesToMidi(take, name, tracks, key);
}

/** A part's notes on tracks of one channel each; none where it has no notes. */
function partTracks(
  take: Take,
  split: Split,
  index: number,
  held: readonly number[],
  as: PartsAs,
): TrackOut[] {
  const part = split.parts[index]!;
  if (held.length === 0) return [];
  const controls = controlsOf(take, part.from);
  if (as === 'sounding') {
    const { name, channel, program, pitchMap } = part;
    const sounding = notesOut(take, held).map((note) => ({
      ...note,
      pitch: soundingPitch(pitchMap, note.pitch),
    }));
    return [{ name, channel, program, controls, notes: sounding }];
  }
  const tracks = tracksByChannel(take, held, part.name);
  const first = tracks.find((track) => track.channel === part.channel) ?? tracks[0]!;
  first.controls = controls;
  const program = part.from[0]?.program ?? null;
  for (const track of tracks) track.program = program;
  return tracks;
}

function asideTracks(take: Take, split: Split): TrackOut[] {
  const aside = [...split.owner.keys()].filter((note) => split.owner[note]! < 0);
  return tracksByChannel(take, aside, trackName(take.file, 0) || 'Set aside');
}

function tracksByChannel(take: Take, indices: readonly number[], name: string): TrackOut[] {
  const { notes } = take;
  const channels = [...new Set(indices.map((i) => notes.channel[i]!))].sort((a, b) => a - b);
  return channels.map((channel) => ({
    name,
    channel,
    program: null,
    controls: [],
    notes: notesOut(
      take,
      indices.filter((i) => notes.channel[i] === channel),
    ),
  }));
}

function notesOut({ notes }: Take, indices: readonly number[]): TrackOut['notes'] {
  return indices.map((i) => ({
    tick: notes.tick[i]!,
    duration: notes.duration[i]!,
    pitch: notes.pitch[i]!,
    velocity: notes.velocity[i]!,
    release: notes.release[i]!,
  }));
}
