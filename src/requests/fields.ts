import { array, boolean, number, object, string } from 'yup';
import { MODES } from '../core/music/key.ts';
import { ROLES } from '../core/split/roles.ts';

/** Fields that many requests have, with sentences for what is wrong. */

export const LONGEST_NAME = 200;

/** PostgreSQL holds no zero bytes in text. */
export const text = () => string().matches(/^[^\0]*$/, 'A text holds a character that cannot be stored');

export const name = (what: string) =>
  text()
    .matches(/\S/, `${what} needs a name`)
    .max(LONGEST_NAME, `A name has at most ${LONGEST_NAME} characters`)
    .required(`${what} needs a name`);

/** What is told by its name alone. */
export const named = object({ name: name('It') });

/** A name that may be left to whoever asks for it. */
export const namedOrNot = object({
  name: text().max(LONGEST_NAME, `A name has at most ${LONGEST_NAME} characters`).defined(),
});

export const bpm = () =>
  number().min(20, 'A tempo is at least 20 BPM').max(400, 'A tempo is at most 400 BPM');

/** Whether something is an object with fields, and no list. */
export function isPlain(value: unknown): value is Record<string, unknown> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

export const id = () => string().uuid('An id is not one');

/** What is set aside, or brought back. */
export const asideSchema = object({ aside: boolean().required() });

export const key = () =>
  object({
    tonic: number().integer().min(0).max(11).required(),
    mode: string().oneOf(MODES).required(),
  });

export const tick = () => number().integer().min(0).max(0x7fffffff);

export const partId = () =>
  string()
    .matches(/^p\d{1,6}$/, 'A part is named like "p1"')
    .required();

export const channel = () => number().integer().min(0).max(15);

export const program = () => number().integer().min(0).max(127);

export const pitch = () => number().integer().min(0).max(127).required();

export const tagNames = () => array(text().max(60, 'A tag has at most 60 characters').required()).max(40);

export const meter = () =>
  object({
    numerator: number().integer().min(1).max(64).required(),
    denominator: number().oneOf([1, 2, 4, 8, 16, 32]).required(),
  });

export const role = () => string().oneOf(ROLES);

export const label = () => text().max(LONGEST_NAME);
