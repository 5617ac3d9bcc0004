import { swingOf } from '../catalog/features.ts';
import { GM_DRUM_CHANNEL, KIT_PIECES, kitPiece, type KitPiece } from '../midi/gm.ts';
import { CONTROLLER, STATUS, type MidiFile } from '../midi/smf.ts';
import type { Marker } from '../midi/timing.ts';
import { writeMidiFile } from '../midi/write.ts';
import { chordSymbol, movedChord, parseSymbol } from '../music/chord.ts';
import { intervalBetween, type Key } from '../music/key.ts';
import { barTicks, beatTicks, makeTimeline, meterAt, tempoAt, type Timeline } from '../music/timeline.ts';
import { fitted, type Fitting } from '../normalize/fitting.ts';
import { activeStep, type Recipe } from '../normalize/recipe.ts';
import { LEAVING_PPQ, setResolution } from '../normalize/resolution.ts';
import { isPitched, type Clip, type Control } from '../phrase/clip.ts';
import { safeFileName } from '../phrase/naming.ts';
import { asCaptured } from '../reuse/in-project.ts';
import { onCard, type CardChange } from './card.ts';
import { fileNamesFrom, nameFacts, type HandOff, type KeyChange, type PhraseOut } from './handoff.ts';
import { clipToMidi, inOneTrack, pickupMarkers, tracksToMidi, type TrackOut } from './midi-out.ts';
import { OUT, type ControllersOut, type OutOptions, type PackLayout } from './out-options.ts';

/** Controllers that choose or place sounds: bank, volume, pan, bank (fine). */
const SOUND_CONTROLLERS: ReadonlySet<number> = new Set([0, 7, 10, 32]);

/** Whether a message of a channel chooses or places a sound, rather than plays it. */
export function placesSound(kind: number, data1: number): boolean {
  return kind === STATUS.controller && SOUND_CONTROLLERS.has(data1);
}

/** A phrase of a hand-off as it leaves: its file in the pack, its clip at the resolution it leaves with. */
export interface LeavingPhrase {
  phrase: PhraseOut;
  /** The piece of its kit, where each has a file of its own. */
  piece: KitPiece | null;
  clip: Clip;
  /** What the recipient's card has changed, the unusual first. */
  changes: CardChange[];
  path: string;
  bytes: Uint8Array;
}

type How = Pick<HandOff, 'out' | 'card'>;

/** The files of the phrases, in order. The same hand-off gives the same bytes. */
export function leavingPhrases(handOff: HandOff): LeavingPhrase[] {
  const files = leavingParts(handOff);
  const names = fileNamesFrom(
    handOff.pattern,
    files.map(({ phrase, piece }) => nameFacts({ ...phrase, name: nameOf(phrase.name, piece) })),
  );
  return files.map((file, i) => ({
    ...file,
    path: `${file.folder}${names[i]}.mid`,
    bytes: fileOf(file, handOff.out),
  }));
}

/** The files of some phrases, each under the name that is given for its phrase. */
export function namedFiles(
  handOff: HandOff,
  names: readonly string[],
): { phraseId: string; piece: string; path: string; bytes: Uint8Array }[] {
  const nameById = new Map(handOff.phrases.map(({ id }, i) => [id, names[i]!]));
  return leavingParts(handOff).map((file) => {
    const { phrase, piece, folder } = file;
    const name = nameById.get(phrase.id)! + (piece ? `-${safeFileName(piece)}` : '');
    return {
      ...{ phraseId: phrase.id, piece: piece ?? '', path: `${folder}${name}.mid` },
      bytes: fileOf(file, handOff.out),
    };
  });
}

type LeavingPart = Omit<LeavingPhrase, 'path' | 'bytes'> & { folder: string };

/** Each phrase as it leaves, a kit in its pieces where it leaves so; and the folder that it lies in. */
function leavingParts(handOff: HandOff): LeavingPart[] {
  const { out, layout } = handOff;
  return handOff.phrases.flatMap((phrase): LeavingPart[] => {
    const { clip, changes } = leavingClip(phrase, handOff, leavingPpq(phrase.recipe, out));
    const whole = { phrase, piece: null, clip, changes, folder: FOLDERS[layout](phrase, clip) };
    if (out.kit !== 'files' || isPitched(clip)) return [whole];
    return piecesOf(phrase.clip, clip).map(([piece, one]) => ({ ...whole, piece, clip: one }));
  });
}

/** A phrase for somebody, counted in ticks of a resolution: fitted, with what travels of its controllers. */
export function leavingClip(
  phrase: Pick<PhraseOut, 'clip' | 'fitting' | 'own'>,
  { out, card }: How,
  ppq: number,
): { clip: Clip; changes: CardChange[] } {
  const { clip, changes } = fittedFor(phrase, { out, card });
  const at = setResolution(withTempo(clip, out.tempo), { ppq }).clip;
  const controls = at.controls.filter((one) => travels(one, out.controllers));
  if (out.sounds === 'suggested') return { clip: { ...at, controls }, changes };
  const plain = controls.filter(({ kind, data1 }) => !placesSound(kind, data1));
  return {
    clip: { ...at, channel: isPitched(at) ? 0 : GM_DRUM_CHANNEL, controls: plain },
    changes: changes.filter(({ what }) => what !== 'volume'),
  };
}

function fittedFor(
  { clip, fitting, own }: Pick<PhraseOut, 'clip' | 'fitting' | 'own'>,
  { out, card }: How,
): { clip: Clip; changes: CardChange[] } {
  const to = own?.fitting ?? out.fitting;
  if (to === 'plain') return { clip, changes: [] };
  if (to === 'card' && card) return onCard(clip, fitting, card);
  return { clip: fitted(clip, fitting), changes: [] };
}

/** What a phrase is fitted by as it leaves: nothing of its own where it leaves plain. */
export function fittingOf({ fitting, own }: PhraseOut, { out }: Pick<HandOff, 'out'>): Fitting {
  return (own?.fitting ?? out.fitting) === 'plain' ? {} : fitting;
}

/** Its tempo curve, or the tempo of bar one throughout. */
function withTempo(clip: Clip, tempo: OutOptions['tempo']): Clip {
  if (tempo === 'curve') return clip;
  const { timeline, pickup } = clip;
  const { microseconds } = tempoAt(timeline, pickup);
  return { ...clip, timeline: makeTimeline(timeline.ppq, [{ tick: 0, microseconds }], timeline.meters) };
}

function travels({ kind, data1 }: Control, which: ControllersOut): boolean {
  if (which === 'all') return true;
  // What places a sound is no playing: it goes with the sound.
  if (placesSound(kind, data1)) return true;
  if (which === 'none') return false;
  return kind === STATUS.pitchBend || (kind === STATUS.controller && data1 === CONTROLLER.sustain);
}

/** A kit's pieces as clips, from the floor up: told apart by what its hits were before they were mapped to anybody's keys. */
function piecesOf(heard: Clip, leaving: Clip): [KitPiece, Clip][] {
  const pieces = new Map(heard.notes.map(({ origin, pitch }) => [origin, kitPiece(pitch)]));
  return KIT_PIECES.flatMap((piece): [KitPiece, Clip][] => {
    const notes = leaving.notes.filter(({ origin }) => pieces.get(origin) === piece);
    return notes.length > 0 ? [[piece, { ...leaving, notes }]] : [];
  });
}

/** A phrase, or the piece of its kit that is a file or track of its own. */
export function nameOf(name: string, piece: KitPiece | null): string {
  return piece === null ? name : `${name}, ${piece}`;
}

function fileOf(
  { phrase, piece, clip }: Pick<LeavingPhrase, 'phrase' | 'piece' | 'clip'>,
  out: OutOptions,
): Uint8Array {
  const name = nameOf(phrase.name, piece);
  const tracks = tracksOf({ phrase, name, clip }, out);
  const marks = [...pickupMarkers(clip, 0), ...(out.markers ? marksOf(phrase, clip) : [])];
  const { timeline, length } = clip;
  return written({ timeline, keys: keysIn(phrase, clip), name, length, markers: marks }, tracks, out);
}

/** A phrase on its track, or a kit on a track a piece; plain without its program. */
export function tracksOf(
  { phrase, name, clip }: { phrase: PhraseOut; name: string; clip: Clip },
  out: OutOptions,
): TrackOut[] {
  const track = (title: string, { notes }: Pick<Clip, 'notes'>, controls: readonly Control[]): TrackOut => ({
    ...{ name: title, channel: clip.channel, notes, controls },
    program: out.sounds === 'plain' ? null : clip.program,
    ...(phrase.saysId ? { texts: [idText(phrase.id)] } : {}),
  });
  if (out.kit !== 'tracks' || isPitched(clip)) return [track(name, clip, clip.controls)];
  return piecesOf(phrase.clip, clip).map(([piece, one], i) =>
    track(nameOf(name, piece), one, i === 0 ? clip.controls : []),
  );
}

const ID_TEXT = 'hollow-basket phrase ';

/** What a file says of the phrase in it, for whoever gets it back. */
function idText(id: string): string {
  return ID_TEXT + id;
}

/** The phrase that a text of a file says it is of; null where it says none. */
export function idInText(text: string): string | null {
  return text.startsWith(ID_TEXT) ? text.slice(ID_TEXT.length) : null;
}

/** A file as it leaves: after its count-in, on tracks of its own or on one. */
export function written(
  head: Parameters<typeof tracksToMidi>[0],
  tracks: readonly TrackOut[],
  { format, countIn }: Pick<OutOptions, 'format' | 'countIn'>,
): Uint8Array {
  const file = withCountIn(head, tracks, countIn);
  return writeMidiFile(format === 0 ? inOneTrack(file) : file);
}

/** Ticks of some empty bars in the meter that something begins with. */
export function countInTicks(timeline: Timeline, bars: number): number {
  return bars * barTicks(timeline.ppq, meterAt(timeline, 0));
}

/** Empty bars before everything else, in the meter and tempo it begins with. */
function withCountIn(
  head: Parameters<typeof tracksToMidi>[0],
  tracks: readonly TrackOut[],
  bars: number,
): MidiFile {
  if (bars === 0) return tracksToMidi(head, tracks);
  const by = countInTicks(head.timeline, bars);
  const { timeline } = head;
  const later = <Item extends { tick: number }>(item: Item): Item => ({ ...item, tick: item.tick + by });
  const after = <Change extends { tick: number }>(change: Change) =>
    change.tick === 0 ? change : later(change);
  const moved: Timeline = makeTimeline(timeline.ppq, timeline.tempos.map(after), timeline.meters.map(after));
  const markers = [
    { tick: 0, text: 'count-in' },
    ...(head.markers?.some(({ tick }) => tick === 0) ? [] : [{ tick: by, text: 'bar 1' }]),
    ...(head.markers ?? []).map(later),
  ];
  return tracksToMidi(
    { ...head, timeline: moved, keys: head.keys.map(after), length: head.length + by, markers },
    tracks.map((track) => ({ ...track, notes: track.notes.map(later), controls: track.controls.map(later) })),
  );
}

/** The sections that begin in a phrase, and its chords where they begin, in the key it leaves in. */
export function marksOf(phrase: PhraseOut, clip: Clip): Marker[] {
  const sections = inTicksOf(clip, phrase, phrase.marks ?? []);
  return [...sections, ...chordMarks(phrase, clip)].sort((a, b) => a.tick - b.tick);
}

/** Its keys where they begin; none where it has no pitches. */
export function keysIn(phrase: PhraseOut, clip: Clip): KeyChange[] {
  if (phrase.keys) return inTicksOf(clip, phrase, phrase.keys);
  return clip.key ? [{ tick: 0, ...clip.key }] : [];
}

/** What stands at ticks of a phrase, at those of its clip as it leaves. */
function inTicksOf<Item extends { tick: number }>(
  leaving: Clip,
  { clip }: PhraseOut,
  items: readonly Item[],
): Item[] {
  const scale = leaving.timeline.ppq / clip.timeline.ppq;
  return items.map((item) => ({ ...item, tick: Math.round(item.tick * scale) }));
}

function chordMarks({ changes, capturedKey }: PhraseOut, { timeline, pickup, key, length }: Clip): Marker[] {
  const beat = beatTicks(timeline.ppq, meterAt(timeline, pickup));
  return (changes ?? [])
    .filter(({ symbol }) => symbol)
    .map(({ beat: at, symbol }) => ({
      tick: pickup + Math.round(at * beat),
      text: symbolIn(symbol, capturedKey, key),
    }))
    .filter(({ tick }) => tick < length);
}

/** A chord of one key as it is called after it went to another; as it was where either is unknown. */
export function symbolIn(symbol: string, from: Key | null, to: Key | null): string {
  const chord = from && to ? parseSymbol(symbol) : undefined;
  if (!chord || !from || !to || from.tonic === to.tonic) return symbol;
  return chordSymbol(movedChord(chord, intervalBetween(from.tonic, to.tonic)), to);
}

/** The folder that a phrase lies in. */
const FOLDERS: Readonly<Record<PackLayout, (phrase: PhraseOut, clip: Clip) => string>> = {
  folders: (_, clip) => folderOf(clip),
  sections: ({ purpose }) => `${purpose ?? 'elsewhere'}/`,
  // What stands above the first heading lies beside the folders.
  headings: ({ heading }) => (heading ? `${folderNamed(heading)}/` : ''),
  flat: () => '',
};

/** Folders of a pack or mirror that are no heading's. */
const RESERVED = ['together', 'set-aside'];

function folderNamed(heading: string): string {
  const name = safeFileName(heading);
  return RESERVED.includes(name.toLowerCase()) ? `${name}-phrases` : name;
}

/** Swing over this share stands in a folder of its own: beside straight parts it is heard as wrong (common practice). */
const SWUNG = 0.53;

/** Meter, with the swing where there is one, then the role. */
function folderOf(clip: Clip): string {
  const meter = meterAt(clip.timeline, clip.pickup);
  const swung = (swingOrNull(clip) ?? 0) > SWUNG ? '-swing' : '';
  return `${meter.numerator}-${meter.denominator}${swung}/${clip.role}/`;
}

/** The long share of a pair of eighths; null where nothing tells. */
export function swingOrNull(clip: Clip): number | null {
  const swing = swingOf(clip);
  return swing < 0 ? null : Math.round(swing * 1000) / 1000;
}

/** Ticks a quarter note with which a phrase leaves: what was chosen, else what its recipe says, else what most programs use. */
export function leavingPpq(recipe: Recipe, out: Pick<OutOptions, 'ppq'>): number {
  return out.ppq ?? activeStep(recipe, 'resolution')?.ppq ?? LEAVING_PPQ;
}

/** One kept phrase as a Standard MIDI File: in the key it was captured in, fitted, at the resolution of its recipe. */
export function exportedPhrase(phrase: {
  name: string;
  clip: Clip;
  takeKey: Key | null;
  fitting: Fitting;
  recipe: Recipe;
}): Uint8Array {
  const captured = asCaptured(phrase.clip, phrase.takeKey);
  const { clip } = leavingClip(
    { clip: captured, fitting: phrase.fitting },
    { out: OUT, card: null },
    leavingPpq(phrase.recipe, OUT),
  );
  return writeMidiFile(clipToMidi(clip, phrase.name));
}
