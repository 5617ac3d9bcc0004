import type { CommonSettings, Field, StandIn } from '../standins/stand-in.ts';
import { STAND_INS } from '../standins/stand-ins.ts';

/** What a field of a source can be set to. */
export type SweepValue = string | number | boolean;
export type SweepSettings = Record<string, SweepValue>;

/** A field that is gone through, and what it is set to in turn. */
export interface SweepAxis {
  name: string;
  values: SweepValue[];
}

/** What sets the source off: what it plays by itself, a chart, or a phrase whose notes are held down. */
export type SweepTrigger =
  { kind: 'own' } | { kind: 'chart'; chart: string } | { kind: 'phrase'; id: string; name: string };

/** One source, asked the same in many ways. */
export interface SweepPlan {
  name: string;
  source: { kind: 'stand-in'; id: string } | { kind: 'device'; name: string };
  trigger: SweepTrigger;
  bpm: number;
  /** Bars that are asked for. */
  bars: number;
  /** What stays as it is in all runs. */
  settings: SweepSettings;
  vary: SweepAxis[];
  /** Whether somebody turns a knob between runs: then each waits for them. */
  waits: boolean;
}

/** A stopped sweep goes on when it is told to. */
export const SWEEP_STATES = ['running', 'stopped', 'done'] as const;
export type SweepState = (typeof SWEEP_STATES)[number];

export type SweepRunState = 'waiting' | 'done' | 'silent' | 'failed';

/** More nobody listens through. */
export const MOST_RUNS = 500;

/** What a device can be told between runs, with how its values are written. */
const DEVICE_FIELDS: Field[] = [
  { name: 'program', label: 'Program', kind: 'number', min: 1, max: 128 },
  { name: 'key switch', label: 'Key switch', kind: 'number', min: 0, max: 127 },
  { name: 'keys', label: 'Keys held', kind: 'text', hint: 'C3 E3 G3' },
  { name: 'transpose', label: 'Transposed by', kind: 'number', min: -24, max: 24, unit: 'semitones' },
  { name: 'bpm', label: 'Tempo', kind: 'number', min: 20, max: 400, unit: 'BPM' },
  { name: 'controller 1', label: 'Modulation', kind: 'number', min: 0, max: 127 },
  { name: 'controller 74', label: 'Controller 74', kind: 'number', min: 0, max: 127 },
  { name: 'knob', label: 'A knob, by hand', kind: 'text', hint: 'as it is set' },
];

/** The stand-in a plan goes through; undefined where it is a device. */
export function standInOf({ source }: Pick<SweepPlan, 'source'>) {
  if (source.kind !== 'stand-in') return undefined;
  return STAND_INS.find(({ id }) => id === source.id) as StandIn<CommonSettings & SweepSettings> | undefined;
}

/** The fields that can be gone through: all of a stand-in's, and its tempo. */
export function fieldsOf(plan: Pick<SweepPlan, 'source'>): Field[] {
  const standIn = standInOf(plan);
  if (!standIn) return DEVICE_FIELDS;
  return [...standIn.fields, { name: 'bpm', label: 'Tempo', kind: 'number', min: 20, max: 400, unit: 'BPM' }];
}

/** The settings of all runs: every value of every field with every value of the others, the first field the slowest. */
export function runsOf({ vary }: Pick<SweepPlan, 'vary'>): SweepSettings[] {
  return vary.reduce<SweepSettings[]>(
    (runs, { name, values }) => runs.flatMap((run) => values.map((value) => ({ ...run, [name]: value }))),
    [{}],
  );
}

/** Why a plan cannot be gone through, in a sentence; null where it can. */
export function problemOfPlan(plan: SweepPlan): string | null {
  const { source, vary, trigger } = plan;
  if (source.kind === 'stand-in' && !standInOf(plan)) return `There is no stand-in "${source.id}".`;
  if (source.kind === 'device' && source.name.trim() === '') return 'The device has no name.';
  if (vary.length === 0) return 'Nothing is gone through: choose a field and what it is set to.';
  const fields = new Map(fieldsOf(plan).map((field) => [field.name, field]));
  const isController = (name: string) => /^controller \d{1,3}$/.test(name);
  for (const { name, values } of [
    ...vary,
    ...Object.entries(plan.settings).map(([key, value]) => ({ name: key, values: [value] })),
  ]) {
    // prettier-ignore
    const field = fields.get(name);
    if (!field && !(source.kind === 'device' && isController(name)) && name !== 'program')
      return `"${name}" is no field of this source: there are ${[...fields.keys()].join(', ')}.`;
    if (values.length === 0) return `"${name}" has no values.`;
    const wrong = field && values.find((value) => !fits(field, value));
    if (wrong !== undefined)
      return `"${name}" cannot be ${String(wrong)}${field ? `: ${rangeOf(field)}` : ''}.`;
  }
  if (new Set(vary.map(({ name }) => name)).size < vary.length) return 'A field can be gone through once.';
  if (trigger.kind === 'chart' && trigger.chart.trim() === '') return 'The chart is empty.';
  const runs = vary.reduce((product, { values }) => product * values.length, 1);
  if (runs > MOST_RUNS)
    return `These are ${runs.toLocaleString('en')} runs, and a sweep has ${MOST_RUNS} at the most.`;
  return null;
}

function fits(field: Field, value: SweepValue): boolean {
  if (field.kind === 'number') return typeof value === 'number' && value >= field.min && value <= field.max;
  if (field.kind === 'choice') return field.options.some((option) => option.value === value);
  if (field.kind === 'switch') return typeof value === 'boolean';
  return typeof value === 'string';
}

function rangeOf(field: Field): string {
  if (field.kind === 'number') return `${field.min} to ${field.max}`;
  if (field.kind === 'choice') return field.options.map(({ value }) => value).join(', ');
  return field.kind === 'switch' ? 'on or off' : 'a text';
}

/** A device's run: what is asked, a bar to ring out, and a second in which all is off; in seconds. */
export const PAUSE_SECONDS = 1;
const COUNT_IN_BARS = 1;
const RING_BARS = 1;

/** How long the runs of a device take, in seconds; of a stand-in, which needs no time of its own, 0. */
export function secondsOfPlan(plan: SweepPlan): number {
  if (plan.source.kind === 'stand-in') return 0;
  return runsOf(plan).reduce((sum, run) => {
    const bar = (4 * 60) / bpmOfRun(plan, run);
    return sum + (COUNT_IN_BARS + plan.bars + RING_BARS) * bar + PAUSE_SECONDS;
  }, 0);
}

/** BPM of one run. */
export function bpmOfRun({ bpm }: Pick<SweepPlan, 'bpm'>, run: SweepSettings): number {
  return typeof run.bpm === 'number' ? run.bpm : bpm;
}

/** What a run is called: what was set for it, in the order of the plan. */
export function runName(plan: Pick<SweepPlan, 'source' | 'vary'>, run: SweepSettings): string {
  return tagsOfRun(plan, run).join(', ');
}

/** What was set for a run, each as a tag: "river", "octaves 2". */
export function tagsOfRun(plan: Pick<SweepPlan, 'source' | 'vary'>, run: SweepSettings): string[] {
  const fields = new Map(fieldsOf(plan).map((field) => [field.name, field]));
  return plan.vary.map(({ name }) => {
    const field = fields.get(name);
    const value = run[name];
    const label = (field?.label ?? name).toLowerCase();
    if (typeof value === 'boolean') return value ? label : `not ${label}`;
    return field?.kind === 'choice' || field?.kind === 'text' ? String(value) : `${label} ${String(value)}`;
  });
}
