import { createHash } from 'node:crypto';
import { numeralLine, type ChangesChord } from '../../../core/analyze/changes.ts';
import type { Take } from '../../../core/capture/take.ts';
import { marksOf } from '../../../core/catalog/marks.ts';
import type { Key } from '../../../core/music/key.ts';
import { barsUntil, meterAt, roundedBpm } from '../../../core/music/timeline.ts';
import { activeStep, keptResult, type Recipe } from '../../../core/normalize/recipe.ts';
import { bpmOfClip, clipFromNotes, type Clip, type ClipLabels } from '../../../core/phrase/clip.ts';
import { changesMade, ownKey } from '../../../core/reuse/child.ts';
import { packClipNotes, packControls, unpackIndices } from '../../../core/phrase/pack.ts';
import { packSwatch } from '../../../core/phrase/swatch.ts';
import { notesIn, type NoteSet } from '../../../core/split/note-set.ts';
import { UNPITCHED, type Role } from '../../../core/split/roles.ts';
import type { PitchPair } from '../../../core/split/split.ts';
import type { phraseContents, phrases } from '../../db/schema.ts';
import { LibraryError } from '../errors.ts';

/** The captured notes a phrase is made of, and how they are taken. */
export interface PhraseSource {
  origins: number[];
  streams: { track: number; channel: number }[];
  role: Role;
  /** The part's own, 0..127. */
  program: number;
  pitchMap: PitchPair[];
  locked: NoteSet;
  takeKey: Key | null;
  labels: ClipLabels;
}

/** The source of a phrase that is in the library. */
export function sourceOfRow(
  row: Pick<
    typeof phrases.$inferSelect & typeof phraseContents.$inferSelect,
    | 'origins'
    | 'streams'
    | 'pitchMap'
    | 'locked'
    | 'role'
    | 'takeKey'
    | 'capturedKey'
    | 'program'
    | 'partProgram'
    | 'partName'
    | 'startBar'
    | 'number'
  >,
  about: Pick<ClipLabels, 'take' | 'source' | 'project'>,
): PhraseSource {
  return {
    origins: unpackIndices(row.origins),
    streams: row.streams,
    role: row.role,
    program: row.partProgram ?? row.program,
    pitchMap: row.pitchMap,
    locked: row.locked,
    takeKey: row.capturedKey ?? row.takeKey,
    labels: { ...about, part: row.partName, number: row.number },
  };
}

/** The captured notes as a clip: what a recipe starts from. What is kept stands on the first channel, drums on the tenth. */
export function sourceClip(take: Take, source: PhraseSource, recipe: Recipe): Clip {
  const labels = { ...source.labels, start: activeStep(recipe, 'bars')?.start ?? 1 };
  return clipFromNotes(take, source.origins, {
    ...source,
    labels,
    channel: source.role === 'drums' ? 9 : 0,
    key: source.takeKey,
    locked: notesIn(source.locked),
  });
}

/** What a recipe makes of captured notes. @throws LibraryError 422 where it is larger than any phrase is */
export function clipMade(take: Take, source: PhraseSource, recipe: Recipe): { captured: Clip; clip: Clip } {
  const captured = sourceClip(take, source, recipe);
  const { clip } = keptResult(captured, recipe);
  checkSize(clip);
  return { captured, clip };
}

/**
 * What a recipe makes of captured notes, as the rows of a phrase: what is found, what it is made of, and what it is compared by.
 * `changesOf` tells the changes of some bars of the take in the phrase's key.
 */
export function phraseContent(
  take: Take,
  source: PhraseSource,
  recipe: Recipe,
  changesOf: (bars: { startBar: number; bars: number }) => ChangesChord[],
) {
  const { captured, clip } = clipMade(take, source, recipe);
  const columns = columnsOf(clip, recipe);
  const key = ownKey(recipe, clip, source.takeKey);
  const changes = changesMade(recipe, { ...columns, beatsPerBar: columns.meterNumerator, key }, changesOf);
  const isPitched = !UNPITCHED.has(source.role);
  return {
    clip,
    phrase: { ...columns, takeKey: key, numerals: isPitched ? numeralLine(changes) : '' },
    content: {
      ...contentOf(clip),
      ...{ recipe, changes, appliedTo: hashOf(captured) },
      capturedKey: activeStep(recipe, 'through') ? source.takeKey : null,
    },
    marks: marksOf(clip, changes, key),
  };
}

/** The rows of a phrase. */
export type PhraseContent = Omit<ReturnType<typeof phraseContent>, 'clip'>;

/** Notes, and controllers, of a phrase at the most: twenty minutes of dense playing. */
const MOST_NOTES = 50_000;
const MOST_CONTROLS = 200_000;

/** Bars of a phrase at the most. */
const MOST_BARS = 10_000;

/** @throws LibraryError 422 where it is larger than any phrase is */
function checkSize(clip: Clip): void {
  const { notes, controls } = clip;
  const [count, most, what] =
    notes.length > MOST_NOTES
      ? [notes.length, MOST_NOTES, 'notes']
      : [controls.length, MOST_CONTROLS, 'controllers'];
  if (barsUntil(clip.timeline, clip.length) > MOST_BARS + 1)
    throw new LibraryError(422, `A phrase has at most ${MOST_BARS.toLocaleString('en')} bars. Choose fewer.`);
  if (count > most)
    throw new LibraryError(
      422,
      `These bars hold ${count.toLocaleString('en')} ${what}; a phrase has at most ${most.toLocaleString('en')}. Choose fewer bars.`,
    );
}

function columnsOf(clip: Clip, recipe: Recipe) {
  const meter = meterAt(clip.timeline, clip.pickup);
  return {
    noteCount: clip.notes.length,
    length: clip.length,
    pickup: clip.pickup,
    startBar: activeStep(recipe, 'bars')?.start ?? 1,
    bars: barsUntil(clip.timeline, clip.length) - (clip.pickup > 0 ? 1 : 0),
    keyTonic: clip.key?.tonic ?? null,
    keyMode: clip.key?.mode ?? null,
    bpm: roundedBpm(bpmOfClip(clip)),
    meterNumerator: meter.numerator,
    meterDenominator: meter.denominator,
    channel: clip.channel,
    program: clip.program,
    ...(clip.name === undefined ? {} : { name: clip.name }),
  };
}

function contentOf(clip: Clip) {
  return {
    notes: packClipNotes(clip.notes),
    controls: packControls(clip.controls),
    swatch: packSwatch(clip),
    timeline: clip.timeline,
  };
}

/** A hash of everything a recipe reads: the same hash and the same recipe give the same phrase. */
function hashOf(captured: Clip): string {
  const { notes, controls, timeline, length, role, key, locked } = captured;
  return createHash('sha256')
    .update(packClipNotes(notes))
    .update(packControls(controls))
    .update(JSON.stringify([timeline, length, role, key, locked]))
    .digest('hex');
}
