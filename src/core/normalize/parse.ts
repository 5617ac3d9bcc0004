import {
  array,
  boolean,
  mixed,
  number,
  object,
  string,
  tuple,
  type ObjectSchema,
  ValidationError,
} from 'yup';
import { KIT_PIECES, type KitPiece } from '../midi/gm.ts';
import { parseKey } from '../music/key.ts';
import { PHRASE_TOKENS, unknownTokens } from '../phrase/naming.ts';
import type { FeelShape } from './feel.ts';
import type { Fitting } from './fitting.ts';
import { MENDS } from '../through/mends.ts';
import { WAYS } from '../through/pieces.ts';
import {
  MOST_BARS,
  MOST_BEATS,
  readOrWhy,
  type WrittenChange,
  type WrittenChanges,
} from '../through/sounding.ts';
import { ENDINGS } from './ending.ts';
import { GRIDS } from './grid.ts';
import { orderProblem } from './order.ts';
import { RecipeError, STEP_NAMES, type Recipe, type RecipeStep, type StepName } from './recipe.ts';
import type { ShiftParams } from './shift.ts';
import type { VelocityParams } from './velocity.ts';

const pitch = () => number().integer().min(0).max(127);
const velocity = () => number().integer().min(1).max(127);
/** Quarter notes from bar one; below 0 in the pickup. */
const beat = () => number().min(-64).max(100_000);
const share = () => number().min(0).max(1);

/** A captured note, or one that was added: by hand, or by a step. */
const origin = () => number().integer().min(-0x7fffffff).max(0x7fffffff).required();

/** A chart, or a list of chords with their beats. How many beats a bar has is the phrase's to say. */
function changes() {
  return mixed<WrittenChanges>().test('changes', function check(value) {
    if (value == null) return true;
    const isList =
      Array.isArray(value) &&
      value.length <= MOST_CHORDS &&
      value.every(
        ({ beat, beats, symbol }: Partial<WrittenChange>) =>
          [typeof beat, typeof beats, typeof symbol].join() === 'number,number,string',
      );
    if (typeof value !== 'string' && !isList) {
      return this.createError({
        message: '${path} must be a chart such as "C | F G" or a list of chords with beats',
      });
    }
    const read = readOrWhy(value, MOST_BEATS);
    return typeof read !== 'string' || this.createError({ message: `\${path}: ${read.replace(/\.$/, '')}` });
  });
}

/** More chords than this are no phrase's. */
const MOST_CHORDS = 4096;

function keyText() {
  return string().test(
    'key',
    '${path} must be a key such as "C" or "Bb"',
    (value) => value == null || !!parseKey(value),
  );
}

const SCHEMAS: Record<StepName, ObjectSchema<object>> = {
  bars: object({
    start: number().integer().min(1).max(100_000).required(),
    count: number().integer().min(1).max(10_000).required(),
    tail: string().oneOf(['cut', 'keep', 'wrap'] as const),
    early: string().oneOf(['none', ...GRIDS] as const),
    pickup: number().min(0).max(64),
  }),
  pickup: object({
    mode: string()
      .oneOf(['keep', 'wrap', 'drop'] as const)
      .required(),
  }),
  switches: object({
    pitches: array(pitch().required()).max(128),
    mode: string()
      .oneOf(['lock', 'drop'] as const)
      .required(),
  }),
  drums: object({
    pairs: array(tuple([pitch().required(), pitch().required()]).required())
      .max(128)
      .required(),
  }),
  feel: object({
    feel: object({
      grid: string().oneOf(GRIDS).required(),
      places: array(
        object({
          place: number().integer().min(0).max(1000).required(),
          by: number().min(-1).max(1).required(),
          accent: number().min(0).max(10).required(),
        }).noUnknown(),
      )
        .max(1000)
        .required(),
    })
      .noUnknown()
      .required(),
    timing: share(),
    accents: share(),
  }),
  repeat: object({ bars: number().integer().min(1).max(MOST_BARS).required() }),
  through: object({
    from: changes().required(),
    to: changes().required(),
    key: keyText(),
    way: string().oneOf(WAYS),
    loop: boolean(),
    richer: boolean(),
    strike: boolean(),
    mend: array(
      object({
        note: origin(),
        way: string().oneOf(MENDS).required(),
      }).noUnknown(),
    ).max(20_000),
  }),
  density: object({
    level: number().integer().min(-3).max(3).required(),
    seed: number().integer().min(0).max(0xffffffff),
    over: changes().notRequired(),
  }),
  octave: object({ by: number().integer().min(-5).max(5).required(), from: beat(), to: beat() }),
  layer: object({
    octave: number().integer().min(-4).max(4),
    level: number().min(0.05).max(2),
    lateMs: number().min(0).max(1000),
    program: number().integer().min(1).max(128),
    pan: number().integer().min(0).max(127),
    density: number().integer().min(-3).max(3),
  }),
  ending: object({ as: string().oneOf(ENDINGS).required(), bars: number().integer().min(1).max(8) }),
  edit: object({
    in: keyText(),
    change: array(
      object({
        note: origin(),
        beat: beat(),
        length: number().moreThan(0).max(100_000),
        semitones: number().integer().min(-127).max(127),
        velocity: velocity(),
        remove: boolean(),
      }).noUnknown(),
    ).max(20_000),
    add: array(
      object({
        beat: beat().required(),
        length: number().moreThan(0).max(100_000).required(),
        pitch: pitch().required(),
        velocity: velocity().required(),
      }).noUnknown(),
    ).max(20_000),
  }),
  channel: object({
    channel: number().integer().min(1).max(16),
    program: number().integer().min(1).max(128),
  }),
  name: object({
    pattern: string()
      .max(200)
      .required()
      .test(
        'tokens',
        'pattern knows ' + PHRASE_TOKENS.join(', '),
        (pattern) => unknownTokens(pattern ?? '', PHRASE_TOKENS).length === 0,
      ),
  }),
  pedal: object({
    mode: string()
      .oneOf(['keep', 'length', 'drop'] as const)
      .required(),
  }),
  doubles: object({ ms: number().min(0).max(100) }),
  time: object({ factor: number().oneOf([0.5, 2]).required() }),
  humanize: object({
    ms: number().min(0).max(100).required(),
    velocity: number().integer().min(0).max(40),
    seed: number().integer().min(0).max(0xffffffff),
  }),
  controls: object({
    mode: string()
      .oneOf(['keep', 'settle', 'drop'] as const)
      .required(),
  }),
  quantize: object({
    spread: string().oneOf(['keep', 'flat'] as const),
    grid: string().oneOf(GRIDS).required(),
    strength: number().min(0).max(1),
    swing: mixed().test(
      'swing',
      'swing must be "keep" or a number from 0.5 to 0.75',
      (value) =>
        value == null || value === 'keep' || (typeof value === 'number' && value >= 0.5 && value <= 0.75),
    ),
  }),
  velocity: object({
    loud: number().moreThan(0).max(1).required(),
    range: number().min(0).max(4),
    except: array(string<KitPiece>().oneOf(KIT_PIECES).required()),
    ghosts: number().integer().min(0).max(126),
  }),
  length: object({ factor: number().min(0.05).max(8).required() }),
  shift: object({
    ms: number().min(-1000).max(1000).required(),
    early: string().oneOf(['hold', 'wrap', 'pickup'] as const),
  }),
  transpose: object({
    semitones: number().integer().min(-48).max(48),
    to: keyText(),
  }).test(
    'one-of',
    'transpose takes either "semitones" or "to"',
    (value) => (value.semitones == null) !== (value.to == null),
  ),
  register: object({ low: pitch().required(), high: pitch().required() }).test(
    'order',
    'the low end of a register must lie an octave or more below the high end',
    (value) => value.high - value.low >= 11,
  ),
  resolution: object({ ppq: number().integer().min(24).max(32_767).required() }),
};

/** Checks that a value read from outside is a recipe whose order can be kept. @throws RecipeError that says which step and why. */
export function parseRecipe(value: unknown): Recipe {
  const { version, steps } = (value ?? {}) as { version?: unknown; steps?: unknown };
  if (version !== 1) throw new RecipeError('A recipe says "version": 1 and lists its "steps".');
  if (!Array.isArray(steps)) throw new RecipeError('A recipe has a list of "steps".');
  if (steps.length > 100) throw new RecipeError('A recipe has at most 100 steps.');
  const recipe: Recipe = { version: 1, steps: steps.map((step, index) => parseStep(step, index)) };
  const problem = orderProblem(recipe.steps);
  if (problem) throw new RecipeError(problem.reason);
  return recipe;
}

/** Checks that a value read from outside is a fitting. @throws RecipeError */
export function parseFitting(value: unknown): Fitting {
  const { shift, velocity } = (value ?? {}) as { shift?: object; velocity?: object };
  const steps = [
    ...(velocity ? [{ ...velocity, step: 'velocity' }] : []),
    ...(shift ? [{ ...shift, step: 'shift' }] : []),
  ];
  steps.forEach((step, index) => parseStep(step, index));
  return {
    ...(velocity ? { velocity: velocity as VelocityParams } : {}),
    ...(shift ? { shift: shift as ShiftParams } : {}),
  };
}

/** Checks that a value read from outside is a feel. @throws RecipeError */
export function parseFeel(value: unknown): FeelShape {
  parseStep({ step: 'feel', feel: value }, 0);
  return value as FeelShape;
}

function parseStep(value: unknown, index: number): RecipeStep {
  const name = (value as { step?: unknown } | null)?.step;
  if (typeof name !== 'string' || !(name in SCHEMAS)) {
    throw new RecipeError(
      `Step ${index + 1}: ${JSON.stringify(name) ?? 'nothing'} is not a step. There are ${STEP_NAMES.join(', ')}.`,
    );
  }
  try {
    return SCHEMAS[name as StepName]
      .shape({ step: string().required(), off: boolean() })
      .noUnknown()
      .validateSync(value, { strict: true }) as unknown as RecipeStep;
  } catch (error) {
    if (error instanceof ValidationError)
      throw new RecipeError(`Step ${index + 1} (${name}): ${error.message}.`);
    throw error;
  }
}
