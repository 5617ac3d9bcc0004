import { array, boolean, mixed, number, object, string } from 'yup';
import { RECORDING_CLOCKS } from '../../core/capture/recording.ts';
import { MODES, type Key } from '../../core/music/key.ts';
import type { Move } from '../../core/split/moves.ts';
import { ROLES } from '../../core/split/roles.ts';
import { PHRASE_STATES } from '../../server/db/schema.ts';

/** Shapes of what the pages send, with sentences for what is wrong. */

const LONGEST_NAME = 200;

/** PostgreSQL holds no zero bytes in text. */
const text = () => string().matches(/^[^\0]*$/, 'A text holds a character that cannot be stored');

const name = (what: string) =>
  text()
    .matches(/\S/, `${what} needs a name`)
    .max(LONGEST_NAME, `A name has at most ${LONGEST_NAME} characters`)
    .required(`${what} needs a name`);

const id = () => string().uuid('An id is not one');

const key = () =>
  object({
    tonic: number().integer().min(0).max(11).required(),
    mode: string().oneOf(MODES).required(),
  });

const tick = () => number().integer().min(0).max(0x7fffffff);
const partId = () =>
  string()
    .matches(/^p\d{1,6}$/, 'A part is named like "p1"')
    .required();

const MOVES = {
  rename: object({ move: string().required(), part: partId(), name: name('A part') }),
  role: object({ move: string().required(), part: partId(), role: string().oneOf(ROLES).required() }),
  setAside: object({
    move: string().required(),
    part: partId(),
    reason: text().max(LONGEST_NAME).required('Notes are set aside for a reason'),
    fromTick: tick(),
    toTick: tick(),
  }),
  bringBack: object({ move: string().required(), entry: number().integer().min(0).required() }),
  nameTake: object({ move: string().required(), name: name('A take') }),
  chooseKey: object({ move: string().required(), key: key().required() }),
  merge: object({ move: string().required(), parts: array(partId()).min(2).max(1000).required() }),
};

/** A move on a split: which fields it has depends on which move it is. */
export const moveSchema = mixed<Move>()
  .required('A move is missing')
  .test('move', 'This is not a move', (value, context) => {
    const schema = MOVES[(value as Move | undefined)?.move as keyof typeof MOVES];
    if (!schema) return context.createError({ message: `A move is one of ${Object.keys(MOVES).join(', ')}` });
    try {
      schema.noUnknown().validateSync(value, { strict: true });
      return true;
    } catch (error) {
      return context.createError({ message: (error as Error).message });
    }
  });

const tagNames = () => array(text().max(60, 'A tag has at most 60 characters').required()).max(40);

export const makeSchema = object({
  takeId: id().required(),
  parts: array(partId()).min(1, 'Choose a part first').max(200).required(),
  startBar: number().integer().min(1).max(100_000).required(),
  bars: number().integer().min(1).max(10_000).required(),
  projectId: id().nullable(),
  tags: tagNames().optional(),
});

export const phraseChangeSchema = object({
  name: name('A phrase'),
  role: string().oneOf(ROLES).required(),
  takeKey: mixed<Key>()
    .nullable()
    .test('key', 'This is not a key', (value) => value == null || key().isValidSync(value))
    .defined(),
  recipe: mixed().required(),
  tags: tagNames().required(),
  projectId: id().nullable().defined(),
  rights: text().max(LONGEST_NAME).defined(),
  state: string().oneOf(PHRASE_STATES).required(),
});

export const phraseIdsSchema = object({ phraseIds: array(id().required()).max(5000).required() });

export const phraseStateSchema = phraseIdsSchema.shape({
  state: string().oneOf(PHRASE_STATES).required(),
});

export const newBasketSchema = object({ name: name('A basket'), projectId: id().nullable() });

export const basketChangeSchema = object({
  name: name('A basket').optional(),
  pattern: text().max(LONGEST_NAME).min(1, 'A naming pattern cannot be empty'),
  projectId: id().nullable(),
  inProjectKey: boolean(),
});

export const projectSchema = object({
  name: name('A project'),
  keyTonic: number().integer().min(0).max(11).nullable().defined(),
  keyMode: string().oneOf(MODES).nullable().defined(),
  bpm: number().min(20, 'A tempo is at least 20 BPM').max(400, 'A tempo is at most 400 BPM').required(),
  meterNumerator: number().integer().min(1).max(32).required(),
  meterDenominator: number().oneOf([1, 2, 4, 8, 16, 32]).required(),
  chords: text().max(4000).defined(),
});

const asked = () =>
  object({
    bars: number().integer().min(1).max(10_000).nullable(),
    chart: text().max(4000),
    parts: number().integer().min(1).max(64),
    bpm: number().min(20, 'A tempo is at least 20 BPM').max(400, 'A tempo is at most 400 BPM'),
    key: key().default(undefined),
  }).default(undefined);

const label = () => text().max(LONGEST_NAME);

/** What is said once for all files of an intake. */
export const newIntakeSchema = object({
  source: label(),
  contributor: label(),
  rights: label(),
  asked: asked(),
});

export const takeChangeSchema = object({
  ids: array(id().required()).min(1).max(5000).required(),
  source: label(),
  contributor: label(),
  rights: label(),
  asked: asked(),
  aside: boolean(),
});

export const joinSchema = object({
  ids: array(id().required()).min(2, 'At least two takes are joined').max(64).required(),
  name: name('A take'),
});

export const planSchema = object({
  name: name('A take'),
  recordedAt: string().datetime().required(),
  clock: string().oneOf(RECORDING_CLOCKS).required(),
  bpm: number().min(20).max(400).required(),
  meter: object({
    numerator: number().integer().min(1).max(32).required(),
    denominator: number().oneOf([1, 2, 4, 8, 16, 32]).required(),
  }).required(),
  startMs: number().required(),
  countInBars: number().integer().min(0).max(8).required(),
  bars: number().integer().min(1).max(10_000).nullable().defined(),
  sources: array(object({ name: name('A source'), kind: string().oneOf(['device', 'stand-in']).required() }))
    .min(1, 'A recording needs a source')
    .max(64)
    .required(),
  markBars: number().integer().min(1).max(64).required(),
  chart: text().max(4000),
  parts: number().integer().min(1).max(64),
  answers: object({
    kind: string().oneOf(['phrase', 'take']).required(),
    id: id().required(),
    name: name('A phrase'),
  }).default(undefined),
});

const milliseconds = () => number().min(-1e7).max(1e7).required();

export const captureEndSchema = object({
  endMs: number(),
  lost: array(object({ source: name('A source'), ms: number().required() })).max(64),
  name: name('A take').optional(),
  lateness: object({ median: milliseconds(), p95: milliseconds(), most: milliseconds() }).default(undefined),
});
