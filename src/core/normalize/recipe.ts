import type { Clip } from '../phrase/clip.ts';
import { cutBars, type BarsParams } from './bars.ts';
import { setChannel, type ChannelParams } from './channel.ts';
import { settleControls, type ControlsParams } from './controls.ts';
import { settleDoubles, type DoublesParams } from './doubles.ts';
import { setDensity, type DensityParams } from './density.ts';
import { mapDrums, type DrumsParams } from './drums.ts';
import { editNotes, type EditParams } from './edit.ts';
import { endPhrase, type EndingParams } from './ending.ts';
import { putFeel, type FeelParams } from './feel.ts';
import { humanize, type HumanizeParams } from './humanize.ts';
import { layer, type LayerParams } from './layer.ts';
import { setLength, type LengthParams } from './length.ts';
import { nameByPattern, type NameParams } from './name.ts';
import { setOctave, type OctaveParams } from './octave.ts';
import { settlePedal, type PedalParams } from './pedal.ts';
import { settlePickup, type PickupParams } from './pickup.ts';
import { quantize, type QuantizeParams } from './quantize.ts';
import { setRegister, type RegisterParams } from './register.ts';
import { repeat, type RepeatParams } from './repeat.ts';
import { LIBRARY_PPQ, setResolution, type ResolutionParams } from './resolution.ts';
import { shift, type ShiftParams } from './shift.ts';
import type { Step, StepResult } from './step.ts';
import { settleSwitches, type SwitchesParams } from './switches.ts';
import { throughOthers, type ThroughParams } from './through.ts';
import { setTime, type TimeParams } from './time.ts';
import { transpose, type TransposeParams } from './transpose.ts';
import { setVelocity, type VelocityParams } from './velocity.ts';

interface StepParams {
  bars: BarsParams;
  pickup: PickupParams;
  switches: SwitchesParams;
  drums: DrumsParams;
  pedal: PedalParams;
  doubles: DoublesParams;
  time: TimeParams;
  quantize: QuantizeParams;
  feel: FeelParams;
  humanize: HumanizeParams;
  velocity: VelocityParams;
  length: LengthParams;
  shift: ShiftParams;
  transpose: TransposeParams;
  register: RegisterParams;
  controls: ControlsParams;
  repeat: RepeatParams;
  through: ThroughParams;
  density: DensityParams;
  octave: OctaveParams;
  layer: LayerParams;
  ending: EndingParams;
  edit: EditParams;
  channel: ChannelParams;
  name: NameParams;
  resolution: ResolutionParams;
}

export type StepName = keyof StepParams;

type Entry<Name extends StepName> = { step: Name; off?: boolean } & StepParams[Name];

/** A step of a recipe: its name, its parameters, and whether it is switched off. */
export type RecipeStep = { [Name in StepName]: Entry<Name> }[StepName];

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
  /** What it found, in ticks of so many a quarter note. */
  outside?: StepResult['outside'];
  unheard?: StepResult['unheard'];
  ppq: number;
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
  pickup: settlePickup,
  switches: settleSwitches,
  drums: mapDrums,
  pedal: settlePedal,
  doubles: settleDoubles,
  time: setTime,
  quantize,
  feel: putFeel,
  humanize,
  velocity: setVelocity,
  length: setLength,
  shift,
  transpose,
  register: setRegister,
  controls: settleControls,
  repeat,
  through: throughOthers,
  density: setDensity,
  octave: setOctave,
  layer,
  ending: endPhrase,
  edit: editNotes,
  channel: setChannel,
  name: nameByPattern,
  resolution: setResolution,
};

/** Steps that make another phrase of one that is settled. */
export const REUSE_STEPS = [
  'repeat',
  'through',
  'density',
  'octave',
  'layer',
  'ending',
] as const satisfies StepName[];

/** Whether a step makes another phrase of one that is settled. */
export function isReuse(step: StepName): boolean {
  return (REUSE_STEPS as readonly StepName[]).includes(step);
}

export const STEP_NAMES = Object.keys(STEPS) as StepName[];

/** Titles for people, in the interface's words. */
export const STEP_TITLES: Record<StepName, string> = {
  bars: 'Bars',
  pickup: 'Pickup',
  switches: 'Key switches',
  drums: 'Drum map',
  pedal: 'Pedal',
  doubles: 'Doubles',
  time: 'Half or double time',
  quantize: 'Quantize',
  feel: 'Feel',
  humanize: 'Humanize',
  velocity: 'Velocity',
  length: 'Length',
  shift: 'Shift',
  transpose: 'Transpose',
  register: 'Register',
  controls: 'Controllers',
  repeat: 'Repeat',
  through: 'Through other chords',
  density: 'Busier or calmer',
  octave: 'Octave',
  layer: 'Layer',
  ending: 'Ending',
  edit: 'By hand',
  channel: 'Channel and program',
  name: 'Name',
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
      const { ppq } = result.clip.timeline;
      result.reports.push({ step: entry.step, off: true, changed: 0, summary: 'off', ppq });
      continue;
    }
    const { clip: next, setAside, ...told } = applyStep(result.clip, entry);
    result.clip = next;
    result.reports.push({ step: entry.step, off: false, ...told, ppq: next.timeline.ppq });
    for (const { reason, origins } of setAside) {
      // What was added by hand was never captured: it is not in the tally.
      const captured = origins.filter((origin) => origin >= 0);
      if (captured.length > 0) result.setAside.push({ reason, origins: captured });
    }
  }
  return result;
}

function applyStep(clip: Clip, entry: RecipeStep): StepResult {
  const step = STEPS[entry.step] as Step<RecipeStep>;
  return step(clip, entry);
}

/** What the library keeps of a clip: the recipe's result, in its own ticks where the recipe does not say which. */
export function keptResult(clip: Clip, recipe: Recipe): RecipeResult {
  const result = applyRecipe(clip, recipe);
  if (activeStep(recipe, 'resolution')) return result;
  return { ...result, clip: setResolution(result.clip, { ppq: LIBRARY_PPQ }).clip };
}

/** The step of a name that is on, the first where there are several. */
export function activeStep<Name extends StepName>(recipe: Recipe, name: Name): Entry<Name> | undefined {
  return recipe.steps.find((step): step is Entry<Name> & RecipeStep => step.step === name && !step.off);
}

/** The recipe for other bars, cut first; everything else about the cut stays. Without bars: what a preset keeps. */
export function onBars(recipe: Recipe, bars: { start: number; count: number } | null): Recipe {
  const others = recipe.steps.filter(({ step }) => step !== 'bars');
  const cut = recipe.steps.find((step) => step.step === 'bars');
  if (!bars) return { ...recipe, steps: others };
  const { off: _, ...how } = cut ?? { step: 'bars' as const };
  return { ...recipe, steps: [{ ...how, ...bars }, ...others] };
}
