import {
  array,
  boolean,
  mixed,
  number,
  object,
  string,
  tuple,
  ref,
  ObjectSchema,
  type Schema,
  type TestContext,
  type ValidationError,
} from 'yup';
import { cardSchema } from '../../core/exchange/card.ts';
import { MERGE_WAYS, type MergeWay } from '../../core/exchange/merge.ts';
import { outOptionsSchema, PACK_LAYOUTS } from '../../core/exchange/out-options.ts';
import { JOIN_WAYS, LAST_ROUNDS, type LastRound } from '../../core/capture/blocks.ts';
import { RECORDING_CLOCKS } from '../../core/capture/recording.ts';
import { isRetiming } from '../../core/capture/retime.ts';
import { parseSymbol } from '../../core/music/chord.ts';
import { PURPOSES } from '../../core/music/form.ts';
import { MODES, type Key } from '../../core/music/key.ts';
import { parseRecipe } from '../../core/normalize/parse.ts';
import { SHEETS } from '../../core/notation/sheet.ts';
import { safeFileName } from '../../core/phrase/naming.ts';
import type { Move, SingleMove } from '../../core/split/moves.ts';
import { ROLES } from '../../core/split/roles.ts';
import { PHRASE_STATES } from '../../server/db/schema.ts';
import { THINGS } from '../../server/library/leaving.ts';

/** Shapes of what the pages send, with sentences for what is wrong. */

const LONGEST_NAME = 200;

/** PostgreSQL holds no zero bytes in text. */
const text = () => string().matches(/^[^\0]*$/, 'A text holds a character that cannot be stored');

const name = (what: string) =>
  text()
    .matches(/\S/, `${what} needs a name`)
    .max(LONGEST_NAME, `A name has at most ${LONGEST_NAME} characters`)
    .required(`${what} needs a name`);

export const bpm = () =>
  number().min(20, 'A tempo is at least 20 BPM').max(400, 'A tempo is at most 400 BPM');

/** Whether something is an object with fields, and no list. */
export function isPlain(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

export const id = () => string().uuid('An id is not one');

/** What is set aside, or brought back. */
export const asideSchema = object({ aside: boolean().required() });

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

const noteSet = () =>
  string()
    .matches(/^[0-9a-f]*$/, 'Notes are named by a set in hexadecimal')
    .max(500_000);
const channel = () => number().integer().min(0).max(15);
const program = () => number().integer().min(0).max(127);
const pitch = () => number().integer().min(0).max(127).required();

const SINGLE_MOVES = {
  rename: object({ move: string().required(), part: partId(), name: name('A part') }),
  role: object({ move: string().required(), part: partId(), role: string().oneOf(ROLES).required() }),
  setAside: object({
    move: string().required(),
    part: partId(),
    reason: text().max(LONGEST_NAME).required('Notes are set aside for a reason'),
    fromTick: tick(),
    toTick: tick(),
    notes: noteSet(),
  }),
  sound: object({
    move: string().required(),
    part: partId(),
    channel: channel().required(),
    program: program().required(),
  }),
  divide: object({
    move: string().required(),
    part: partId(),
    how: text().max(LONGEST_NAME).required(),
    into: array(
      object({
        name: name('A part'),
        notes: noteSet().defined(),
        role: string().oneOf(ROLES).required(),
        channel: channel(),
        program: program(),
      }),
    )
      .min(1)
      .max(200)
      .required(),
  }),
  give: object({ move: string().required(), notes: noteSet().defined(), part: partId() }),
  lock: object({
    move: string().required(),
    part: partId(),
    notes: noteSet().defined(),
    on: boolean().required(),
  }),
  pitchMap: object({
    move: string().required(),
    part: partId(),
    pairs: array(tuple([pitch(), pitch()]).required())
      .max(128)
      .required(),
  }),
  refuse: object({ move: string().required(), proposal: text().max(20_000).required() }),
  bringBack: object({ move: string().required(), entry: number().integer().min(0).required() }),
  nameTake: object({ move: string().required(), name: name('A take') }),
  chooseKey: object({ move: string().required(), key: key().required() }),
  weigh: object({
    move: string().required(),
    part: partId(),
    weight: number().min(0).max(1).nullable().defined(),
  }),
  retime: object({
    move: string().required(),
    how: text().max(LONGEST_NAME).required(),
    anchors: array(tuple([tick().required(), tick().required()]).required())
      .min(2)
      .max(100_000)
      .required()
      .test('ascends', 'Bars must follow each other in time', (anchors) => isRetiming({ anchors })),
    ppq: number().integer().min(24).max(0x7fff),
    meter: object({
      numerator: number().integer().min(1).max(32).required(),
      denominator: number().oneOf([1, 2, 4, 8, 16, 32]).required(),
    })
      .optional()
      .default(undefined),
  }),
  recipe: object({
    move: string().required(),
    role: string().oneOf(ROLES).required(),
    steps: array(object({ step: string().required() }))
      .max(100)
      .required()
      .test('recipe', 'These are not the steps of a recipe', (steps, context) => {
        try {
          parseRecipe({ version: 1, steps: (context.originalValue as unknown[]) ?? steps });
          return true;
        } catch (error) {
          return context.createError({ message: (error as Error).message });
        }
      }),
  }),
  asCaptured: object({ move: string().required() }),
  hearAnew: object({ move: string().required(), method: number().integer().min(1).max(0x7fff).required() }),
  end: object({ move: string().required(), tick: tick().required() }),
  meter: object({
    move: string().required(),
    fromTick: tick().required(),
    numerator: number().integer().min(1).max(32).required(),
    denominator: number().oneOf([1, 2, 4, 8, 16, 32]).required(),
  }),
  repitch: object({
    move: string().required(),
    notes: noteSet().defined(),
    by: number().integer().min(-24).max(24).required(),
  }),
  chord: object({
    move: string().required(),
    fromTick: tick().required(),
    toTick: tick().required(),
    symbol: string()
      .max(40)
      .nullable()
      .defined()
      .test(
        'symbol',
        'This is not a chord symbol that is understood',
        (symbol) => !symbol || parseSymbol(symbol) !== undefined,
      ),
  }),
  sections: object({
    move: string().required(),
    sections: array(
      object({
        startBar: number().integer().min(1).required(),
        bars: number().integer().min(1).required(),
        label: text().max(60).required('A section has a name'),
        purpose: string().oneOf(PURPOSES).required(),
      }),
    )
      .max(500)
      .nullable()
      .defined(),
  }),
  merge: object({ move: string().required(), parts: array(partId()).min(2).max(1000).required() }),
} satisfies Record<SingleMove['move'], Schema>;

/** One move on a split: which fields it has depends on which move it is. */
const singleMove = () =>
  mixed<SingleMove>()
    .required('A move is missing')
    .test('move', 'This is not a move', (value, context) => {
      const schema = SINGLE_MOVES[(value as SingleMove | undefined)?.move as keyof typeof SINGLE_MOVES];
      if (!schema) {
        const known = [...Object.keys(SINGLE_MOVES), 'together'].join(', ');
        return context.createError({ message: `A move is one of ${known}` });
      }
      return validates(schema, value, context);
    });

const together = object({
  move: string().required(),
  title: text().max(LONGEST_NAME).required(),
  moves: array(singleMove()).min(1).max(500).required(),
});

/** A move, or several that are done as one. */
export const moveSchema = mixed<Move>()
  .required('A move is missing')
  .test('together', 'This is not a move', (value, context) =>
    validates((value as Move | undefined)?.move === 'together' ? together : singleMove(), value, context),
  );

/** The revision of a take that whoever changes it has seen. */
export const seenSchema = object({ revision: number().integer().min(0) });

export const historySchema = seenSchema.shape({
  done: number().integer().min(0),
  restore: number().integer().min(0),
});

function validates(schema: Schema, value: unknown, context: TestContext): true | ValidationError {
  try {
    (schema instanceof ObjectSchema ? schema.noUnknown() : schema).validateSync(value, { strict: true });
    return true;
  } catch (error) {
    return context.createError({ message: (error as Error).message });
  }
}

const tagNames = () => array(text().max(60, 'A tag has at most 60 characters').required()).max(40);

export const keepChangesSchema = object({
  takeId: id().required(),
  startBar: number().integer().min(1).max(100_000).required(),
  bars: number().integer().min(1).max(10_000).required(),
  name: name('Changes'),
});

const meter = () =>
  object({
    numerator: number().integer().min(1).max(64).required(),
    denominator: number().oneOf([1, 2, 4, 8, 16, 32]).required(),
  });

export const writtenChangesSchema = object({
  name: name('Changes'),
  chart: text().max(8000, 'These changes are too long').required('There are no chords yet.'),
  key: key().required(),
  bpm: number().min(20).max(400).required(),
  meter: meter().required(),
});

export const changesEditSchema = object({ name: name('Changes').optional(), aside: boolean() });

export const makeSchema = object({
  takeId: id().required(),
  parts: array(partId()).min(1, 'Choose a part first').max(200).required(),
  startBar: number().integer().min(1).max(100_000).required(),
  bars: number().integer().min(1).max(10_000).required(),
  projectId: id().nullable(),
  tags: tagNames().optional(),
  /** Kept at once, where it is not kept already. */
  keep: boolean(),
});

export const projectChoiceSchema = object({ projectId: id().nullable() });

const phraseEditSchema = object({
  name: name('A phrase'),
  role: string().oneOf(ROLES).required(),
  takeKey: mixed<Key>()
    .nullable()
    .test('key', 'This is not a key', (value) => value == null || key().isValidSync(value))
    .defined(),
  recipe: mixed().required(),
  fitting: mixed().default(undefined),
  tags: tagNames().required(),
  projectId: id().nullable().defined(),
  rights: text().max(LONGEST_NAME).defined(),
});

export const phraseChangeSchema = phraseEditSchema.shape({
  state: string().oneOf(PHRASE_STATES).required(),
  /** When the version was written that the change was made on, and what it was. */
  basedOn: string().datetime(),
  base: phraseEditSchema.optional().default(undefined),
});

/** Parts that are taken through other chords together. */
const MOST_CHILDREN = 64;

export const childrenSchema = object({
  children: array(object({ parentId: id().required(), recipe: mixed().required(), name: name('A phrase') }))
    .min(1, 'Choose a phrase first')
    .max(MOST_CHILDREN, `At most ${MOST_CHILDREN} phrases at once`)
    .required(),
  done: text().max(LONGEST_NAME).required('What was done has to be said'),
  sheafName: text().max(LONGEST_NAME),
  tags: tagNames().required(),
  projectId: id().nullable().defined(),
});

export const madeSchema = object({
  name: name('What was made'),
  bpm: number().min(20).max(400).required(),
  meter: meter().required(),
  bars: number().integer().min(1).max(512).required(),
  key: mixed<Key>()
    .nullable()
    .test('key', 'This is not a key', (value) => value == null || key().isValidSync(value))
    .defined(),
  parts: array(
    object({
      name: name('A part'),
      role: string().oneOf(ROLES).required(),
      program: number().integer().min(0).max(127).required(),
      notes: array(
        object({
          tick: number().integer().min(0).max(10_000_000).required(),
          duration: number().integer().min(1).max(10_000_000).required(),
          pitch: number().integer().min(0).max(127).required(),
          velocity: number().integer().min(1).max(127).required(),
        }),
      )
        .max(50_000)
        .required(),
    }),
  )
    .max(15, 'At most 15 parts are made at once')
    .required(),
  parentIds: array(id().required()).max(64).required(),
  done: text().max(LONGEST_NAME).required('What was done has to be said'),
  tags: tagNames().required(),
  projectId: id().nullable().defined(),
});

export const phraseIdsSchema = object({ phraseIds: array(id().required()).max(5000).required() });

export const phraseStateSchema = phraseIdsSchema.shape({
  /** `back` makes what was set aside what it was before. */
  state: string()
    .oneOf([...PHRASE_STATES, 'back'] as const)
    .required(),
});

const rating = () =>
  number()
    .integer()
    .min(0, 'A rating is 1 to 5, or 0 for passed over')
    .max(5, 'A rating is 1 to 5')
    .nullable();

/** Phrases that are told the same at once. */
const MOST_CHANGED = 20_000;

export const phraseChangesSchema = object({
  phraseIds: array(id().required())
    .min(1, 'Choose at least one phrase')
    .max(MOST_CHANGED, 'At most 20,000 phrases are changed at once')
    .required(),
  addTags: tagNames().optional(),
  removeTags: tagNames().optional(),
  rating: rating(),
  projectId: id().nullable(),
  rights: text().max(LONGEST_NAME),
});

export const phrasesBeforeSchema = object({
  before: array(
    object({
      id: id().required(),
      tags: tagNames().required(),
      rating: rating().defined(),
      projectId: id().nullable().defined(),
      rights: text().max(LONGEST_NAME).defined(),
    }),
  )
    .max(MOST_CHANGED)
    .required(),
});

export const tagChangeSchema = object({
  name: text().max(60).required('A tag needs a name'),
  rename: text().max(60, 'A tag has at most 60 characters'),
  under: text().max(60).nullable(),
});

export const apartSchema = object({
  phraseIds: array(id().required()).length(2, 'Two phrases are told apart').required(),
  apart: boolean().required(),
});

export const searchSchema = object({ name: name('A search'), query: text().max(4000).defined() });

const role = () => string().oneOf(ROLES);

export const presetSchema = object({
  name: name('A preset'),
  role: role().nullable().defined(),
  recipe: mixed().required(),
});

export const feelSchema = object({ name: name('A feel'), feel: mixed().required() });

/** Takes of which drafts are made at once. */
const MOST_TAKES = 10_000;

export const newMakingSchema = object({
  takeIds: array(id().required())
    .min(1, 'Choose at least one take')
    .max(MOST_TAKES, 'Drafts are made of 10,000 takes at once at most')
    .required(),
  projectId: id().nullable(),
});

export const newBatchSchema = object({
  phraseIds: array(id().required()).max(
    MOST_CHANGED,
    'At most 20,000 phrases are named one by one: choose them by what they have in common',
  ),
  /** Instead: all that is found, as the library's address says it. */
  filter: string().max(4000),
  title: name('A batch'),
  /** Left out, each role's house recipe is meant. */
  recipe: mixed().nullable().default(undefined),
});

export const batchPhaseSchema = object({
  phase: string()
    .oneOf(['looking', 'applying', 'takingBack', 'stopped'] as const)
    .required(),
});

export const leaveOutSchema = phraseIdsSchema.shape({ out: boolean().required() });

export const forgetSchema = object({
  sourceId: id().required(),
  habit: text().max(100_000).required(),
  forgotten: boolean().required(),
});

export const newBasketSchema = object({
  name: name('A basket'),
  projectId: id().nullable(),
  recipientId: id().nullable(),
});

const basketEditSchema = object({
  name: name('A basket').optional(),
  pattern: text().max(LONGEST_NAME).matches(/\S/, 'A naming pattern cannot be empty'),
  projectId: id().nullable(),
  recipientId: id().nullable(),
  out: outOptionsSchema.optional().default(undefined),
  layout: string().oneOf(PACK_LAYOUTS),
  previews: boolean(),
  previewSums: boolean(),
  previewBeds: boolean(),
  mirror: string()
    .trim()
    .min(1, 'A folder to mirror to has a name')
    .max(120)
    .nullable()
    .test(
      'name',
      'A folder to mirror to is a plain name: letters, digits, dots, dashes and underscores',
      (folder) => !folder || safeFileName(folder) === folder,
    ),
});

export const basketChangeSchema = basketEditSchema.shape({
  /** What these were when the change was begun. */
  was: basketEditSchema.optional().default(undefined),
});

export const basketItemsSchema = phraseIdsSchema.shape({
  /** What was in it when the change was begun. */
  was: array(id().required()).max(5000),
});

export const recipientSchema = object({ name: name('A recipient'), card: cardSchema.required() });

const recipientEditSchema = object({
  name: name('A recipient').optional(),
  card: cardSchema.optional().default(undefined),
});

export const recipientChangeSchema = recipientEditSchema.shape({
  /** What the change was made of. */
  base: recipientEditSchema.optional().default(undefined),
});

export const projectSchema = object({
  name: name('A project'),
  keyTonic: number().integer().min(0).max(11).nullable().defined(),
  keyMode: string().oneOf(MODES).nullable().defined(),
  bpm: bpm().required(),
  meterNumerator: number().integer().min(1).max(32).required(),
  meterDenominator: number().oneOf([1, 2, 4, 8, 16, 32]).required(),
  chords: text().max(4000).defined(),
});

export const projectChangeSchema = projectSchema.shape({
  /** What the change was made of. */
  base: projectSchema.optional().default(undefined),
});

const asked = () =>
  object({
    bars: number().integer().min(1).max(10_000).nullable(),
    chart: text().max(4000),
    parts: number().integer().min(1).max(64),
    bpm: bpm(),
    key: key().default(undefined),
  }).default(undefined);

/** As `asked`, of takes that are there: null says that nobody asked for it. */
const askedChange = () =>
  object({
    bars: number().integer().min(1).max(10_000).nullable(),
    chart: text().max(4000).nullable(),
    parts: number().integer().min(1).max(64).nullable(),
    bpm: bpm().nullable(),
    key: key().nullable().default(undefined),
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
  asked: askedChange(),
  aside: boolean(),
});

export const joinSchema = object({
  ids: array(id().required()).min(2, 'At least two takes are joined').max(64).required(),
  name: name('A take'),
  way: string().oneOf(JOIN_WAYS),
});

export const fillSchema = object({
  bars: number().integer().min(1).max(512, 'At most ${max} bars are filled').required(),
  last: string<LastRound>().oneOf(LAST_ROUNDS),
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
  key: key().default(undefined),
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

const isProgram = (value: unknown) => Number.isInteger(value) && Number(value) >= 0 && Number(value) <= 127;

/** Programs by the names of parts. */
const programs = () =>
  mixed<Record<string, number>>().test(
    'programs',
    'A sound is a program from 0 to 127 under the name of a part',
    (value) =>
      value === undefined ||
      (typeof value === 'object' && value !== null && Object.values(value).every(isProgram)),
  );

/** What leaves, for whom, and how. */
export const leavingSchema = object({
  kind: string().oneOf(THINGS).required(),
  id: id().required(),
  scope: object({
    bars: object({
      from: number().integer().min(1, 'Bars are counted from 1').required(),
      to: number().integer().min(ref('from'), 'The last bar is not before the first').required(),
    })
      .nullable()
      .defined(),
    parts: array(string().max(64).required()).max(2000).nullable().defined(),
  })
    .optional()
    .default(undefined),
  recipientId: id().nullable(),
  out: outOptionsSchema.optional().default(undefined),
  programs: programs(),
});

/** Of what a sheet is asked, and which. */
export const sheetSchema = leavingSchema.shape({ as: string().oneOf(SHEETS).required() });

/** What the takes of a source have where nobody says otherwise. */
export const sourceDefaultsSchema = object({
  rights: text().max(LONGEST_NAME),
  tags: array(text().max(LONGEST_NAME).required()).max(50),
});

export const bankSchema = object({ roles: array(string().oneOf(ROLES).required()).required() });

const isWay = (way: unknown) => MERGE_WAYS.some((one) => one === way);

/** What is done with a pack that came in: one way for all, others for some of its phrases. */
export const mergeSchema = object({
  all: string().oneOf(MERGE_WAYS).required(),
  ways: mixed<Record<string, MergeWay>>().test(
    'ways',
    `What is done with a phrase is one of ${MERGE_WAYS.join(', ')}`,
    (ways) => ways === undefined || (typeof ways === 'object' && Object.values(ways).every(isWay)),
  ),
  along: object({
    tags: boolean().required(),
    changes: boolean().required(),
    sound: boolean().required(),
  }).default(undefined),
});

/** A part that came back, and the phrase that it left as. */
export const cameBackSchema = object({ part: text().required(), phraseId: id().required() });
