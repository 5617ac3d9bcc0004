import type { ChangesChord } from '../analyze/changes.ts';
import { swingOf } from '../catalog/features.ts';
import type { Key } from '../music/key.ts';
import type { Purpose } from '../music/form.ts';
import { bpmOf, meterAt, roundedBpm, tempoAt } from '../music/timeline.ts';
import { fitted, type Fitting } from '../normalize/fitting.ts';
import { activeStep, type Recipe } from '../normalize/recipe.ts';
import { LEAVING_PPQ, setResolution } from '../normalize/resolution.ts';
import { isPitched, type Clip } from '../phrase/clip.ts';
import { asCaptured } from '../reuse/in-project.ts';
import { writeMidiFile } from '../midi/write.ts';
import { GM_DRUM_CHANNEL } from '../midi/gm.ts';
import { STATUS } from '../midi/smf.ts';
import { clipToMidi } from './midi-out.ts';
import { clipFacts, fileName, uniqueNames } from '../phrase/naming.ts';

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

/** A preview of a file of the pack: its sound, and its loudest sample, 0..1. */
export interface Preview {
  wav: Uint8Array;
  peak: number;
}

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
export function swingOrNull(clip: Clip): number | null {
  const swing = swingOf(clip);
  return swing < 0 ? null : Math.round(swing * 1000) / 1000;
}

/** A phrase at the resolution it leaves with; in a plain pack without what chooses sounds. */
export function asLeaving({ clip }: Pick<PhraseOut, 'clip'>, plain: boolean, ppq: number): Clip {
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
export function tempoOf(clip: Clip): number {
  return roundedBpm(bpmOf(tempoAt(clip.timeline, 0).microseconds));
}

/** Indices of phrases that sound together, in the order of the first of each group. */
export function sheafGroups(phrases: readonly Pick<PhraseOut, 'sheaf'>[]): number[][] {
  const groups = new Map<string, number[]>();
  phrases.forEach((phrase, i) => {
    const key = phrase.sheaf?.id ?? `alone ${i}`;
    const group = groups.get(key);
    if (group) group.push(i);
    else groups.set(key, [i]);
  });
  return [...groups.values()];
}

/** Where the preview of a file stands: beside it. */
export function previewPath(path: string): string {
  return path.replace(/\.mid$/, '.wav');
}
