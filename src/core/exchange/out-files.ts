import { sameKey, type Key } from '../music/key.ts';
import { meterAt } from '../music/timeline.ts';
import { isPitched } from '../phrase/clip.ts';
import { sheafGroups, tempoOf, type HandOff } from './handoff.ts';
import { leavingPhrases, nameOf, type LeavingPhrase } from './leaving.ts';
import { togetherFiles, type TogetherFile } from './together.ts';

/** A MIDI file as it leaves, and what a table says of it before anything is written. */
export interface OutFile {
  /** Its folders and name. */
  path: string;
  bytes: Uint8Array;
  told: OutFileTold;
}

export interface OutFileTold {
  /** Name of the phrase; of all of it where several are in it. */
  name: string;
  /** Null where it has none, or several. */
  key: Key | null;
  bpm: number;
  meter: string;
  bars: number;
  notes: number;
  /** From 0; null where several are in it, or nothing chooses a sound. */
  program: number | null;
  /** What is otherwise for the recipient, the unusual first. */
  changes: string[];
}

/** The files that leave: one a phrase (a kit's pieces too), one of all and of each sheaf, or both; the single ones first. */
export function outFiles(handOff: HandOff): {
  leaving: LeavingPhrase[];
  each: OutFile[];
  together: OutFile[];
} {
  const leaving = leavingPhrases(handOff);
  const { as } = handOff.out;
  const each = as === 'one' ? [] : leaving;
  const together = as === 'each' ? [] : togetherFiles(handOff, leaving);
  return {
    leaving,
    each: each.map((one) => ({ path: one.path, bytes: one.bytes, told: toldOf(one, handOff) })),
    together: together.map((one) => ({ path: one.path, bytes: one.bytes, told: toldOfAll(one, leaving) })),
  };
}

/** Of files that leave without a pack around them, those that are needed: one alone is its own sum. */
export function looseFiles({ each, together }: ReturnType<typeof outFiles>): OutFile[] {
  return each.length === 1 ? each : [...each, ...together];
}

function toldOf({ phrase, piece, clip, changes }: LeavingPhrase, { out }: HandOff): OutFileTold {
  const { numerator, denominator } = meterAt(clip.timeline, clip.pickup);
  return {
    name: nameOf(phrase.name, piece),
    key: clip.key,
    bpm: tempoOf(clip),
    meter: `${numerator}/${denominator}`,
    bars: phrase.bars,
    notes: clip.notes.length,
    program: out.sounds === 'plain' || !isPitched(clip) ? null : clip.program,
    changes: changes.map(({ text }) => text),
  };
}

function toldOfAll({ title, phrases }: TogetherFile, leaving: readonly LeavingPhrase[]): OutFileTold {
  const ids = new Set(phrases.map(({ id }) => id));
  const inIt = leaving.filter(({ phrase }) => ids.has(phrase.id));
  const keys = inIt.flatMap(({ clip }) => (clip.key ? [clip.key] : []));
  const [key = null] = keys;
  const bars = sheafGroups(phrases).map((group) => Math.max(...group.map((i) => phrases[i]!.bars)));
  const [first] = inIt;
  const { numerator, denominator } = meterAt(first!.clip.timeline, first!.clip.pickup);
  return {
    name: title,
    key: key && keys.every((one) => sameKey(one, key)) ? key : null,
    bpm: tempoOf(first!.clip),
    meter: `${numerator}/${denominator}`,
    bars: bars.reduce((sum, one) => sum + one, 0),
    notes: inIt.reduce((sum, { clip }) => sum + clip.notes.length, 0),
    program: null,
    changes: [],
  };
}
