import { array, boolean, mixed, object, string } from 'yup';
import { text, name, id, role } from './fields.ts';
import { phraseIdsSchema, MOST_CHANGED } from './phrases.ts';

/** Recipes that are kept, and put on many phrases. */

export const presetSchema = object({
  name: name('A preset'),
  role: role().nullable().defined(),
  recipe: mixed().required(),
});

export const feelSchema = object({ name: name('A feel'), feel: mixed().required() });

export const newBatchSchema = object({
  phraseIds: array(id().required()).max(
    MOST_CHANGED,
    'At most 20,000 phrases are named one by one: choose them by what they have in common',
  ),
  /** Instead: all that is found, as the library's address says it. */
  filter: string().max(4000),
  title: name('A batch'),
  /** Left out, each role's house recipe is meant. */
  recipe: mixed().nullable().default(undefined),
});

export const batchPhaseSchema = object({
  phase: string()
    .oneOf(['looking', 'applying', 'takingBack', 'stopped'] as const)
    .required(),
});

export const leaveOutSchema = phraseIdsSchema.shape({ out: boolean().required() });

export const forgetSchema = object({
  sourceId: id().required(),
  habit: text().max(100_000).required(),
  forgotten: boolean().required(),
});
