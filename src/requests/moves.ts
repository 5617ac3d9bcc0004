import {
  array,
  boolean,
  mixed,
  number,
  object,
  string,
  tuple,
  ObjectSchema,
  type Schema,
  type TestContext,
  type ValidationError,
} from 'yup';
import { isRetiming } from '../core/capture/retime.ts';
import { parseSymbol } from '../core/music/chord.ts';
import { PURPOSES } from '../core/music/form.ts';
import { parseRecipe } from '../core/normalize/parse.ts';
import { type Move, type SingleMove } from '../core/split/moves.ts';
import { ROLES } from '../core/split/roles.ts';
import { LONGEST_NAME, text, name, key, tick, partId, channel, program, pitch } from './fields.ts';

/** Moves on a take. */

const noteSet = () =>
  string()
    .matches(/^[0-9a-f]*$/, 'Notes are named by a set in hexadecimal')
    .max(500_000);

/** What is said of a section whose bars are known. */
export const sectionSaidSchema = object({
  label: text().max(60, 'A section has a name of at most ${max} characters').required('A section has a name'),
  purpose: string().oneOf(PURPOSES).required(),
});

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
      sectionSaidSchema.shape({
        startBar: number().integer().min(1).required(),
        bars: number().integer().min(1).required(),
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

export const together = object({
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
