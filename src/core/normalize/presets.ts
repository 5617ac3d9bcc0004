import type { Role } from '../split/roles.ts';
import type { Recipe, RecipeStep } from './recipe.ts';

/** Ticks a quarter note of everything in the library. */
export const HOUSE_PPQ = 960;

/** Where each role's loud notes land, as a share of 127. Common practice for sampled instruments. */
export const HOUSE_LEVELS: Record<Role, number> = {
  drums: 0.9,
  percussion: 0.85,
  bass: 0.85,
  keys: 0.8,
  guitar: 0.8,
  strings: 0.6,
  pad: 0.6,
  brass: 0.75,
  reeds: 0.75,
  lead: 0.85,
  arpeggio: 0.75,
  voice: 0.7,
  slices: 0.9,
  click: 0.8,
  other: 0.8,
};

/** The octaves each pitched role is kept in, as MIDI pitches. Common practice. */
export const HOUSE_REGISTERS: Partial<Record<Role, { low: number; high: number }>> = {
  bass: { low: 28, high: 55 },
  keys: { low: 43, high: 84 },
  guitar: { low: 40, high: 81 },
  strings: { low: 43, high: 86 },
  pad: { low: 43, high: 84 },
  brass: { low: 46, high: 82 },
  reeds: { low: 50, high: 86 },
  lead: { low: 57, high: 93 },
  arpeggio: { low: 52, high: 93 },
  voice: { low: 48, high: 84 },
};

/** Keys in storage: everything major stands in C, everything minor in A, so that white notes are home. */
export const REFERENCE_TONIC = { major: 'C', minor: 'A' } as const;

/**
 * The house recipe of a role for some bars of a take. Quantizing starts at a strength that tightens without
 * flattening; crashes keep their own level; nothing is doubled, and pedal, controllers and bend are settled for the seam.
 */
export function houseRecipe(role: Role, bars: { start: number; count: number }, minor: boolean): Recipe {
  const steps: RecipeStep[] = [
    { step: 'bars', ...bars, tail: 'cut', early: '1/32' },
    { step: 'doubles', ms: 10 },
    { step: 'quantize', grid: '1/16', strength: 0.85, swing: 'keep' },
    {
      step: 'velocity',
      loud: HOUSE_LEVELS[role],
      range: 1,
      ...(role === 'drums' ? { except: ['crash'] } : {}),
    },
  ];
  const register = HOUSE_REGISTERS[role];
  if (register) {
    steps.push({ step: 'transpose', to: minor ? REFERENCE_TONIC.minor : REFERENCE_TONIC.major });
    steps.push({ step: 'register', ...register });
    steps.push({ step: 'pedal', mode: 'keep' });
  }
  steps.push({ step: 'controls', mode: 'settle' });
  steps.push({ step: 'resolution', ppq: HOUSE_PPQ });
  return { version: 1, steps };
}
