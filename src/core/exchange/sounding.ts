import { lineChord } from '../harmonize/line.ts';
import { lineClip } from '../harmonize/made-clips.ts';
import { meterAt } from '../music/timeline.ts';
import { setResolution } from '../normalize/resolution.ts';
import { bpmOfClip, isPitched, type Clip } from '../phrase/clip.ts';
import type { Role } from '../split/roles.ts';
import type { HandOff, PhraseOut } from './handoff.ts';
import { symbolIn, tracksOf, written, type LeavingPhrase } from './leaving.ts';
import type { TrackOut } from './midi-out.ts';
import { OUT } from './out-options.ts';
import { togetherFiles } from './together.ts';

/** Which previews stand in a pack. */
export interface PreviewsWanted {
  /** Of what sounds together too. */
  sums: boolean;
  /** Pitched phrases are heard over a soft bed of their chords. */
  beds: boolean;
}

/** What a file of a pack sounds like, to be rendered. */
export interface Sounding {
  path: string;
  midi: Uint8Array;
  /** Null where several sound together. */
  role: Role | null;
}

/** What there is to be heard of a hand-off: each phrase, and what sounds together where it is wanted. */
export function soundings(
  handOff: HandOff,
  leaving: readonly LeavingPhrase[],
  { sums, beds }: PreviewsWanted,
): Sounding[] {
  const each = leaving.map((one): Sounding => ({
    path: one.path,
    midi: soundingFile(one, beds),
    role: one.clip.role,
  }));
  if (!sums) return each;
  // A plain one's sounds are those of the phrases too, and nobody counts in to a preview.
  const heard = { ...handOff, out: { ...handOff.out, sounds: 'suggested' as const, countIn: 0 } };
  const together = togetherFiles(heard, leaving);
  return [...each, ...together.map(({ path, bytes }) => ({ path, midi: bytes, role: null }))];
}

/** What a preview plays: the notes of a file with the sound that is suggested for them, a plain one's too. */
function soundingFile({ phrase, clip }: LeavingPhrase, hasBed: boolean): Uint8Array {
  const { channel, program } = phrase.clip;
  const tracks = tracksOf({ phrase, name: phrase.name, clip: { ...clip, channel, program } }, OUT);
  const bed = hasBed ? bedOf(phrase, clip, channel) : [];
  const { timeline, length } = clip;
  return written({ timeline, keys: [], name: phrase.name, length }, [...tracks, ...bed], OUT);
}

/** A warm pad (General MIDI 90), well under what is listened to. */
const BED = { program: 89, velocity: 38 };

/** The chords of a pitched phrase, held under it; none where none are known. */
function bedOf({ changes, capturedKey }: PhraseOut, clip: Clip, channel: number): TrackOut[] {
  if (!isPitched(clip) || !changes || changes.length === 0) return [];
  const { timeline, pickup, key, length } = clip;
  const meter = meterAt(timeline, pickup);
  const line = changes.map(({ symbol, beats }) => lineChord(symbolIn(symbol, capturedKey, key), beats));
  const beats = changes.reduce((sum, one) => sum + one.beats, 0);
  const bars = Math.ceil(beats / meter.numerator - 1e-6);
  const laid = lineClip(line, { key, bpm: bpmOfClip(clip), meter, bars });
  const notes = setResolution(laid, { ppq: timeline.ppq })
    .clip.notes.map((note) => ({ ...note, tick: note.tick + pickup, velocity: BED.velocity }))
    .filter(({ tick, duration }) => tick + duration <= length);
  const free = channel === 0 ? 1 : 0;
  return notes.length > 0
    ? [{ name: 'chords', channel: free, program: BED.program, notes, controls: [] }]
    : [];
}
