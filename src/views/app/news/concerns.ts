import type { DeedKind } from '../../../server/db/schema.ts';

/** What is asked for again where something of a kind was changed: of a thing itself, and lists it stands in. */
export const CONCERNS: Readonly<Record<DeedKind, { one?: string; lists: readonly string[] }>> = {
  take: {
    one: 'take',
    lists: ['takes', 'take-habits', 'sources', 'intakes', 'drafts', 'phrases', 'facets', 'captures'],
  },
  phrase: {
    one: 'phrase',
    lists: [
      'phrases',
      'facets',
      'drafts',
      'children',
      'relatives',
      'harmony',
      'lineage',
      'basket',
      'weave',
      'take',
      'takes',
    ],
  },
  basket: { one: 'basket', lists: ['baskets', 'mirrors', 'shared'] },
  weave: { one: 'weave', lists: ['weaves'] },
  pack: { one: 'pack-in', lists: ['packs-in'] },
  house: { lists: ['house', 'presets', 'feels', 'changes', 'banks', 'habits', 'searches'] },
  project: { lists: ['projects'] },
  recipient: { lists: ['recipients', 'baskets'] },
  source: { lists: ['sources', 'source-defaults'] },
  tag: { lists: ['tags', 'facets', 'phrases', 'phrase'] },
  capture: { lists: ['captures'] },
  job: { lists: ['intakes', 'intake', 'takes'] },
  batch: { one: 'batch', lists: ['batches'] },
  person: { lists: ['people', 'invitations', 'me'] },
  comp: { one: 'comp', lists: ['comps'] },
  sweep: { one: 'sweep', lists: ['sweeps'] },
};
