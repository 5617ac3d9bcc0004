import { keyLabel, parseKey, type Key } from '../../../core/music/key.ts';
import {
  applyRecipe,
  type RecipeResult,
  type RecipeStep,
  type StepReport,
} from '../../../core/normalize/recipe.ts';
import { isPitched, type Clip } from '../../../core/phrase/clip.ts';
import { chordsPlayedOver, inKeptKey } from '../../../core/reuse/child.ts';
import { rootWay } from '../../../core/through/degrees.ts';
import type { Mend } from '../../../core/through/mends.ts';
import type { ThroughSetting, Way } from '../../../core/through/pieces.ts';
import {
  keyOfChanges,
  layOver,
  readOrWhy,
  type Changes,
  type WrittenChanges,
} from '../../../core/through/sounding.ts';
import type { PhraseWire } from '../../api/queries.ts';

/** How one part follows. */
export interface PartEdit {
  /** Its role's where nothing is said. */
  way?: Way | undefined;
  /** -3 to 3. */
  density: number;
  /** Octaves up. */
  octave: number;
  strike: boolean;
  richer: boolean;
  mend: Mend[];
}

/** What some phrases are taken through, and how: all of it under one history. */
export interface ThroughEdit {
  /** The chords they were played over together, in their own key, as they are written; null for each its own. */
  from: WrittenChanges | null;
  /** The chords they go through. */
  to: string;
  /** Key of the target, as it is written; empty for the one its chords are in. */
  key: string;
  parts: Readonly<Record<string, PartEdit>>;
}

export const AS_IT_FOLLOWS: PartEdit = { density: 0, octave: 0, strike: false, richer: false, mend: [] };

export function partEdit(edit: ThroughEdit, id: string): PartEdit {
  return edit.parts[id] ?? AS_IT_FOLLOWS;
}

/** The edit with another setting of a part. */
export function withPart(edit: ThroughEdit, id: string, change: Partial<PartEdit>): ThroughEdit {
  return { ...edit, parts: { ...edit.parts, [id]: { ...partEdit(edit, id), ...change } } };
}

/** The key that the target is in: what is said, else what its chords tell. */
export function targetKey({ key }: Pick<ThroughEdit, 'key'>, to: Changes, own: Key | null): Key {
  return (key && parseKey(key)) || keyOfChanges(to, own ?? undefined);
}

/** The chords a phrase was played over: those that were said, else its own. */
export function playedOver(phrase: PhraseWire, { from }: Pick<ThroughEdit, 'from'>): WrittenChanges {
  return from ?? chordsPlayedOver(phrase);
}

/** Whether some phrases were cut from the same bars: they were played over the same chords. */
export function areTogether(phrases: readonly PhraseWire[]): boolean {
  const [first] = phrases;
  return (
    phrases.length === 1 || phrases.every(({ sheafId }) => sheafId !== null && sheafId === first!.sheafId)
  );
}

/** The steps that take a phrase through the chords; in the key its notes are kept in. */
export function stepsFor(phrase: PhraseWire, edit: ThroughEdit, key: Key): RecipeStep[] {
  const part = partEdit(edit, phrase.id);
  const from = inKeptKey(playedOver(phrase, edit), phrase.takeKey, phrase.clip);
  return [
    {
      step: 'through',
      from,
      to: edit.to,
      key: keyLabel(key),
      loop: true,
      ...(part.way ? { way: part.way } : {}),
      ...(part.strike ? { strike: true } : {}),
      ...(part.richer ? { richer: true } : {}),
      ...(part.mend.length > 0 ? { mend: part.mend } : {}),
    },
    ...(part.density === 0
      ? []
      : [{ step: 'density' as const, level: part.density, seed: 1, over: edit.to }]),
    ...(part.octave === 0 ? [] : [{ step: 'octave' as const, by: part.octave }]),
  ];
}

/** A phrase taken through: what came of it, what it was before in the same key and bars, and its account. */
export interface Taken {
  phrase: PhraseWire;
  steps: RecipeStep[];
  result: RecipeResult;
  through: StepReport;
  /** As it was, in the target's key: only what follows the chords parts the pair. */
  hollow: Clip;
  /** The target laid over its bars, by its own meter; null where the chords cannot be read. */
  setting: Pick<ThroughSetting, 'target' | 'targetKey'> | null;
}

function meanPitch({ notes }: Clip): number {
  return notes.reduce((sum, { pitch }) => sum + pitch, 0) / Math.max(1, notes.length);
}

export function takenThrough(phrase: PhraseWire, edit: ThroughEdit, key: Key): Taken {
  const steps = stepsFor(phrase, edit, key);
  const result = applyRecipe(phrase.clip, { version: 1, steps });
  const through = result.reports[0]!;
  const to = readOrWhy(edit.to, phrase.meterNumerator);
  const longer = isRead(to)
    ? applyRecipe(phrase.clip, { version: 1, steps: [{ step: 'repeat', bars: to.bars }] }).clip
    : phrase.clip;
  const inKey = isPitched(longer) && longer.key ? rootWay(longer.key.tonic, key.tonic) : 0;
  // In the octave that it is nearest in.
  const apart = meanPitch(result.clip) - meanPitch(longer) - inKey;
  const by = isPitched(longer) ? inKey + 12 * Math.round(apart / 12) : 0;
  const hollow = { ...longer, notes: longer.notes.map((note) => ({ ...note, pitch: note.pitch + by })) };
  const setting = isRead(to) ? { target: layOver(longer, to), targetKey: key } : null;
  return { phrase, steps, result, through, hollow, setting };
}

/** Whether changes could be read; else they are the reason as a sentence. */
export function isRead(read: Changes | string): read is Changes {
  return typeof read !== 'string';
}

/** What some phrases are called together. */
export function titleOf(phrases: readonly PhraseWire[]): string {
  const [first] = phrases;
  if (phrases.length === 1) return first!.name;
  return areTogether(phrases) ? first!.sheafName! : `${phrases.length} phrases`;
}
