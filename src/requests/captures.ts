import { array, number, object, string } from 'yup';
import { RECORDING_CLOCKS } from '../core/capture/recording.ts';
import { text, name, id, key } from './fields.ts';

/** Recordings. */

export const planSchema = object({
  name: name('A take'),
  recordedAt: string().datetime().required(),
  clock: string().oneOf(RECORDING_CLOCKS).required(),
  bpm: number().min(20).max(400).required(),
  meter: object({
    numerator: number().integer().min(1).max(32).required(),
    denominator: number().oneOf([1, 2, 4, 8, 16, 32]).required(),
  }).required(),
  startMs: number().required(),
  countInBars: number().integer().min(0).max(8).required(),
  bars: number().integer().min(1).max(10_000).nullable().defined(),
  sources: array(object({ name: name('A source'), kind: string().oneOf(['device', 'stand-in']).required() }))
    .min(1, 'A recording needs a source')
    .max(64)
    .required(),
  markBars: number().integer().min(1).max(64).required(),
  chart: text().max(4000),
  key: key().default(undefined),
  parts: number().integer().min(1).max(64),
  answers: object({
    kind: string().oneOf(['phrase', 'take']).required(),
    id: id().required(),
    name: name('A phrase'),
  }).default(undefined),
});

const milliseconds = () => number().min(-1e7).max(1e7).required();

export const captureEndSchema = object({
  endMs: number(),
  lost: array(object({ source: name('A source'), ms: number().required() })).max(64),
  name: name('A take').optional(),
  lateness: object({ median: milliseconds(), p95: milliseconds(), most: milliseconds() }).default(undefined),
});
