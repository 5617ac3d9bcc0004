import { array, boolean, object, string } from 'yup';
import { outOptionsSchema, PACK_LAYOUTS } from '../core/exchange/out-options.ts';
import { safeFileName } from '../core/phrase/naming.ts';
import { LONGEST_NAME, text, name, id } from './fields.ts';
import { phraseIdsSchema } from './phrases.ts';

/** Baskets. */

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

export const basketItemsSchema = phraseIdsSchema.shape({
  /** What was in it when the change was begun. */
  was: array(id().required()).max(5000),
});
