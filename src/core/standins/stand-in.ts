import type { Mishap } from './mishaps.ts';
import type { Performance, Played } from './performance.ts';

/** What all stand-ins are told. */
export interface CommonSettings {
  bpm: number;
  /** The same seed plays the same notes. */
  seed: number;
  /** How far the hand strays, in milliseconds. */
  looseness: number;
}

/** A setting as a form shows it. */
export type Field = { name: string; label: string } & (
  | { kind: 'number'; min: number; max: number; step?: number; unit?: string }
  | { kind: 'choice'; options: { value: string; label: string }[] }
  | { kind: 'text'; hint?: string }
  | { kind: 'switch' }
  | { kind: 'several'; options: { value: string; label: string }[] }
);

/** A key that is held, in ticks from bar one; `end` is null while it is still down. */
export interface Held {
  tick: number;
  end: number | null;
  pitch: number;
  velocity: number;
}

/** A simulated device. */
export interface StandIn<Settings extends CommonSettings = CommonSettings> {
  id: string;
  title: string;
  /** What it does, in a sentence. */
  about: string;
  defaults: Settings;
  fields: Field[];
  /** The mishaps that can befall it. */
  mishaps: Mishap[];
  /** @throws ChartError where a chart among the settings cannot be read. */
  play(settings: Settings, mishaps?: readonly Mishap[]): Performance;
  /**
   * What it answers to held keys, of everything that begins before `until`. What it answers up to a moment
   * depends on nothing that happens later.
   */
  respond?(held: readonly Held[], settings: Settings, until: number): Played[];
}

export function choices(names: readonly string[]): { value: string; label: string }[] {
  return names.map((name) => ({ value: name, label: name }));
}

/** The field that all stand-ins share at the end of their forms. */
export const HAND_FIELDS: Field[] = [
  { name: 'looseness', label: 'Hand', kind: 'number', min: 0, max: 40, unit: 'ms' },
  { name: 'seed', label: 'Seed', kind: 'number', min: 1, max: 9999 },
];
