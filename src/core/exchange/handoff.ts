import { keyName, type Key } from '../music/key.ts';
import {
  barTicks,
  bpmOf,
  makeTimeline,
  meterAt,
  tempoAt,
  type MeterChange,
  type TempoChange,
} from '../music/timeline.ts';
import { fitted, fittingInWords, isFitting, type Fitting } from '../normalize/fitting.ts';
import { activeStep, type Recipe } from '../normalize/recipe.ts';
import { LEAVING_PPQ, setResolution } from '../normalize/resolution.ts';
import { isPitched, type Clip } from '../phrase/clip.ts';
import { asCaptured } from '../reuse/in-project.ts';
import { writeMidiFile } from '../midi/write.ts';
import { GM_DRUM_CHANNEL, programName } from '../midi/gm.ts';
import type { MidiFile } from '../midi/smf.ts';
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
}

export interface HandOff {
  title: string;
  pattern: string;
  phrases: readonly PhraseOut[];
  /** ISO 8601. Passed in, so that packing is repeatable. */
  madeAt: string;
}

/** A file of the pack: a name without folders, and its bytes. */
export interface PackedFile {
  name: string;
  bytes: Uint8Array;
}

/** Version of manifest.json; docs/formats/manifest.md describes it. */
const MANIFEST_VERSION = 1;

/**
 * Everything in a hand-off: a MIDI file for each phrase, one of all phrases, `manifest.json` for machines and
 * `notes.txt` for people. The same hand-off gives the same bytes.
 */
export function packHandOff(handOff: HandOff): PackedFile[] {
  const names = phraseFileNames(handOff);
  const clips = handOff.phrases.map((phrase) => atResolution(phrase, leavingPpq(phrase.recipe)));
  const title = safeFileName(handOff.title);
  const [combinedName] = uniqueNames([...names, `${title}_all`]).slice(-1);
  const files = clips.map((clip, i) => ({
    name: `${names[i]}.mid`,
    bytes: writeMidiFile(clipToMidi(clip, handOff.phrases[i]!.name)),
  }));
  if (clips.length > 0) {
    const combined = writeMidiFile(combine(handOff));
    files.push({ name: `${combinedName}.mid`, bytes: combined });
  }
  const encoder = new TextEncoder();
  const manifest = makeManifest(handOff, names, clips.length > 0 ? `${combinedName}.mid` : null);
  return [
    ...files,
    { name: 'manifest.json', bytes: encoder.encode(`${JSON.stringify(manifest, null, 2)}\n`) },
    { name: 'notes.txt', bytes: encoder.encode(readableNote(handOff, names)) },
  ];
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
  return writeMidiFile(clipToMidi(atResolution({ clip }, leavingPpq(phrase.recipe)), phrase.name));
}

/** Ticks a quarter note with which a phrase leaves: what its recipe says, else what most programs use. */
export function leavingPpq(recipe: Recipe): number {
  return activeStep(recipe, 'resolution')?.ppq ?? LEAVING_PPQ;
}

function atResolution({ clip }: Pick<PhraseOut, 'clip'>, ppq: number): Clip {
  return setResolution(clip, { ppq }).clip;
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
  return Math.round(bpmOf(tempoAt(clip.timeline, 0).microseconds) * 100) / 100;
}

function makeManifest(handOff: HandOff, names: readonly string[], combined: string | null) {
  return {
    format: 'hollow-basket-hand-off',
    version: MANIFEST_VERSION,
    title: handOff.title,
    madeAt: handOff.madeAt,
    combined,
    phrases: handOff.phrases.map((phrase, i) => {
      const meter = meterAt(phrase.clip.timeline, 0);
      return {
        file: `${names[i]}.mid`,
        id: phrase.id,
        name: phrase.name,
        role: phrase.clip.role,
        key: phrase.clip.key && { ...keyParts(phrase.clip.key) },
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

/** What a person wants to know before opening anything: one block a phrase, in plain words. */
function readableNote(handOff: HandOff, names: readonly string[]): string {
  const lines = [
    handOff.title,
    '='.repeat(handOff.title.length),
    '',
    `${handOff.phrases.length} ${handOff.phrases.length === 1 ? 'phrase' : 'phrases'}, packed ${handOff.madeAt.slice(0, 10)}.`,
    'Each .mid file is a Standard MIDI File with its tempo, meter and key inside; middle C is C4.',
    '',
  ];
  handOff.phrases.forEach((phrase, i) => {
    const { clip } = phrase;
    const meter = meterAt(clip.timeline, 0);
    const sound =
      clip.channel === GM_DRUM_CHANNEL
        ? 'drum kit, General MIDI map'
        : `${programName(clip.program)} suggested`;
    lines.push(
      `${names[i]}.mid`,
      `  ${phrase.name} (${clip.role})`,
      `  ${tempoOf(clip)} BPM, ${meter.numerator}/${meter.denominator}, ${phrase.bars} ${phrase.bars === 1 ? 'bar' : 'bars'}, ` +
        (clip.key ? keyName(clip.key) : 'no key'),
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

/**
 * All phrases in one file, one track each: those of a sheaf at once, all else one after another, each from a
 * bar line, with its own tempo, meter and key and a marker that names it. Each has a channel of its own; where there are
 * not enough, those that sound together have, and the next group uses them anew.
 */
function combine(handOff: HandOff): MidiFile {
  const clips = handOff.phrases.map((phrase) => atResolution(phrase, LEAVING_PPQ));
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
        program,
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
