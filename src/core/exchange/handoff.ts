import { keyName, type Key } from '../music/key.ts';
import { barTicks, bpmOf, makeTimeline, meterAt, tempoAt } from '../music/timeline.ts';
import { fittingInWords, isFitting, type Fitting } from '../normalize/fitting.ts';
import type { Recipe } from '../normalize/recipe.ts';
import { setResolution } from '../normalize/resolution.ts';
import { isPitched, type Clip } from '../phrase/clip.ts';
import { writeMidiFile } from '../midi/write.ts';
import { GM_DRUM_CHANNEL, programName } from '../midi/gm.ts';
import type { MidiFile } from '../midi/smf.ts';
import { clipToMidi, EXPORT_PPQ, tracksToMidi } from './midi-out.ts';
import { clipFacts, fileName, safeFileName, uniqueNames } from '../phrase/naming.ts';

/** A phrase as it is handed off. */
export interface PhraseOut {
  id: string;
  name: string;
  clip: Clip;
  bars: number;
  tags: readonly string[];
  project: string;
  /** Phrases with the same sheaf sound together; null stands alone. */
  sheaf: string | null;
  source: { take: string; sha256: string; part: string; startBar: number };
  recipe: Recipe;
  /** What was done on the way out for the sound that will play it. */
  fitting: Fitting;
  rights: string;
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
  const clips = handOff.phrases.map((phrase) => setResolution(phrase.clip, { ppq: EXPORT_PPQ }).clip);
  const title = safeFileName(handOff.title);
  const [combinedName] = uniqueNames([...names, `${title}_all`]).slice(-1);
  const files = clips.map((clip, i) => ({
    name: `${names[i]}.mid`,
    bytes: writeMidiFile(clipToMidi(clip, handOff.phrases[i]!.name)),
  }));
  if (clips.length > 0) {
    const combined = writeMidiFile(combine(handOff, clips));
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
        sheaf: phrase.sheaf,
        tags: phrase.tags,
        rights: phrase.rights,
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
      `  ${clip.notes.length} notes, channel ${clip.channel + 1}, ${sound}`,
      `  from ${phrase.source.take}, ${phrase.source.part}, from bar ${phrase.source.startBar}`,
      ...(isFitting(phrase.fitting) ? [`  fitted: ${fittingInWords(phrase.fitting)}`] : []),
      ...(phrase.tags.length > 0 ? [`  tags: ${phrase.tags.join(', ')}`] : []),
      ...(phrase.rights ? [`  rights: ${phrase.rights}`] : []),
      '',
    );
  });
  return lines.join('\n');
}

/**
 * All phrases in one file, one track each: those of a sheaf at once, all else one after another, each from a
 * bar line, with its own tempo and meter and a marker that names it.
 */
function combine(handOff: HandOff, clips: readonly Clip[]): MidiFile {
  const groups = sheafGroups(handOff.phrases);
  const channels = combinedChannels(handOff.phrases.map((phrase) => phrase.clip));
  const tempos: { tick: number; microseconds: number }[] = [];
  const meters: { tick: number; numerator: number; denominator: number }[] = [];
  const markers: { tick: number; text: string }[] = [];
  const offsets: number[] = [];
  let at = 0;
  for (const group of groups) {
    const lead = clips[group[0]!]!;
    markers.push({ tick: at, text: group.map((i) => handOff.phrases[i]!.name).join(' + ') });
    // Phrases of a sheaf begin bar one together, whichever of them have a pickup before it.
    const pickup = Math.max(...group.map((i) => clips[i]!.pickup));
    for (const i of group) offsets[i] = at + pickup - clips[i]!.pickup;
    const led = <Change extends { tick: number }>(change: Change) => ({
      ...change,
      tick: change.tick === 0 ? at : change.tick + offsets[group[0]!]!,
    });
    tempos.push(...lead.timeline.tempos.map(led));
    meters.push(...lead.timeline.meters.map(led));
    const bar = barTicks(EXPORT_PPQ, meterAt(lead.timeline, Math.max(0, lead.length - 1)));
    const longest = Math.max(...group.map((i) => offsets[i]! - at + clips[i]!.length));
    at += Math.ceil(longest / bar) * bar;
  }
  const timeline = makeTimeline(EXPORT_PPQ, tempos, meters);
  return tracksToMidi(
    { timeline, key: null, name: handOff.title, length: at, markers },
    clips.map((clip, i) => ({
      name: handOff.phrases[i]!.name,
      channel: channels[i]!,
      program: clip.program,
      notes: clip.notes.map((note) => ({ ...note, tick: note.tick + offsets[i]! })),
      controls: clip.controls.map((control) => ({ ...control, tick: control.tick + offsets[i]! })),
    })),
  );
}

/** Indices of phrases that sound together, in the order of the first of each group. */
function sheafGroups(phrases: readonly PhraseOut[]): number[][] {
  const groups = new Map<string, number[]>();
  phrases.forEach((phrase, i) => {
    const key = phrase.sheaf ?? `alone ${i}`;
    groups.set(key, [...(groups.get(key) ?? []), i]);
  });
  return [...groups.values()];
}

/** Drums on the tenth channel, everything else spread over the other fifteen. */
function combinedChannels(clips: readonly Clip[]): number[] {
  let next = 0;
  return clips.map((clip) => {
    if (!isPitched(clip) && clip.channel === GM_DRUM_CHANNEL) return GM_DRUM_CHANNEL;
    const channel = next % 15;
    next++;
    return channel >= GM_DRUM_CHANNEL ? channel + 1 : channel;
  });
}
