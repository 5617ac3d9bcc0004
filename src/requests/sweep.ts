import { array, boolean, mixed, number, object, string, type InferType } from 'yup';
import { LONGEST_CHART } from '../core/comp/document.ts';
import {
  MOST_RUNS,
  SWEEP_STATES,
  type SweepPlan,
  type SweepTrigger,
  type SweepValue,
} from '../core/sweep/plan.ts';
import { bpm, id, isPlain } from './fields.ts';

const isValue = (given: unknown): given is SweepValue =>
  (typeof given === 'string' && given.length <= 2000) ||
  typeof given === 'boolean' ||
  (typeof given === 'number' && Number.isFinite(given));

const settings = () =>
  mixed(
    (given): given is Record<string, SweepValue> => isPlain(given) && Object.values(given).every(isValue),
  ).required();

export const sweepPlanSchema = object({
  name: string().trim().max(200).required('A sweep has a name'),
  source: object({
    kind: string().oneOf(['stand-in', 'device'] as const).required(), // prettier-ignore
    id: string().max(80),
    name: string().max(200),
  }).required(),
  trigger: object({
    kind: string().oneOf(['own', 'chart', 'phrase'] as const).required(), // prettier-ignore
    chart: string().max(LONGEST_CHART, 'A chart has at most ${max} characters'),
    id: id(),
    name: string().max(300),
  }).required(),
  bpm: bpm().required(),
  bars: number().integer().min(1).max(64, 'A run has at most ${max} bars').required(),
  settings: settings(),
  vary: array(
    object({
      name: string().max(80).required(),
      values: array(mixed(isValue).required()).max(MOST_RUNS).required(),
    }),
  )
    .max(12)
    .required(),
  waits: boolean().required(),
});

/** A plan as it was sent, each kind of source and trigger with what it has. */
export function planOf({ source, trigger, ...rest }: InferType<typeof sweepPlanSchema>): SweepPlan {
  return {
    ...rest,
    source: source.kind === 'device' ? { kind: 'device', name: source.name ?? '' } : { kind: 'stand-in', id: source.id ?? '' }, // prettier-ignore
    trigger: triggerOf(trigger),
  } as SweepPlan;
}

function triggerOf({
  kind,
  chart,
  id: phrase,
  name,
}: InferType<typeof sweepPlanSchema>['trigger']): SweepTrigger {
  if (kind === 'chart') return { kind, chart: chart ?? '' };
  return kind === 'phrase' && phrase ? { kind, id: phrase, name: name ?? '' } : { kind: 'own' };
}

export const sweepStateSchema = object({ state: string().oneOf(SWEEP_STATES.filter((state) => state !== 'done')).required() }); // prettier-ignore
export const sweepRunSchema = object({
  takeId: id().nullable().defined(),
  reason: string().max(300).default(''),
});
export const keepRunsSchema = object({
  runs: array(number().integer().min(0).max(MOST_RUNS).required()).min(1, 'No run is chosen').max(MOST_RUNS).required(), // prettier-ignore
});
