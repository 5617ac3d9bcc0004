import { array, mixed, number, object, string, ref } from 'yup';
import { cardSchema } from '../core/exchange/card.ts';
import { outOptionsSchema } from '../core/exchange/out-options.ts';
import { SHEETS } from '../core/notation/sheet.ts';
import { ROLES } from '../core/split/roles.ts';
import { THINGS } from '../core/exchange/things.ts';
import { name, id } from './fields.ts';

/** What leaves, for whom, and how. */

export const recipientSchema = object({ name: name('A recipient'), card: cardSchema.required() });

const recipientEditSchema = object({
  name: name('A recipient').optional(),
  card: cardSchema.optional().default(undefined),
});

export const recipientChangeSchema = recipientEditSchema.shape({
  /** What the change was made of. */
  base: recipientEditSchema.optional().default(undefined),
});

const isProgram = (value: unknown) => Number.isInteger(value) && Number(value) >= 0 && Number(value) <= 127;

/** Programs by the names of parts. */
const programs = () =>
  mixed<Record<string, number>>().test(
    'programs',
    'A sound is a program from 0 to 127 under the name of a part',
    (value) =>
      value === undefined ||
      (typeof value === 'object' && value !== null && Object.values(value).every(isProgram)),
  );

/** What leaves, for whom, and how. */
export const leavingSchema = object({
  kind: string().oneOf(THINGS).required(),
  id: id().required(),
  scope: object({
    bars: object({
      from: number().integer().min(1, 'Bars are counted from 1').required(),
      to: number().integer().min(ref('from'), 'The last bar is not before the first').required(),
    })
      .nullable()
      .defined(),
    parts: array(string().max(64).required()).max(2000).nullable().defined(),
  })
    .optional()
    .default(undefined),
  recipientId: id().nullable(),
  out: outOptionsSchema.optional().default(undefined),
  programs: programs(),
});

/** Of what a sheet is asked, and which. */
export const sheetSchema = leavingSchema.shape({ as: string().oneOf(SHEETS).required() });

export const bankSchema = object({ roles: array(string().oneOf(ROLES).required()).required() });
