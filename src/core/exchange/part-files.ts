import { trackName, type Take } from '../capture/take.ts';
import type { MidiFile } from '../midi/smf.ts';
import { clipFromPart } from '../phrase/clip.ts';
import { partNotes, type Split } from '../split/split.ts';
import { takeNotesToMidi, type TrackOut } from './midi-out.ts';
import { safeFileName, uniqueNames } from './naming.ts';

/** A file of one part of a take. */
export interface PartFile {
  /** With its ending. */
  file: string;
  /** Id of the part; null for what is set aside. */
  part: string | null;
  midi: MidiFile;
}

/**
 * A take as files: one a part, and `set-aside.mid` where notes are set aside, so that together they hold
 * every note. Notes keep their channels; a part of several source tracks keeps them apart only where the
 * notes would otherwise not pair again.
 */
export function partFiles(take: Take, split: Split): PartFile[] {
  const held = split.parts.map((_, index) => partNotes(split, index));
  const names = uniqueNames(split.parts.map((part) => safeFileName(part.name)));
  const files = split.parts.flatMap((part, index): PartFile[] => {
    if (held[index]!.length === 0) return [];
    const { controls } = clipFromPart(take, split, index, null);
    const tracks = tracksByChannel(take, held[index]!, part.name);
    const first = tracks.find((track) => track.channel === part.channel) ?? tracks[0]!;
    first.controls = controls;
    const program = part.from[0]?.program ?? null;
    for (const track of tracks) track.program = program;
    return [{ file: `${names[index]}.mid`, part: part.id, midi: takeNotesToMidi(take, part.name, tracks) }];
  });
  const aside = [...split.owner.keys()].filter((note) => split.owner[note]! < 0);
  if (aside.length > 0) {
    const tracks = tracksByChannel(take, aside, trackName(take.file, 0) || 'Set aside');
    files.push({ file: 'set-aside.mid', part: null, midi: takeNotesToMidi(take, 'Set aside', tracks) });
  }
  return files;
}

function tracksByChannel(take: Take, indices: readonly number[], name: string): TrackOut[] {
  const { notes } = take;
  const channels = [...new Set(indices.map((i) => notes.channel[i]!))].sort((a, b) => a - b);
  return channels.map((channel) => ({
    name,
    channel,
    program: null,
    controls: [],
    notes: indices
      .filter((i) => notes.channel[i] === channel)
      .map((i) => ({
        tick: notes.tick[i]!,
        duration: notes.duration[i]!,
        pitch: notes.pitch[i]!,
        velocity: notes.velocity[i]!,
        release: notes.release[i]!,
      })),
  }));
}
