import { group, range } from 'd3-array';
import type { ChangesChord } from '../analyze/changes.ts';
import type { Key } from '../music/key.ts';
import type { Purpose } from '../music/form.ts';
import { bpmOf, roundedBpm, tempoAt } from '../music/timeline.ts';
import type { Marker } from '../midi/timing.ts';
import type { Fitting } from '../normalize/fitting.ts';
import type { Recipe } from '../normalize/recipe.ts';
import type { Clip } from '../phrase/clip.ts';
import { clipFacts, fileName, uniqueNames, type NameToken } from '../phrase/naming.ts';
import type { Card } from './card.ts';
import type { OutOptions, PackLayout } from './out-options.ts';
import type { OwnOut } from './own-out.ts';

export type KeyChange = { tick: number } & Key;

/** A phrase as it is handed off. */
export interface PhraseOut {
  /** Its id in the library; of a part of a take or weave, the part's. */
  id: string;
  /** It stands in the library by itself. */
  isKept: boolean;
  /** Its files say its id, for whoever gets them back. */
  saysId: boolean;
  /** Of its notes as they are kept: another says that it has changed since. Null where it is not kept. */
  hash: string | null;
  name: string;
  /** In the key and at the tempo it leaves in. */
  clip: Clip;
  bars: number;
  tags: readonly string[];
  project: string;
  /** Phrases with the same sheaf sound together; null stands alone. */
  sheaf: { id: string; name: string } | null;
  source: { take: string; sha256: string; part: string; startBar: number };
  recipe: Recipe;
  /** What suits the sound that will play it, not yet applied. */
  fitting: Fitting;
  /** Sections that begin in it, and keys where it has several, at its own ticks. */
  marks?: readonly Marker[];
  keys?: readonly KeyChange[];
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
  /** The heading that it stands under in its basket; left out where it stands under none. */
  heading?: string;
  /** How it leaves of its own, where that is otherwise than the rest: key and tempo are in its clip already. */
  own?: OwnOut;
}

/** Some phrases on their way to somebody, and how they go. */
export interface HandOff {
  title: string;
  pattern: string;
  phrases: readonly PhraseOut[];
  /** ISO 8601. Passed in, so that packing is repeatable. */
  madeAt: string;
  layout: PackLayout;
  out: OutOptions;
  /** Who gets it: what they have at their place, and what they are called. */
  card: Card | null;
  recipient: string | null;
  /** The library it leaves; null where it is none. */
  library: string | null;
}

/** A preview of a file of the pack: its sound, and its loudest sample, 0..1. */
export interface Preview {
  wav: Uint8Array;
  peak: number;
}

/** What the name of a file is made of, but for its number; and whether a pickup stands before its bar one. */
export type NameFacts = Omit<Record<NameToken, string>, 'number'> & { hasPickup: boolean };

/** File names from what is known of phrases, without ending, in order; no two alike. */
export function fileNamesFrom(pattern: string, phrases: readonly NameFacts[]): string[] {
  const digits = Math.max(2, String(phrases.length).length);
  return uniqueNames(
    phrases.map(({ hasPickup, ...facts }, index) =>
      fileName(
        pattern,
        { ...facts, number: String(index + 1).padStart(digits, '0') },
        hasPickup ? '_pickup' : '',
      ),
    ),
  );
}

/** What names can say of a phrase as it leaves. */
export function nameFacts({ clip, bars, name, project, source }: PhraseOut): NameFacts {
  const own = clipFacts(clip);
  const told = { key: own.key || 'nokey', bars: String(bars), hasPickup: clip.pickup > 0 };
  return { ...own, ...told, name, project, source: source.take };
}

/** BPM at the start, to a hundredth. */
export function tempoOf(clip: Clip): number {
  return roundedBpm(bpmOf(tempoAt(clip.timeline, 0).microseconds));
}

/** Indices of phrases that sound together, in the order of the first of each group. */
export function sheafGroups(phrases: readonly Pick<PhraseOut, 'sheaf'>[]): number[][] {
  return [...group(range(phrases.length), (i) => phrases[i]!.sheaf?.id ?? `alone ${i}`).values()];
}

/** Where the preview of a file stands: beside it. */
export function previewPath(path: string): string {
  return path.replace(/\.mid$/, '.wav');
}
