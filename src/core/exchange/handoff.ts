import type { ChangesChord } from '../analyze/changes.ts';
import { swingOf } from '../catalog/features.ts';
import { keyName, sameKey, type Key } from '../music/key.ts';
import type { Purpose } from '../music/form.ts';
import {
  barTicks,
  bpmOf,
  makeTimeline,
  meterAt,
  type MeterChange,
  roundedBpm,
  tempoAt,
  type TempoChange,
} from '../music/timeline.ts';
import { fitted, fittingInWords, isFitting, type Fitting } from '../normalize/fitting.ts';
import { activeStep, type Recipe } from '../normalize/recipe.ts';
import { LEAVING_PPQ, setResolution } from '../normalize/resolution.ts';
import { isPitched, type Clip } from '../phrase/clip.ts';
import { asCaptured } from '../reuse/in-project.ts';
import { writeMidiFile } from '../midi/write.ts';
import { GM_DRUM_CHANNEL, programName } from '../midi/gm.ts';
import { STATUS, type MidiFile } from '../midi/smf.ts';
import type { Marker } from '../midi/timing.ts';
import {
  PITCHED_CHANNELS,
  placesOf,
  clipToMidi,
  pickupMarkers,
  tracksToMidi,
  type TrackOut,
} from './midi-out.ts';
import { clipFacts, fileName, safeFileName, uniqueNames } from '../phrase/naming.ts';
import { plural } from '../words.ts';

/** A phrase as it is handed off. */
export interface PhraseOut {
  id: string;
  name: string;
  clip: Clip;
  bars: number;
  tags: readonly string[];
  project: string;
  /** Phrases with the same sheaf sound together; null stands alone. */
  sheaf: { id: string; name: string } | null;
  source: { take: string; sha256: string; part: string; startBar: number };
  recipe: Recipe;
  /** What was done on the way out for the sound that will play it. */
  fitting: Fitting;
  rights: string;
  /** Whose it is; empty where nobody said. */
  contributor: string;
  /** What it is for; null where nobody said. */
  purpose: Purpose | null;
  /** The chords of its bars in its own key; null where none are known. */
  changes: readonly ChangesChord[] | null;
  /** The keys it was captured and is kept in; null where unknown or unpitched. */
  capturedKey: Key | null;
  keptKey: Key | null;
  /** The phrases it was made of, and what was done. */
  parents: readonly { id: string; done: string }[];
}

export interface HandOff {
  title: string;
  pattern: string;
  phrases: readonly PhraseOut[];
  /** ISO 8601. Passed in, so that packing is repeatable. */
  madeAt: string;
  /** Folders by meter and role, or all files side by side. */
  layout: PackLayout;
  /** Nothing in the files chooses sounds: no program, bank, volume or place; channel 1, drums 10. */
  plain: boolean;
}

/** How the files of a pack lie. */
export const PACK_LAYOUTS = ['folders', 'flat'] as const;
export type PackLayout = (typeof PACK_LAYOUTS)[number];

/** A file of the pack: its folders and name within the pack, and its bytes. */
export interface PackedFile {
  name: string;
  bytes: Uint8Array;
}

/** A preview of a file of the pack: its sound, and its loudest sample, 0..1. */
export interface Preview {
  wav: Uint8Array;
  peak: number;
}

/** Version of manifest.json; docs/formats/manifest.md describes it. */
const MANIFEST_VERSION = 2;

/** Controllers that choose or place sounds: bank, volume, pan, bank (fine). */
export const SOUND_CONTROLLERS: ReadonlySet<number> = new Set([0, 7, 10, 32]);

/** A phrase of a hand-off as it leaves: its file in the pack, its clip at the resolution it leaves with. */
export interface LeavingPhrase {
  phrase: PhraseOut;
  clip: Clip;
  path: string;
  bytes: Uint8Array;
}

/** The files of the phrases, in order. The same hand-off gives the same bytes. */
export function leavingPhrases(handOff: HandOff): LeavingPhrase[] {
  const names = phraseFileNames(handOff);
  return handOff.phrases.map((phrase, i) => {
    const clip = asLeaving(phrase, handOff.plain, leavingPpq(phrase.recipe));
    const midi = clipToMidi(clip, phrase.name, { plain: handOff.plain });
    const folder = handOff.layout === 'folders' ? folderOf(clip) : '';
    return { phrase, clip, path: `${folder}${names[i]}.mid`, bytes: writeMidiFile(midi) };
  });
}

/** What a preview plays: the file of a phrase with its suggested sound, a plain one's too. */
export function soundingFile({ phrase, clip }: LeavingPhrase): Uint8Array {
  const { channel, program } = phrase.clip;
  return writeMidiFile(clipToMidi({ ...clip, channel, program }, phrase.name));
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
function swingOrNull(clip: Clip): number | null {
  const swing = swingOf(clip);
  return swing < 0 ? null : Math.round(swing * 1000) / 1000;
}

/**
 * Everything in a hand-off: a MIDI file for each phrase, one of all of them, one of each sheaf where there are folders, previews where they were
 * made, `manifest.json` for machines and `read-me.txt` for people. The same hand-off gives the same bytes.
 * @param sha256 checksum of some bytes, in hexadecimal digits
 * @param previews by the paths of the files they are of
 */
export function packHandOff(
  handOff: HandOff,
  sha256: (bytes: Uint8Array) => string,
  {
    phrases = leavingPhrases(handOff),
    previews = new Map(),
  }: { phrases?: readonly LeavingPhrase[]; previews?: ReadonlyMap<string, Preview> } = {},
): PackedFile[] {
  const together = togetherFiles(handOff, phrases);
  const midi = [...phrases.map(({ path, bytes }) => ({ name: path, bytes })), ...together];
  const files = midi.flatMap((file) => {
    const preview = previews.get(file.name);
    return preview ? [file, { name: previewPath(file.name), bytes: preview.wav }] : [file];
  });
  const encoder = new TextEncoder();
  const sums = new Map(files.map(({ name, bytes }) => [name, sha256(bytes)]));
  const manifest = makeManifest(handOff, phrases, together[0]?.name ?? null, sums);
  return [
    ...files,
    { name: 'manifest.json', bytes: encoder.encode(`${JSON.stringify(manifest, null, 2)}\n`) },
    { name: 'read-me.txt', bytes: encoder.encode(readableNote(handOff, phrases)) },
  ];
}

/** Where the preview of a file stands: beside it. */
export function previewPath(path: string): string {
  return path.replace(/\.mid$/, '.wav');
}

/** One file of all phrases, and in folders one of each sheaf. Sums stand in a folder of their own. */
function togetherFiles(handOff: HandOff, phrases: readonly LeavingPhrase[]): PackedFile[] {
  if (phrases.length === 0) return [];
  const isFlat = handOff.layout === 'flat';
  const title = safeFileName(handOff.title);
  const all = sheafGroups(handOff.phrases);
  // One sheaf that is all of it is there already.
  const sheaves = isFlat || all.length === 1 ? [] : all.filter((group) => group.length > 1);
  const groups = [
    { name: isFlat ? `${title}_all` : title, of: handOff },
    ...sheaves.map((group) => ({
      name: safeFileName(handOff.phrases[group[0]!]!.sheaf!.name),
      of: { ...handOff, phrases: group.map((i) => handOff.phrases[i]!) },
    })),
  ];
  const beside = isFlat ? phrases.map(({ path }) => path.replace(/\.mid$/, '')) : [];
  const names = uniqueNames([...beside, ...groups.map(({ name }) => name)]).slice(beside.length);
  return groups.map(({ of }, k) => ({
    name: `${isFlat ? '' : 'together/'}${names[k]}.mid`,
    bytes: writeMidiFile(combine(of)),
  }));
}

/** A phrase at the resolution it leaves with; in a plain pack without what chooses sounds. */
function asLeaving({ clip }: Pick<PhraseOut, 'clip'>, plain: boolean, ppq: number): Clip {
  const at = setResolution(clip, { ppq }).clip;
  if (!plain) return at;
  const chooses = ({ kind, data1 }: Clip['controls'][number]) =>
    kind === STATUS.controller && SOUND_CONTROLLERS.has(data1);
  return {
    ...at,
    channel: isPitched(at) ? 0 : GM_DRUM_CHANNEL,
    controls: at.controls.filter((one) => !chooses(one)),
  };
}

/** One kept phrase as a Standard MIDI File: in the key it was captured in, fitted, at the resolution of its recipe. */
export function exportedPhrase(phrase: {
  name: string;
  clip: Clip;
  takeKey: Key | null;
  fitting: Fitting;
  recipe: Recipe;
}): Uint8Array {
  const clip = fitted(asCaptured(phrase.clip, phrase.takeKey), phrase.fitting);
  return writeMidiFile(clipToMidi(asLeaving({ clip }, false, leavingPpq(phrase.recipe)), phrase.name));
}

/** Ticks a quarter note with which a phrase leaves: what its recipe says, else what most programs use. */
export function leavingPpq(recipe: Recipe): number {
  return activeStep(recipe, 'resolution')?.ppq ?? LEAVING_PPQ;
}

/** File names of the phrases, without ending, in order; no two alike. */
export function phraseFileNames(handOff: Pick<HandOff, 'pattern' | 'phrases'>): string[] {
  const digits = Math.max(2, String(handOff.phrases.length).length);
  return uniqueNames(
    handOff.phrases.map((phrase, index) =>
      fileName(handOff.pattern, {
        ...facts(phrase),
        number: String(index + 1).padStart(digits, '0'),
      }),
    ),
  );
}

function facts(phrase: PhraseOut) {
  const own = clipFacts(phrase.clip);
  return {
    ...own,
    key: own.key || 'nokey',
    bars: String(phrase.bars),
    name: phrase.name,
    project: phrase.project,
    source: phrase.source.take,
  };
}

/** BPM at the start, to a hundredth. */
function tempoOf(clip: Clip): number {
  return roundedBpm(bpmOf(tempoAt(clip.timeline, 0).microseconds));
}

function makeManifest(
  handOff: HandOff,
  leaving: readonly LeavingPhrase[],
  combined: string | null,
  sums: ReadonlyMap<string, string>,
) {
  return {
    format: 'hollow-basket-hand-off',
    version: MANIFEST_VERSION,
    title: handOff.title,
    madeAt: handOff.madeAt,
    combined,
    layout: handOff.layout,
    plain: handOff.plain,
    files: [...sums].map(([file, sum]) => ({ file, sha256: sum })),
    phrases: leaving.map(({ phrase, path }) => {
      const meter = meterAt(phrase.clip.timeline, 0);
      return {
        file: path,
        sha256: sums.get(path)!,
        ...(sums.has(previewPath(path)) ? { preview: previewPath(path) } : {}),
        id: phrase.id,
        name: phrase.name,
        role: phrase.clip.role,
        purpose: phrase.purpose,
        key: phrase.clip.key && { ...keyParts(phrase.clip.key) },
        capturedKey: phrase.capturedKey && keyParts(phrase.capturedKey),
        keptKey: phrase.keptKey && keyParts(phrase.keptKey),
        changes: phrase.changes?.map(({ beat, beats, symbol }) => ({ beat, beats, symbol })) ?? null,
        swing: swingOrNull(phrase.clip),
        bpm: tempoOf(phrase.clip),
        meter: { numerator: meter.numerator, denominator: meter.denominator },
        bars: phrase.bars,
        notes: phrase.clip.notes.length,
        channel: phrase.clip.channel + 1,
        program: phrase.clip.program + 1,
        ppq: leavingPpq(phrase.recipe),
        sheaf: phrase.sheaf?.id ?? null,
        sheafName: phrase.sheaf?.name ?? null,
        tags: phrase.tags,
        rights: phrase.rights,
        contributor: phrase.contributor,
        parents: phrase.parents,
        source: phrase.source,
        recipe: phrase.recipe,
        ...(phrase.clip.pickup > 0 ? { pickupBars: 1 } : {}),
        ...(isFitting(phrase.fitting) ? { fitting: phrase.fitting } : {}),
      };
    }),
  };
}

function keyParts(key: Key) {
  const [tonic, mode] = keyName(key).split(' ');
  return { tonic, mode };
}

/** What a person wants to know before opening anything: tempo, key and meter first, then one block a phrase, in plain words. */
function readableNote(handOff: HandOff, leaving: readonly LeavingPhrase[]): string {
  const lines = [
    handOff.title,
    '='.repeat(handOff.title.length),
    '',
    ...commonFacts(handOff),
    '',
    `${plural(handOff.phrases.length, 'phrase')}, packed ${handOff.madeAt.slice(0, 10)}.`,
    'Each .mid file is a Standard MIDI File with its tempo, meter and key inside; middle C is C4.',
    ...(handOff.layout === 'folders' ? ['What sounds together is in the folder "together".'] : []),
    ...(handOff.plain
      ? ['Nothing in them chooses sounds: drums are on channel 10, all else on channel 1.']
      : []),
    '',
  ];
  leaving.forEach(({ phrase, clip, path }) => {
    const meter = meterAt(clip.timeline, 0);
    const sound = !isPitched(clip)
      ? 'drum kit, General MIDI map'
      : handOff.plain
        ? 'any sound'
        : `${programName(clip.program)} suggested`;
    const moved =
      phrase.capturedKey && clip.key && !sameKey(phrase.capturedKey, clip.key)
        ? [`  captured in ${keyName(phrase.capturedKey)}`]
        : [];
    lines.push(
      path,
      `  ${phrase.name} (${clip.role})`,
      `  ${tempoOf(clip)} BPM, ${meter.numerator}/${meter.denominator}, ${plural(phrase.bars, 'bar')}, ` +
        (clip.key ? keyName(clip.key) : 'no key'),
      ...moved,
      `  ${plural(clip.notes.length, 'note')}, channel ${clip.channel + 1}, ${sound}`,
      `  from ${phrase.source.take}, ${phrase.source.part}, from bar ${phrase.source.startBar}`,
      ...(isFitting(phrase.fitting) ? [`  fitted: ${fittingInWords(phrase.fitting)}`] : []),
      ...(phrase.tags.length > 0 ? [`  tags: ${phrase.tags.join(', ')}`] : []),
      ...(clip.pickup > 0 ? ['  a pickup in a bar of its own before bar 1'] : []),
      ...(phrase.contributor ? [`  by ${phrase.contributor}`] : []),
      ...(phrase.rights ? [`  rights: ${phrase.rights}`] : []),
      '',
    );
  });
  return lines.join('\n');
}

/** Tempo, key and meter of all of it, or that they differ. */
function commonFacts({ phrases }: HandOff): string[] {
  const one = (title: string, values: readonly string[]) => {
    const known = [...new Set(values.filter(Boolean))];
    if (known.length === 0) return [];
    return [`${title}: ${known.length === 1 ? known[0] : `${known.length} of them, each file has its own`}`];
  };
  return [
    ...one(
      'Tempo',
      phrases.map(({ clip }) => `${tempoOf(clip)} BPM`),
    ),
    ...one(
      'Key',
      phrases.map(({ clip }) => (clip.key ? keyName(clip.key) : '')),
    ),
    ...one(
      'Meter',
      phrases.map(({ clip }) => {
        const { numerator, denominator } = meterAt(clip.timeline, clip.pickup);
        return `${numerator}/${denominator}`;
      }),
    ),
  ];
}

/**
 * All phrases in one file, one track each: those of a sheaf at once, all else one after another, each from a
 * bar line, with its own tempo, meter and key and a marker that names it. Each has a channel of its own; where there are
 * not enough, those that sound together have, and the next group uses them anew.
 */
function combine(handOff: HandOff): MidiFile {
  const clips = handOff.phrases.map((phrase) => asLeaving(phrase, handOff.plain, LEAVING_PPQ));
  const tempos: TempoChange[] = [];
  const meters: MeterChange[] = [];
  const keys: ({ tick: number } & Key)[] = [];
  const markers: Marker[] = [];
  const tracks = new Map<number, TrackOut>();
  const isKit = (clip: Clip) => !isPitched(clip) && clip.channel === GM_DRUM_CHANNEL;
  const isRoomy = clips.filter((clip) => !isKit(clip)).length <= PITCHED_CHANNELS.length;
  let at = 0;
  let used = 0;
  for (const group of sheafGroups(handOff.phrases)) {
    const lead = clips[group[0]!]!;
    const [first] = group.map((i) => handOff.phrases[i]!);
    markers.push({ tick: at, text: group.length > 1 ? first!.sheaf!.name : first!.name });
    // Phrases of a sheaf begin bar one together, whichever of them have a pickup before it.
    const pickup = Math.max(...group.map((i) => clips[i]!.pickup));
    markers.push(...pickupMarkers({ pickup }, at));
    const offsetOf = (i: number) => at + pickup - clips[i]!.pickup;
    const led = <Change extends { tick: number }>(change: Change) => ({
      ...change,
      tick: change.tick === 0 ? at : change.tick + offsetOf(group[0]!),
    });
    tempos.push(...lead.timeline.tempos.map(led));
    meters.push(...lead.timeline.meters.map(led));
    const key = group.map((i) => clips[i]!.key).find((one) => one !== null);
    if (key) keys.push({ tick: at, ...key });
    const kits = group.map((i) => isKit(clips[i]!));
    const places = placesOf(kits, isRoomy ? used : 0);
    used += kits.filter((kit) => !kit).length;
    group.forEach((i, k) => {
      const { program, notes, controls } = clips[i]!;
      const later = <Item extends { tick: number }>(item: Item) => ({
        ...item,
        tick: item.tick + offsetOf(i),
      });
      tracks.set(i, {
        name: handOff.phrases[i]!.name,
        ...places[k]!,
        program: handOff.plain ? null : program,
        programTick: at,
        notes: notes.map(later),
        controls: controls.map(later),
      });
    });
    const bar = barTicks(LEAVING_PPQ, meterAt(lead.timeline, Math.max(0, lead.length - 1)));
    const longest = Math.max(...group.map((i) => offsetOf(i) - at + clips[i]!.length));
    at += Math.ceil(longest / bar) * bar;
  }
  return tracksToMidi(
    { timeline: makeTimeline(LEAVING_PPQ, tempos, meters), keys, name: handOff.title, length: at, markers },
    clips.map((_, i) => tracks.get(i)!),
  );
}

/** Indices of phrases that sound together, in the order of the first of each group. */
function sheafGroups(phrases: readonly PhraseOut[]): number[][] {
  const groups = new Map<string, number[]>();
  phrases.forEach((phrase, i) => {
    const key = phrase.sheaf?.id ?? `alone ${i}`;
    const group = groups.get(key);
    if (group) group.push(i);
    else groups.set(key, [i]);
  });
  return [...groups.values()];
}
