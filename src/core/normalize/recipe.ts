import { array, boolean, mixed, number, object, string, type ObjectSchema, ValidationError } from 'yup';
import { KIT_PIECES, type KitPiece } from '../midi/gm.ts';
import { parseKey } from '../music/key.ts';
import type { Clip } from '../phrase/clip.ts';
import { cutBars, type BarsParams } from './bars.ts';
import { settleControls, type ControlsParams } from './controls.ts';
import { settleDoubles, type DoublesParams } from './doubles.ts';
import { GRIDS } from './grid.ts';
import { humanize, type HumanizeParams } from './humanize.ts';
import { setLength, type LengthParams } from './length.ts';
import { settlePedal, type PedalParams } from './pedal.ts';
import { quantize, type QuantizeParams } from './quantize.ts';
import { setRegister, type RegisterParams } from './register.ts';
import { setResolution, type ResolutionParams } from './resolution.ts';
import { shift, type ShiftParams } from './shift.ts';
import type { Step, StepResult } from './step.ts';
import { setTime, type TimeParams } from './time.ts';
import { transpose, type TransposeParams } from './transpose.ts';
import { setVelocity, type VelocityParams } from './velocity.ts';

interface StepParams {
  bars: BarsParams;
  pedal: PedalParams;
  doubles: DoublesParams;
  time: TimeParams;
  quantize: QuantizeParams;
  humanize: HumanizeParams;
  velocity: VelocityParams;
  length: LengthParams;
  shift: ShiftParams;
  transpose: TransposeParams;
  register: RegisterParams;
  controls: ControlsParams;
  resolution: ResolutionParams;
}

export type StepName = keyof StepParams;

/** A step of a recipe: its name, its parameters, and whether it is switched off. */
export type RecipeStep = {
  [Name in StepName]: { step: Name; off?: boolean } & StepParams[Name];
}[StepName];

/** The ordered steps that turn captured notes into a phrase. docs/formats/recipe.md describes the file. */
export interface Recipe {
  version: 1;
  steps: RecipeStep[];
}

/** What a step did, or that it was off. */
export interface StepReport {
  step: StepName;
  off: boolean;
  changed: number;
  summary: string;
}

export interface RecipeResult {
  clip: Clip;
  reports: StepReport[];
  setAside: StepResult['setAside'];
}

/** Thrown when a recipe is none. The message is a sentence that names the step and the field. */
export class RecipeError extends Error {
  override readonly name = 'RecipeError';
}

const STEPS: { [Name in StepName]: Step<StepParams[Name]> } = {
  bars: cutBars,
  pedal: settlePedal,
  doubles: settleDoubles,
  time: setTime,
  quantize,
  humanize,
  velocity: setVelocity,
  length: setLength,
  shift,
  transpose,
  register: setRegister,
  controls: settleControls,
  resolution: setResolution,
};

export const STEP_NAMES = Object.keys(STEPS) as StepName[];

/** Titles for people, in the interface's words. */
export const STEP_TITLES: Record<StepName, string> = {
  bars: 'Bars',
  pedal: 'Pedal',
  doubles: 'Doubles',
  time: 'Half or double time',
  quantize: 'Quantize',
  humanize: 'Humanize',
  velocity: 'Velocity',
  length: 'Length',
  shift: 'Shift',
  transpose: 'Transpose',
  register: 'Register',
  controls: 'Controllers',
  resolution: 'Resolution',
};

/**
 * Applies the steps in their order. Pure: the same clip and recipe give the same notes. Every note of the
 * clip is afterward in the result or set aside under a reason.
 */
export function applyRecipe(clip: Clip, recipe: Recipe): RecipeResult {
  const result: RecipeResult = { clip, reports: [], setAside: [] };
  for (const entry of recipe.steps) {
    if (entry.off) {
      result.reports.push({ step: entry.step, off: true, changed: 0, summary: 'off' });
      continue;
    }
    const { clip: next, changed, summary, setAside } = applyStep(result.clip, entry);
    result.clip = next;
    result.reports.push({ step: entry.step, off: false, changed, summary });
    result.setAside.push(...setAside);
  }
  return result;
}

function applyStep(clip: Clip, entry: RecipeStep): StepResult {
  const step = STEPS[entry.step] as Step<RecipeStep>;
  return step(clip, entry);
}

const pitch = () => number().integer().min(0).max(127);

const SCHEMAS: Record<StepName, ObjectSchema<object>> = {
  bars: object({
    start: number().integer().min(1).max(100_000).required(),
    count: number().integer().min(1).max(10_000).required(),
    tail: string().oneOf(['cut', 'keep'] as const),
    early: string().oneOf(['none', ...GRIDS] as const),
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
  shift: object({ ms: number().min(-1000).max(1000).required() }),
  transpose: object({
    semitones: number().integer().min(-48).max(48),
    to: string().test(
      'key',
      'to must be a key such as "C" or "Bb"',
      (value) => value == null || !!parseKey(value),
    ),
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

/** Checks that a value read from outside is a recipe. @throws RecipeError that says which step and why. */
export function parseRecipe(value: unknown): Recipe {
  const { version, steps } = (value ?? {}) as { version?: unknown; steps?: unknown };
  if (version !== 1) throw new RecipeError('A recipe says "version": 1 and lists its "steps".');
  if (!Array.isArray(steps)) throw new RecipeError('A recipe has a list of "steps".');
  if (steps.length > 100) throw new RecipeError('A recipe has at most 100 steps.');
  return { version: 1, steps: steps.map((step, index) => parseStep(step, index)) };
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
