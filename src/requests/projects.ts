import { number, object, string } from 'yup';
import { MODES } from '../core/music/key.ts';
import { text, name, bpm } from './fields.ts';

/** Projects. */

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
