import equal from 'fast-deep-equal';
import { takeAccount, type Account, type Asked } from '../../core/analyze/account.ts';
import { numeralLine, type ChangesChord } from '../../core/analyze/changes.ts';
import type { KeyFinding } from '../../core/analyze/key.ts';
import { READING_METHOD } from '../../core/analyze/reading.ts';
import type { TakeFacts } from '../../core/capture/facts.ts';
import type { CaptureFacts } from '../../core/capture/recording.ts';
import type { Key } from '../../core/music/key.ts';
import type { Correction } from '../../core/split/corrections.ts';
import { takeFactsOf, type Move } from '../../core/split/moves.ts';
import { UNPITCHED, type Role } from '../../core/split/roles.ts';
import {
  correctionsIn,
  derive,
  harmonyIn,
  toldIn,
  type Derivation,
  type OpenedTake,
} from '../../core/take/opened.ts';
import {
  countMends,
  derivedParts,
  factsKept,
  keysKept,
  type DerivedPart,
} from '../library/keeping/derive.ts';
import { changesOfBarsIn } from './phrase-again.ts';
import { openNext, openStored, type StoredTake } from './stored-take.ts';

/** A phrase that was cut from the take, as far as its chords depend on it. */
export interface CutPhrase {
  id: string;
  role: Role;
  takeKey: Key | null;
  startBar: number;
  bars: number;
  corrections: Correction[];
  changes: ChangesChord[] | null;
}

/** All that the library keeps of a take after its moves were changed. */
export interface MovedTake {
  name: string | null;
  chosenKey: Key | null;
  keys: KeyFinding[];
  keysMethod: number;
  facts: TakeFacts;
  account: Account;
  proposals: number;
  /** Null where they are as they were. */
  parts: DerivedPart[] | null;
  /** Of the phrases that have other changes now. */
  changes: { id: string; changes: ChangesChord[]; numerals: string }[];
}

const FACTS: Derivation<TakeFacts> = { dependsOn: ['take'], find: ({ take }) => factsKept(take) };

const MENDS: Derivation<number> = {
  dependsOn: ['take', 'parts', 'sound', 'offer'],
  find: ({ take, split }) => countMends(take, split),
};

/** What becomes of a take with other moves done. @throws MoveError where a move names what is not there */
export function movedTake(
  stored: StoredTake,
  moves: readonly Move[],
  known: { asked: Asked; capture: CaptureFacts | null; cut: readonly CutPhrase[] },
): MovedTake {
  const before = openStored(stored).split;
  const opened = openNext(stored, moves);
  const { take, split } = opened;
  const parts = derivedParts(split);
  const { name, key } = takeFactsOf(moves);
  return {
    name: name ?? null,
    chosenKey: key ?? null,
    keys: keysKept(harmonyIn(opened).foundKeys),
    keysMethod: toldIn(opened)?.method ?? READING_METHOD,
    facts: derive(opened, FACTS),
    account: takeAccount(take, split, known.asked, known.capture),
    proposals: derive(opened, MENDS),
    parts: equal(parts, derivedParts(before)) ? null : parts,
    changes: changedIn(opened, known.cut),
  };
}

/** Phrases cut from the take in the time it has now have its chords as they are now, in their own keys. */
function changedIn(opened: OpenedTake, cut: readonly CutPhrase[]): MovedTake['changes'] {
  const corrections = JSON.stringify(correctionsIn(opened));
  return cut.flatMap(({ id, takeKey, role, changes: before, ...phrase }) => {
    if (!takeKey || JSON.stringify(phrase.corrections) !== corrections) return [];
    const changes = changesOfBarsIn(opened, takeKey, phrase);
    return equal(changes, before)
      ? []
      : [{ id, changes, numerals: UNPITCHED.has(role) ? '' : numeralLine(changes) }];
  });
}

/** The account of a take against what is said now that it was asked to play. */
export function accountAgain(
  stored: StoredTake,
  known: { asked: Asked; capture: CaptureFacts | null },
): Account {
  const { take, split } = openStored(stored);
  return takeAccount(take, split, known.asked, known.capture);
}
