import { boolean, number, object } from 'yup';
import { text, name, id, key, meter } from './fields.ts';

/** Changes that are kept, or written. */

export const keepChangesSchema = object({
  takeId: id().required(),
  startBar: number().integer().min(1).max(100_000).required(),
  bars: number().integer().min(1).max(10_000).required(),
  name: name('Changes'),
});

export const writtenChangesSchema = object({
  name: name('Changes'),
  chart: text().max(8000, 'These changes are too long').required('There are no chords yet.'),
  key: key().required(),
  bpm: number().min(20).max(400).required(),
  meter: meter().required(),
});

export const changesEditSchema = object({ name: name('Changes').optional(), aside: boolean() });
