import { findStreams, type Stream } from '../capture/streams.ts';
import { trackName, type Take } from '../capture/take.ts';
import { GM_DRUM_CHANNEL, programName } from '../midi/gm.ts';
import { findRole, type RoleFinding } from './roles.ts';

/** One instrument of a take. Its notes are indices into the take's, never copies. */
export interface Part extends RoleFinding {
  /** Stays the same whatever is done to the part. */
  id: string;
  name: string;
  /** Channel 0..15 and program 0..127 by which the part sounds. */
  channel: number;
  program: number;
  from: Omit<Stream, 'notes'>[];
  /** False where a person has said what it is. */
  found: boolean;
}

/** Notes that were set aside together: why, and the part (an index) they go back to. */
export interface SetAside {
  reason: string;
  part: number;
}

/**
 * A take divided among parts. `owner` says for each note which part has it (an index into `parts`) or,
 * as -1 - s, that it is set aside with `setAside[s]`. Every note has exactly one owner, so the tally holds
 * by construction. A part or an entry that has lost all its notes keeps its place, so that indices last.
 */
export interface Split {
  parts: Part[];
  setAside: SetAside[];
  owner: Int32Array;
  /** Tracks that held no notes and were left out. */
  emptyTracks: number;
}

/** Divides a take by track, port, channel, bank and program in force; drums on channel 10 stay one kit. */
export function splitTake(take: Take): Split {
  const streams = findStreams(take);
  const owner = new Int32Array(take.notes.length);
  const shared = tracksOfSeveral(streams);
  const parts = streams.map((stream, index) => {
    for (const note of stream.notes) owner[note] = index;
    return partFrom(take, stream, index, shared.has(stream.track));
  });
  numberNames(parts);
  const sounding = new Set(streams.map((stream) => stream.track));
  return { parts, setAside: [], owner, emptyTracks: take.file.tracks.length - sounding.size };
}

/** Tracks that hold several channels: their names tell of a device or a song, not of one instrument. */
function tracksOfSeveral(streams: readonly Stream[]): Set<number> {
  const channelOf = new Map<number, number>();
  const several = new Set<number>();
  for (const { track, channel } of streams) {
    if ((channelOf.get(track) ?? channel) !== channel) several.add(track);
    channelOf.set(track, channel);
  }
  return several;
}

function partFrom(take: Take, stream: Stream, index: number, sharesTrack: boolean): Part {
  const { notes: indices, ...from } = stream;
  const isDrumChannel = stream.channel === GM_DRUM_CHANNEL;
  const title = trackName(take.file, stream.track);
  const tells = isTelling(title) && !(sharesTrack && (isDrumChannel || stream.program !== null));
  const finding = findRole({
    isDrumChannel,
    program: stream.program,
    name: tells ? title : '',
    ...describePlaying(take, indices),
  });
  return {
    id: `p${index + 1}`,
    name: tells ? title : isDrumChannel ? 'Drum kit' : programName(stream.program ?? 0),
    channel: stream.channel,
    program: stream.program ?? 0,
    from: [from],
    found: true,
    ...finding,
  };
}

/** Whether a track's name says more than that it is a track. */
function isTelling(title: string): boolean {
  return (
    title !== '' &&
    !/^(midi|track|tr|channel|ch|part|staff|instrument|untitled|unnamed)?[\s.#_-]*\d*$/i.test(title)
  );
}

/** Range, polyphony, density and length of some notes. */
export function describePlaying(
  take: Take,
  indices: readonly number[],
): { low: number; median: number; high: number; polyphony: number; density: number; medianLength: number } {
  const { notes, timing } = take;
  const ppq = timing.timeline.ppq;
  const pitches = Uint8Array.from(indices, (i) => notes.pitch[i]!).sort();
  const lengths = Int32Array.from(indices, (i) => notes.duration[i]!).sort();
  const onsets = new Set(indices.map((i) => notes.tick[i]!));
  let sounding = 0;
  let covered = 0;
  let coveredUntil = -1;
  for (const i of indices) {
    const start = notes.tick[i]!;
    const end = start + notes.duration[i]!;
    sounding += notes.duration[i]!;
    covered += Math.max(0, end - Math.max(start, coveredUntil));
    coveredUntil = Math.max(coveredUntil, end);
  }
  const first = notes.tick[indices[0]!] ?? 0;
  const last = notes.tick[indices.at(-1)!] ?? 0;
  return {
    low: pitches[0] ?? 0,
    median: pitches[pitches.length >> 1] ?? 0,
    high: pitches.at(-1) ?? 0,
    polyphony: covered > 0 ? sounding / covered : 1,
    density: last > first ? (onsets.size * ppq) / (last - first) : 0,
    medianLength: (lengths[lengths.length >> 1] ?? 0) / ppq,
  };
}

/** "Bass", "Bass" becomes "Bass", "Bass 2". */
function numberNames(parts: Part[]): void {
  const taken = new Set<string>();
  for (const part of parts) {
    let name = part.name;
    for (let n = 2; taken.has(name); n++) name = `${part.name} ${n}`;
    taken.add(name);
    part.name = name;
  }
}

/** Note indices of a part, ascending. */
export function partNotes(split: Split, part: number): number[] {
  const indices: number[] = [];
  for (let i = 0; i < split.owner.length; i++) if (split.owner[i] === part) indices.push(i);
  return indices;
}

export function partIndex(split: Split, id: string): number {
  return split.parts.findIndex((part) => part.id === id);
}
