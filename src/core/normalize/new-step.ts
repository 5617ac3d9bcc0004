import type { Mode } from '../music/key.ts';
import type { Role } from '../split/roles.ts';
import { houseRecipe, type House } from './house.ts';
import { orderProblem } from './order.ts';
import type { RecipeStep, StepName } from './recipe.ts';

/** A step as it is added where the house says nothing of it: doing as little as the step can. */
const PLAIN: { [Name in StepName]: Extract<RecipeStep, { step: Name }> } = {
  bars: { step: 'bars', start: 1, count: 4 },
  pickup: { step: 'pickup', mode: 'keep' },
  switches: { step: 'switches', mode: 'lock', pitches: [] },
  drums: { step: 'drums', pairs: [] },
  pedal: { step: 'pedal', mode: 'length' },
  doubles: { step: 'doubles', ms: 10 },
  time: { step: 'time', factor: 2 },
  quantize: { step: 'quantize', grid: '1/16', strength: 1 },
  feel: { step: 'feel', feel: { grid: '1/16', places: [] }, timing: 1, accents: 0 },
  humanize: { step: 'humanize', ms: 6, velocity: 4, seed: 1 },
  velocity: { step: 'velocity', loud: 0.8, range: 1 },
  length: { step: 'length', factor: 1 },
  shift: { step: 'shift', ms: 0 },
  transpose: { step: 'transpose', semitones: 0 },
  register: { step: 'register', low: 36, high: 84 },
  controls: { step: 'controls', mode: 'settle' },
  repeat: { step: 'repeat', bars: 8 },
  through: { step: 'through', from: 'C', to: 'C' },
  density: { step: 'density', level: 0, seed: 1 },
  octave: { step: 'octave', by: 1 },
  layer: { step: 'layer', octave: 1, level: 0.6 },
  ending: { step: 'ending', as: 'ring', bars: 1 },
  edit: { step: 'edit' },
  channel: { step: 'channel', channel: 1 },
  name: { step: 'name', pattern: '{take}, {part}' },
  resolution: { step: 'resolution', ppq: 480 },
};

/** A step with the values that the house has for a role. */
export function newStep(name: StepName, role: Role, mode: Mode | null, house: House): RecipeStep {
  if (name === 'name') return { ...PLAIN.name, pattern: house.pattern };
  const baked = houseRecipe(role, null, mode, { ...house, shiftBeside: false, velocityBeside: false });
  return baked.steps.find(({ step }) => step === name) ?? PLAIN[name];
}

/** The order in which steps usually stand: what is captured first, then how it is played, then how it leaves. */
const USUAL: readonly StepName[] = [
  'bars',
  'pickup',
  'switches',
  'doubles',
  'drums',
  'time',
  'quantize',
  'feel',
  'humanize',
  'velocity',
  'length',
  'transpose',
  'register',
  'pedal',
  'controls',
  'repeat',
  'through',
  'density',
  'octave',
  'layer',
  'ending',
  'shift',
  'edit',
  'channel',
  'name',
  'resolution',
];

/** The steps with one more, where it usually stands; where that gives no sense, at the nearest place before that does. */
export function withNewStep(steps: readonly RecipeStep[], step: RecipeStep): RecipeStep[] {
  const rank = USUAL.indexOf(step.step);
  const last = steps.findLastIndex((other) => USUAL.indexOf(other.step) <= rank);
  for (let at = last + 1; at >= 0; at--) {
    const tried = steps.toSpliced(at, 0, step);
    if (!orderProblem(tried)) return tried;
  }
  return [...steps, step];
}
