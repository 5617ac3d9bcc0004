import equal from 'fast-deep-equal';
import { pickupBeats } from '../../core/analyze/edges.ts';
import { barsUntil } from '../../core/music/timeline.ts';
import type { Key } from '../../core/music/key.ts';
import { withPreset } from '../../core/normalize/apply-preset.ts';
import type { Fitting } from '../../core/normalize/fitting.ts';
import { houseFitting, houseRecipe, type House } from '../../core/normalize/house.ts';
import { parseRecipe } from '../../core/normalize/parse.ts';
import { activeStep, applyRecipe, STEP_TITLES, type Recipe } from '../../core/normalize/recipe.ts';
import type { ClipLabels } from '../../core/phrase/clip.ts';
import { phraseName, withoutTwin } from '../../core/phrase/naming.ts';
import { packIndices, unpackIndices } from '../../core/phrase/pack.ts';
import { barsSounding } from '../../core/split/bars-sounding.ts';
import type { Correction } from '../../core/split/corrections.ts';
import { singleMoves, type Move } from '../../core/split/moves.ts';
import { noteSet } from '../../core/split/note-set.ts';
import type { Role } from '../../core/split/roles.ts';
import { partIndex, partNotes, playingParts } from '../../core/split/split.ts';
import { beginningIn, correctionsIn, type OpenedTake } from '../../core/take/opened.ts';
import { plural } from '../../core/words.ts';
import { LibraryError } from '../library/errors.ts';
import {
  phraseContent,
  sourceClip,
  type PhraseContent,
  type PhraseSource,
} from '../library/phrases/phrase-content.ts';
import { changesOfBarsIn } from './phrase-again.ts';
import { openStored, type StoredTake } from './stored-take.ts';

/** What is cut from a take: bars of parts. */
export interface CutRequest {
  /** Ids of parts; all that play where none are named. */
  parts: readonly string[] | 'all';
  /** From 1; `whole` is all bars from the one its pickup leads into, or the first, up to `lastBar` or its end. */
  bars: { startBar: number; bars: number } | { whole: true; lastBar?: number | undefined };
  isLoop: boolean;
}

/** What is known in the library of the take that phrases are cut from. */
export interface CutKnown {
  house: House;
  takeKey: Key | null;
  labels: Pick<ClipLabels, 'take' | 'source' | 'project'>;
  /** Phrases that the take has already: how many, and their names. */
  count: number;
  names: readonly string[];
}

/** A kept phrase of the take, by what it was cut from. */
export interface KeptPhrase {
  id: string;
  sheafId: string | null;
  startBar: number;
  bars: number;
  origins: Uint8Array;
  corrections: Correction[];
}

/** A phrase that was cut: what is written of it, but for where it belongs. */
export interface CutRow {
  phrase: PhraseContent['phrase'] & {
    name: string;
    partName: string;
    role: Role;
    takeKey: Key | null;
    number: number;
  };
  content: PhraseContent['content'] &
    Pick<PhraseSource, 'streams' | 'pitchMap' | 'locked'> & {
      origins: Uint8Array;
      partProgram: number;
      corrections: Correction[];
      fitting: Fitting;
    };
  marks: PhraseContent['marks'];
}

export interface Cut {
  startBar: number;
  bars: number;
  rows: CutRow[];
}

/** Cuts phrases from a take, each by its role's house recipe. @throws LibraryError 422 where the bars or parts hold nothing */
export function cutPhrases(stored: StoredTake, request: CutRequest, known: CutKnown): Cut {
  const opened = openStored(stored);
  const { startBar, bars } = barsOf(opened, request);
  const said = recipesOf(stored.moves);
  const corrections = correctionsIn(opened);
  const changesOf = (of: { startBar: number; bars: number }) => changesOfBarsIn(opened, known.takeKey, of);
  const beginning = beginningIn(opened);
  // What leads into the first of these bars comes along.
  const pickup = beginning.pickupInto === startBar ? pickupBeats(opened.take, beginning) : 0;
  const span = {
    ...{ start: startBar, count: bars },
    ...(pickup > 0 ? { pickup } : {}),
    // What sounds over the end of a loop is heard on at its beginning.
    ...(request.isLoop ? { tail: 'wrap' as const } : {}),
  };
  const names = new Set(known.names);
  const rows = partsOf(opened, request).map((id, k): CutRow => {
    const index = partIndex(opened.split, id);
    const part = opened.split.parts[index];
    if (!part) throw new LibraryError(422, `There is no part ${id} in this take.`);
    const { house, takeKey } = known;
    const recipe = withOwn(houseRecipe(part.role, span, takeKey?.mode ?? null, house), said.get(part.role));
    const number = known.count + k + 1;
    const source = sourceOfPart(opened, index, takeKey, { ...known.labels, part: part.name, number });
    const made = phraseContent(opened.take, source, recipe, changesOf);
    if (made.phrase.noteCount === 0)
      throw new LibraryError(
        422,
        `"${part.name}" has no notes in ${bars === 1 ? `bar ${startBar}` : `bars ${startBar} to ${startBar + bars - 1}`}.`,
      );
    const name =
      made.phrase.name ?? withoutTwin(phraseName(house.pattern, made.clip), names, { startBar, bars });
    names.add(name);
    const { origins, program, role, streams, pitchMap, locked } = source;
    return {
      phrase: { ...made.phrase, name, partName: part.name, role, takeKey, number },
      content: {
        ...made.content,
        streams,
        pitchMap,
        locked,
        origins: packIndices(origins),
        partProgram: program,
        corrections,
        fitting: houseFitting(part.role, request.isLoop, house),
      },
      marks: made.marks,
    };
  });
  return { startBar, bars, rows };
}

/**
 * The kept phrases that a cut would make again: of the same bars and notes, one for each part, in one sheaf. Null where any of
 * it is new.
 */
export function keptAlready(
  stored: StoredTake,
  request: CutRequest,
  kept: readonly KeptPhrase[],
): { phraseIds: string[]; sheafId: string | null } | null {
  const opened = openStored(stored);
  const bars = barsOf(opened, request);
  const corrections = JSON.stringify(correctionsIn(opened));
  const same = kept.filter(
    (phrase) =>
      phrase.startBar === bars.startBar &&
      phrase.bars === bars.bars &&
      JSON.stringify(phrase.corrections) === corrections,
  );
  const parts = partsOf(opened, request);
  const found = parts.map((id) => {
    const origins = partNotes(opened.split, partIndex(opened.split, id));
    return same.find((phrase) => equal(origins, unpackIndices(phrase.origins)));
  });
  const sheafId = found[0]?.sheafId ?? null;
  if (!found.every((phrase) => phrase && (parts.length === 1 || phrase.sheafId === sheafId))) return null;
  return { phraseIds: found.map((phrase) => phrase!.id), sheafId };
}

/** What each step of its recipe did to a phrase that was cut, in words. */
export function stepsDone(stored: StoredTake, cut: CutRow): string[] {
  const { take, split } = openStored(stored);
  const index = split.parts.findIndex(({ name }) => name === cut.phrase.partName);
  const source = sourceOfPart({ take, split }, index, cut.phrase.takeKey, {});
  const { recipe } = cut.content;
  return applyRecipe(sourceClip(take, source, recipe), recipe).reports.map(
    ({ step, summary }) => `${STEP_TITLES[step]}: ${summary}`,
  );
}

function sourceOfPart(
  { take: _, split }: Pick<OpenedTake, 'take' | 'split'>,
  index: number,
  takeKey: Key | null,
  labels: ClipLabels,
): PhraseSource {
  const part = split.parts[index]!;
  const origins = partNotes(split, index);
  return {
    origins,
    streams: part.from.map(({ track, channel }) => ({ track, channel })),
    role: part.role,
    program: part.program,
    pitchMap: [...part.pitchMap],
    locked: noteSet(origins.filter((i) => split.locked[i])),
    takeKey,
    labels,
  };
}

function partsOf({ split }: OpenedTake, { parts }: CutRequest): readonly string[] {
  return parts === 'all' ? playingParts(split).map(({ part }) => part.id) : parts;
}

/** The bars that are meant. @throws LibraryError 422 where the take has no such bars */
function barsOf(opened: OpenedTake, request: CutRequest): { startBar: number; bars: number } {
  const { take, split } = opened;
  if ('whole' in request.bars) {
    const last = request.bars.lastBar ?? barsSounding(take, split);
    const { pickupInto } = beginningIn(opened);
    const startBar = pickupInto > 1 && pickupInto <= last ? pickupInto : 1;
    return { startBar, bars: last - startBar + 1 };
  }
  const lastBar = barsUntil(take.timing.timeline, take.timing.ticks);
  const { startBar, bars } = request.bars;
  if (startBar > lastBar)
    throw new LibraryError(422, `The take ends with bar ${lastBar}; bar ${startBar} is not in it.`);
  return { startBar, bars };
}

/** The recipes that a take's phrases are made with in place of the house's, by role: the last that was said. */
function recipesOf(moves: readonly Move[]): Map<Role, Recipe> {
  const said = new Map<Role, Recipe>();
  for (const move of singleMoves(moves)) {
    if (move.move === 'recipe') said.set(move.role, parseRecipe({ version: 1, steps: move.steps }));
  }
  return said;
}

/** A take's own recipe over the house's, for the same bars and into the same key. */
function withOwn(house: Recipe, own: Recipe | undefined): Recipe {
  if (!own) return house;
  const to = activeStep(house, 'transpose')?.to;
  const steps = own.steps.map((step) =>
    step.step === 'transpose' && step.to !== undefined && to !== undefined ? { ...step, to } : step,
  );
  return withPreset(house, { version: 1, steps });
}

/** How many parts of a take play, and how many bars it has to its end: whether it is one clean part. */
export function wholeOf(stored: StoredTake): { parts: number; bars: number; what: string } {
  const { take, split } = openStored(stored);
  const parts = playingParts(split).length;
  return { parts, bars: barsUntil(take.timing.timeline, take.timing.ticks), what: plural(parts, 'part') };
}
