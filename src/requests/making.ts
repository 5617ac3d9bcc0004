import { array, boolean, mixed, number, object, string } from 'yup';
import { type Key } from '../core/music/key.ts';
import { ROLES } from '../core/split/roles.ts';
import { LONGEST_NAME, text, name, id, key, partId, tagNames, meter } from './fields.ts';

/** What phrases are made of. */

export const makeSchema = object({
  takeId: id().required(),
  parts: array(partId()).min(1, 'Choose a part first').max(200).required(),
  startBar: number().integer().min(1).max(100_000).required(),
  bars: number().integer().min(1).max(10_000).required(),
  projectId: id().nullable(),
  tags: tagNames().optional(),
  /** Kept at once, where it is not kept already. */
  keep: boolean(),
});

export const projectChoiceSchema = object({ projectId: id().nullable() });

/** Parts that are taken through other chords together. */
const MOST_CHILDREN = 64;

export const childrenSchema = object({
  children: array(object({ parentId: id().required(), recipe: mixed().required(), name: name('A phrase') }))
    .min(1, 'Choose a phrase first')
    .max(MOST_CHILDREN, `At most ${MOST_CHILDREN} phrases at once`)
    .required(),
  done: text().max(LONGEST_NAME).required('What was done has to be said'),
  sheafName: text().max(LONGEST_NAME),
  tags: tagNames().required(),
  projectId: id().nullable().defined(),
});

export const madeSchema = object({
  name: name('What was made'),
  bpm: number().min(20).max(400).required(),
  meter: meter().required(),
  bars: number().integer().min(1).max(512).required(),
  key: mixed<Key>()
    .nullable()
    .test('key', 'This is not a key', (value) => value == null || key().isValidSync(value))
    .defined(),
  parts: array(
    object({
      name: name('A part'),
      role: string().oneOf(ROLES).required(),
      program: number().integer().min(0).max(127).required(),
      notes: array(
        object({
          tick: number().integer().min(0).max(10_000_000).required(),
          duration: number().integer().min(1).max(10_000_000).required(),
          pitch: number().integer().min(0).max(127).required(),
          velocity: number().integer().min(1).max(127).required(),
        }),
      )
        .max(50_000)
        .required(),
    }),
  )
    .max(15, 'At most 15 parts are made at once')
    .required(),
  parentIds: array(id().required()).max(64).required(),
  done: text().max(LONGEST_NAME).required('What was done has to be said'),
  tags: tagNames().required(),
  projectId: id().nullable().defined(),
});

/** Takes of which drafts are made at once. */
const MOST_TAKES = 10_000;

export const newMakingSchema = object({
  takeIds: array(id().required())
    .min(1, 'Choose at least one take')
    .max(MOST_TAKES, 'Drafts are made of 10,000 takes at once at most')
    .required(),
  projectId: id().nullable(),
});
