import type { FacetName } from './catalog.ts';
import type { PhraseFilter } from './find.ts';

/** Facets as they stand in an address. */
export const FACET_PARAMS: Record<FacetName, string> = {
  roles: 'role',
  keys: 'key',
  tempos: 'tempo',
  meters: 'meter',
  bars: 'bars',
  purposes: 'purpose',
  tags: 'tag',
  sources: 'source',
  projects: 'project',
  people: 'by',
  rights: 'rights',
  feels: 'feel',
  densities: 'density',
  registers: 'register',
  sounds: 'sound',
  loops: 'loop',
  pickups: 'pickup',
  used: 'used',
  heard: 'heard',
  ratings: 'rating',
};

/**
 * Reads a filter from an address: `text`, each facet as often as wanted; `starts`, `ends` and `changes` are numerals; `relatives`
 * joins keys of the same notes, `aside` asks for what was set aside.
 */
export function filterFrom(params: URLSearchParams): PhraseFilter {
  const facets: NonNullable<PhraseFilter['facets']> = {};
  for (const [facet, param] of Object.entries(FACET_PARAMS)) {
    const values = params.getAll(param);
    if (values.length > 0) facets[facet as FacetName] = values;
  }
  return {
    text: params.get('text') ?? '',
    facets,
    relatives: params.has('relatives'),
    starts: params.get('starts') ?? '',
    ends: params.get('ends') ?? '',
    changes: params.get('changes') ?? '',
    aside: params.has('aside'),
  };
}
