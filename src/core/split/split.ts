import { findStreams, type Stream } from '../capture/streams.ts';
import { trackName, type Take } from '../capture/take.ts';
import { GM_DRUM_CHANNEL, programName } from '../midi/gm.ts';
import { listenAmong, type Heard } from './playing.ts';
import { findRole, type Role, type RoleFinding } from './roles.ts';

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
  /** Pitches that sound as others: a found kit's layout, or a click re-voiced, as GM percussion. */
  pitchMap: readonly PitchPair[];
  /** How much it counts for the harmony, 0..1, where a person has said so; else null, and its role decides. */
  weight: number | null;
  /** Id of the part that a move took it out of; left out where it was found. */
  takenOutOf?: string;
}

/** A pitch as it was captured, and the one it sounds as. */
export type PitchPair = readonly [from: number, to: number];

/** The pitch that a captured one sounds as. */
export function soundingPitch(map: readonly PitchPair[], pitch: number): number {
  return map.find(([from]) => from === pitch)?.[1] ?? pitch;
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
  /**
   * 1 for each note that is locked: a key switch, which stays with its part but is never transposed and counts for
   * no key and no chord.
   */
  locked: Uint8Array;
  /** Ids of proposals that were refused, so that they are not made again. */
  refused: string[];
  /** Tracks that held no notes and were left out. */
  emptyTracks: number;
}

/**
 * Divides a take by track, port, channel, bank and program in force; drums on channel 10 stay one kit. What each part
 * is, is found with the others around it: a bass is what lies under all else, drums fit no harmony.
 */
export function splitTake(take: Take): Split {
  const streams = boundedStreams(findStreams(take));
  const owner = new Int32Array(take.notes.length);
  const shared = tracksOfSeveral(streams);
  const listen = listenAmong(
    take,
    streams.map((stream) => stream.notes),
  );
  const parts = streams.map((stream, index) => {
    for (const note of stream.notes) owner[note] = index;
    return partFrom(take, stream, listen(index), index, shared.has(stream.track));
  });
  numberNames(parts);
  const sounding = new Set(streams.map((stream) => stream.track));
  return {
    parts,
    setAside: [],
    owner,
    locked: new Uint8Array(take.notes.length),
    refused: [],
    emptyTracks: take.file.tracks.length - sounding.size,
  };
}

/** Parts of a take at the most: no music has more, and every part is held against every other. */
const MOST_PARTS = 256;

/** What is beyond the most is gathered in the last: no note is lost. */
function boundedStreams(streams: Stream[]): Stream[] {
  if (streams.length <= MOST_PARTS) return streams;
  const kept = streams.slice(0, MOST_PARTS);
  const last = kept.pop()!;
  const rest = streams.slice(MOST_PARTS - 1);
  const notes = new Int32Array(rest.reduce((sum, stream) => sum + stream.notes.length, 0));
  let at = 0;
  for (const stream of rest) for (const i of stream.notes) notes[at++] = i;
  return [...kept, { ...last, notes: [...notes.sort()] }];
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

function partFrom(take: Take, stream: Stream, heard: Heard, index: number, sharesTrack: boolean): Part {
  const { notes: _, ...from } = stream;
  const isDrumChannel = stream.channel === GM_DRUM_CHANNEL;
  const title = trackName(take.file, stream.track);
  const tells = isTelling(title) && !(sharesTrack && (isDrumChannel || stream.program !== null));
  const finding = findRole({
    isDrumChannel,
    program: stream.program,
    name: tells ? title : '',
    ...heard,
  });
  return {
    id: `p${index + 1}`,
    name: tells ? title : instrumentName(stream, finding.role),
    channel: stream.channel,
    program: stream.program ?? 0,
    from: [from],
    found: true,
    pitchMap: [],
    weight: null,
    ...finding,
  };
}

/** What a part without a name of its own is called: by its program, or by its role where no pitch is meant. */
function instrumentName({ channel, program }: Stream, role: Role): string {
  const unpitched = UNPITCHED_NAMES[role];
  if (channel === GM_DRUM_CHANNEL) return UNPITCHED_NAMES.drums!;
  return (program === null && unpitched) || programName(program ?? 0);
}

const UNPITCHED_NAMES: Partial<Record<Role, string>> = {
  drums: 'Drum kit',
  percussion: 'Percussion',
  slices: 'Slices',
  click: 'Click',
};

/** Whether a track's name says more than that it is a track. */
function isTelling(title: string): boolean {
  return (
    title !== '' &&
    !/^(midi|track|tr|channel|ch|part|staff|instrument|untitled|unnamed)?[\s.#_-]*\d*$/i.test(title)
  );
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

/** A part that has notes: its place among the parts, and its notes, ascending. */
export interface PlayingPart {
  part: Part;
  index: number;
  notes: number[];
}

/** The parts that have notes. */
export function playingParts(split: Split): PlayingPart[] {
  const byPart = notesByPart(split);
  return split.parts.flatMap((part, index) => {
    const notes = byPart[index]!;
    return notes.length > 0 ? [{ part, index, notes }] : [];
  });
}

/** Note indices of every part, ascending: all of them in one go. */
export function notesByPart({ parts, owner }: Pick<Split, 'parts' | 'owner'>): number[][] {
  const byPart: number[][] = parts.map(() => []);
  for (let i = 0; i < owner.length; i++) if (owner[i]! >= 0) byPart[owner[i]!]!.push(i);
  return byPart;
}

export function partIndex(split: Split, id: string): number {
  return split.parts.findIndex((part) => part.id === id);
}
