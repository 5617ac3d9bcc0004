import { boolean, mixed, object, string } from 'yup';
import { MERGE_WAYS, type MergeWay } from '../core/exchange/merge.ts';
import { text, id } from './fields.ts';

/** What is done with what came in. */

const isWay = (way: unknown) => MERGE_WAYS.some((one) => one === way);

/** What is done with a pack that came in: one way for all, others for some of its phrases. */
export const mergeSchema = object({
  all: string().oneOf(MERGE_WAYS).required(),
  ways: mixed<Record<string, MergeWay>>().test(
    'ways',
    `What is done with a phrase is one of ${MERGE_WAYS.join(', ')}`,
    (ways) => ways === undefined || (typeof ways === 'object' && Object.values(ways).every(isWay)),
  ),
  along: object({
    tags: boolean().required(),
    changes: boolean().required(),
    sound: boolean().required(),
  }).default(undefined),
});

/** A part that came back, and the phrase that it left as. */
export const cameBackSchema = object({ part: text().required(), phraseId: id().required() });
