import { group } from 'd3-array';
import { readTakes, type Take } from '../capture/take.ts';
import { isMeta, META, NotMidiError } from '../midi/smf.ts';
import { readMidiFile } from '../midi/read.ts';
import { decodeText } from '../midi/text.ts';
import { writeMidiFile } from '../midi/write.ts';
import { bpmOf, tempoAt } from '../music/timeline.ts';
import { cutBars, type BarsParams } from '../normalize/bars.ts';
import { clipFromNotes, isPitched, type Clip } from '../phrase/clip.ts';
import { packSwatch } from '../phrase/swatch.ts';
import { sheafGroups } from './handoff.ts';
import { idInText } from './leaving.ts';
import { keyTold, PackError, readManifest, type ToldPack, type ToldPhrase } from './manifest-read.ts';
import { playedSum, type Sha256 } from './played.ts';
import type { Played } from './returned.ts';

/** Files of a pack by their names in it, from the folder on that its manifest lies in. */
export type PackFiles = ReadonlyMap<string, Uint8Array>;

/** A phrase of a pack that came in. */
export interface InPhrase {
  told: ToldPhrase;
  /** The file it is in, its pieces put together where each had its own; null where none came. */
  bytes: Uint8Array | null;
  /** The notes of the file it is made of, by their indices, and where its bars stand in it. */
  origins: number[];
  bars: BarsParams;
  /** Its notes as they came, from the first bar of its file on; null where none came. */
  clip: Clip | null;
  /** Its picture (`packSwatch`); null where none came. */
  swatch: Uint8Array | null;
  /** What is played in it, by its checksum; null where none came. */
  played: string | null;
  /** Its file is, byte for byte, as it was packed. */
  isUntouched: boolean;
  /** Why its file could not be read; empty where it could. */
  problem: string;
}

/** What somebody has put into a pack besides. */
export interface AddedFile {
  file: string;
  bytes: Uint8Array;
  notes: number;
}

export interface PackIn {
  told: ToldPack;
  phrases: InPhrase[];
  added: AddedFile[];
}

/**
 * A pack that came in: each phrase of its manifest with what is played in its file now, wherever that has gone meanwhile, and what somebody
 * has put beside them.
 * @throws PackError where it is none
 */
export function readPack(files: PackFiles, sha256: Sha256): PackIn {
  const manifest = files.get('manifest.json');
  if (!manifest) throw new PackError('there is no manifest.json in it: this is no pack of ours');
  const told = readManifest(manifest);
  const known = new Set([...told.files, ...told.phrases].map(({ file }) => file));
  const strays = [...files]
    .filter(([name]) => /\.midi?$/i.test(name) && !known.has(name))
    .map(([file, bytes]) => ({ file, bytes, take: takeIn(bytes) }));
  const renamed = new Map(strays.map((stray) => [idOf(stray.take), stray]));
  const used = new Set<string>();
  const places = placesIn(told);
  const phrases = [...byId(told.phrases).values()].map((own): InPhrase => {
    const [first] = own;
    const there = own.flatMap(({ file }) => files.get(file) ?? []);
    const stray = there.length === 0 ? renamed.get(first!.id) : undefined;
    if (stray) used.add(stray.file);
    const bytes = stray?.bytes ?? (there.length === own.length ? joined(there) : null);
    const read = bytes ? inPhrase(first!, bytes, places.get(first!.id)!, sha256) : NOTHING;
    const isUntouched =
      there.length === own.length && own.every((one) => sha256(files.get(one.file)!) === one.sha256);
    return { told: first!, bytes, isUntouched, ...read };
  });
  const added = strays
    .filter(({ file }) => !used.has(file))
    .map(({ file, bytes, take }): AddedFile => ({ file, bytes, notes: take?.notes.length ?? 0 }))
    .filter(({ notes }) => notes > 0);
  return { told, phrases, added };
}

/** A phrase in a file of its own, from its first bar on. */
export function phraseInFile(told: ToldPhrase, bytes: Uint8Array, sha256: Sha256): InPhrase {
  const read = inPhrase(told, bytes, { before: 0, isShared: false }, sha256);
  return { told, bytes, isUntouched: false, ...read };
}

type ReadPhrase = Omit<InPhrase, 'told' | 'bytes' | 'isUntouched'>;

const NOTHING: ReadPhrase = {
  ...{ origins: [], bars: { start: 1, count: 1 }, clip: null, swatch: null, played: null, problem: '' },
};

/** Where a phrase stands in its file. */
interface Place {
  /** Bars before it, those that are counted in with. */
  before: number;
  /** Other phrases are in the file too: it is on the track that says its id. */
  isShared: boolean;
}

function inPhrase(
  told: ToldPhrase,
  bytes: Uint8Array,
  { before, isShared }: Place,
  sha256: Sha256,
): ReadPhrase {
  let take: Take | undefined;
  try {
    take = readTakes(bytes)[0];
  } catch (error) {
    if (!(error instanceof NotMidiError)) throw error;
    return { ...NOTHING, problem: error.message };
  }
  const tracks = isShared && take ? tracksOf(take, told.id) : null;
  const origins = take
    ? [...Array(take.notes.length).keys()].filter((i) => tracks?.has(take.notes.track[i]!) ?? true)
    : [];
  if (!take || origins.length === 0) return { ...NOTHING, problem: 'There are no notes in its file.' };
  const { pickupBars, meter } = told;
  const bars: BarsParams = {
    ...{ start: before + pickupBars + 1, count: told.bars, tail: 'keep' },
    ...(pickupBars > 0 ? { pickup: meter.numerator } : {}),
  };
  const uncut = clipFromNotes(take, origins, sourceIn(take, origins, told));
  const whole = { start: before + 1, count: told.bars + pickupBars, tail: 'keep' as const };
  const clip = isShared || before > 0 ? cutBars(uncut, whole).clip : uncut;
  return { origins, bars, clip, swatch: packSwatch(clip), played: playedSum(clip, sha256), problem: '' };
}

/** How the notes of a phrase are taken out of a file that came in. */
export function sourceIn(take: Take, origins: readonly number[], told: ToldPhrase) {
  const streams = new Map(
    origins.map((i) => {
      const [track, channel] = [take.notes.track[i]!, take.notes.channel[i]!];
      return [`${track} ${channel}`, { track, channel }];
    }),
  );
  return {
    ...{ streams: [...streams.values()], role: told.role, key: keyTold(told.key), pitchMap: [], locked: [] },
    ...{ channel: take.notes.channel[origins[0]!]!, program: told.program - 1 },
  };
}

/** Where each phrase stands: in a file of its own at its beginning, in one of all of them after those before it. */
function placesIn({ phrases: rows, out }: ToldPack): Map<string, Place> {
  const countIn = out?.countIn ?? 0;
  const phrases = [...byId(rows).values()].map(([first]) => first!);
  const inFile = new Map<string, number>();
  for (const { file } of phrases) inFile.set(file, (inFile.get(file) ?? 0) + 1);
  const places = new Map<string, Place>();
  let before = countIn;
  const sheaves = phrases.map(({ sheaf, sheafName }) => ({
    sheaf: sheaf === null ? null : { id: sheaf, name: sheafName ?? '' },
  }));
  for (const group of sheafGroups(sheaves)) {
    const longest = Math.max(...group.map((i) => phrases[i]!.bars));
    const pickup = Math.max(...group.map((i) => phrases[i]!.pickupBars));
    for (const i of group) {
      const { id, file, pickupBars } = phrases[i]!;
      const isShared = inFile.get(file)! > 1;
      // Parts of a sheaf begin bar one together, whichever of them have a pickup.
      places.set(id, { isShared, before: isShared ? before + pickup - pickupBars : countIn });
    }
    before += longest + pickup;
  }
  return places;
}

/** The rows of each phrase: several where the pieces of its kit have a file each. */
function byId(rows: readonly ToldPhrase[]): Map<string, ToldPhrase[]> {
  return group(rows, ({ id }) => id);
}

/** Tracks that say of themselves that they are a phrase's. */
function tracksOf({ file }: Take, id: string): Set<number> {
  return new Set(file.tracks.flatMap((events, track) => (idsIn(events).includes(id) ? [track] : [])));
}

type Events = Take['file']['tracks'][number];

function idsIn(events: Events): string[] {
  return events
    .filter((event) => isMeta(event, META.text))
    .flatMap(({ bytes }) => idInText(decodeText(bytes ?? new Uint8Array())) ?? []);
}

/** The phrases that a track says it is of. */
export function idsOfTrack({ file }: Take, track: number): string[] {
  return [...new Set(idsIn(file.tracks[track] ?? []))];
}

function takeIn(bytes: Uint8Array): Take | undefined {
  try {
    return readTakes(bytes)[0];
  } catch {
    return undefined;
  }
}

/** The one phrase that a file says it is of. */
function idOf(take: Take | undefined): string | null {
  const said = new Set(take?.file.tracks.flatMap(idsIn) ?? []);
  return said.size === 1 ? [...said][0]! : null;
}

/** Files of one resolution as one: the pieces of a kit that left in a file each. */
function joined(files: readonly Uint8Array[]): Uint8Array | null {
  if (files.length <= 1) return files[0] ?? null;
  try {
    const read = files.map((bytes) => readMidiFile(bytes).file);
    const [first, ...others] = read;
    return writeMidiFile({ ...first!, format: 1, tracks: [...first!.tracks, ...others.flatMap(({ tracks }) => tracks.slice(1))] }); // prettier-ignore
  } catch {
    return null;
  }
}

/** Its notes as they are laid over others to be compared. */
export function playedOf({ notes, timeline, pickup, ...clip }: Clip, id: string | null = null): Played {
  return {
    notes: notes.map(({ tick, duration, pitch, velocity }) => ({
      ...{ at: tick / timeline.ppq, length: duration / timeline.ppq, pitch, velocity },
    })),
    bpm: bpmOf(tempoAt(timeline, pickup).microseconds),
    isDrums: !isPitched({ role: clip.role }),
    id,
  };
}
