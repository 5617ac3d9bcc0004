import { array, boolean, object, string } from 'yup';
import { outOptionsSchema, PACK_LAYOUTS } from '../core/exchange/out-options.ts';
import { safeFileName } from '../core/phrase/naming.ts';
import { LONGEST_NAME, text, name, id } from './fields.ts';
import { ownOutSchema } from '../core/exchange/own-out.ts';

/** Baskets. */

/** Phrases and headings of one basket at the most. */
const MOST_IN_BASKET = 5000;

export const newBasketSchema = object({
  name: name('A basket'),
  projectId: id().nullable(),
  recipientId: id().nullable(),
});

const basketEditSchema = object({
  name: name('A basket').optional(),
  pattern: text().max(LONGEST_NAME).matches(/\S/, 'A naming pattern cannot be empty'),
  projectId: id().nullable(),
  recipientId: id().nullable(),
  out: outOptionsSchema.optional().default(undefined),
  layout: string().oneOf(PACK_LAYOUTS),
  previews: boolean(),
  previewSums: boolean(),
  previewBeds: boolean(),
  mirror: string()
    .trim()
    .min(1, 'A folder to mirror to has a name')
    .max(120)
    .nullable()
    .test(
      'name',
      'A folder to mirror to is a plain name: letters, digits, dots, dashes and underscores',
      (folder) => !folder || safeFileName(folder) === folder,
    ),
});

export const basketChangeSchema = basketEditSchema.shape({
  /** What these were when the change was begun. */
  was: basketEditSchema.optional().default(undefined),
});

/** Phrases and headings in their order: a heading has a text, a phrase may leave in a way of its own. */
const rowsSchema = () =>
  array(
    object({
      id: id().required(),
      heading: name('A heading').optional(),
      own: ownOutSchema.optional().default(undefined),
    }).noUnknown(),
  ).max(MOST_IN_BASKET, `A basket holds ${MOST_IN_BASKET} phrases and headings at the most`);

export const basketRowsSchema = object({
  rows: rowsSchema().required(),
  /** What was in it when the change was begun. */
  was: rowsSchema(),
});
