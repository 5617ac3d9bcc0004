import { makeNext, runningMakings } from '../library/phrases/makings.ts';
import type { Work } from './engine.ts';

/** Drafts of many takes. */
export const MAKINGS: Work = {
  kind: 'making',
  open: async ({ db }) => (await runningMakings(db)).map(({ id }) => id),
  run: async ({ db }, id, mayGoOn) => {
    while ((await mayGoOn()) && (await makeNext(db, id)));
  },
};
