import { array, boolean, mixed, number, object, string } from 'yup';
import { type Key } from '../core/music/key.ts';
import { ROLES } from '../core/split/roles.ts';
import { PHRASE_STATES } from '../core/phrase/states.ts';
import { LONGEST_NAME, text, name, id, key, tagNames } from './fields.ts';

/** What is changed of phrases. */

const phraseEditSchema = object({
  name: name('A phrase'),
  role: string().oneOf(ROLES).required(),
  takeKey: mixed<Key>()
    .nullable()
    .test('key', 'This is not a key', (value) => value == null || key().isValidSync(value))
    .defined(),
  recipe: mixed().required(),
  fitting: mixed().default(undefined),
  tags: tagNames().required(),
  projectId: id().nullable().defined(),
  rights: text().max(LONGEST_NAME).defined(),
});

export const phraseChangeSchema = phraseEditSchema.shape({
  state: string().oneOf(PHRASE_STATES).required(),
  /** When the version was written that the change was made on, and what it was. */
  basedOn: string().datetime(),
  base: phraseEditSchema.optional().default(undefined),
});

export const phraseIdsSchema = object({ phraseIds: array(id().required()).max(5000).required() });

export const phraseStateSchema = phraseIdsSchema.shape({
  /** `back` makes what was set aside what it was before. */
  state: string()
    .oneOf([...PHRASE_STATES, 'back'] as const)
    .required(),
});

const rating = () =>
  number()
    .integer()
    .min(0, 'A rating is 1 to 5, or 0 for passed over')
    .max(5, 'A rating is 1 to 5')
    .nullable();

/** Phrases that are told the same at once. */
export const MOST_CHANGED = 20_000;

export const phraseChangesSchema = object({
  phraseIds: array(id().required())
    .min(1, 'Choose at least one phrase')
    .max(MOST_CHANGED, 'At most 20,000 phrases are changed at once')
    .required(),
  addTags: tagNames().optional(),
  removeTags: tagNames().optional(),
  rating: rating(),
  projectId: id().nullable(),
  rights: text().max(LONGEST_NAME),
});

export const phrasesBeforeSchema = object({
  before: array(
    object({
      id: id().required(),
      tags: tagNames().required(),
      rating: rating().defined(),
      projectId: id().nullable().defined(),
      rights: text().max(LONGEST_NAME).defined(),
    }),
  )
    .max(MOST_CHANGED)
    .required(),
});

export const tagChangeSchema = object({
  name: text().max(60).required('A tag needs a name'),
  rename: text().max(60, 'A tag has at most 60 characters'),
  under: text().max(60).nullable(),
});

export const apartSchema = object({
  phraseIds: array(id().required()).length(2, 'Two phrases are told apart').required(),
  apart: boolean().required(),
});

/** Phrases that are bound as variants at once. */
const MOST_VARIANTS = 100;

export const variantsSchema = object({
  phraseIds: array(id().required())
    .min(2, 'Variants are two at least')
    .max(MOST_VARIANTS, 'At most ${max} phrases are bound as variants')
    .required(),
  bound: boolean().required(),
});

export const searchSchema = object({ name: name('A search'), query: text().max(4000).defined() });

/** A phrase in the place of another, in some baskets and weaves. */
export const exchangeSchema = object({
  from: id().required(),
  to: id().required(),
  places: array(
    object({
      kind: string()
        .oneOf(['basket', 'weave'] as const)
        .required(),
      id: id().required(),
    }),
  )
    .max(5000)
    .required(),
});
