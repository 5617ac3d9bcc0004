import type { CatalogRow } from '../../src/core/catalog/catalog.ts';

/** A phrase as the catalog is told of it: "Phrase 3", a kept bass in D minor at 96 BPM. */
export const catalogRow = (number: number, change: Partial<CatalogRow> = {}): CatalogRow => ({
  ...{ id: `id ${number}`, name: `Phrase ${number}`, state: 'kept', role: 'bass' },
  ...{ key: { tonic: 2, mode: 'minor' }, bpm: 96, meter: '4/4', bars: 4, program: 33, hasPickup: false },
  ...{
    numerals: ' i V7 ',
    tags: [],
    take: 'Ferry',
    file: 'ferry.mid',
    part: 'Bass',
    source: null,
    project: null,
  },
  ...{
    contributor: null,
    rights: '',
    sheaf: null,
    rating: null,
    used: 0,
    heardAt: null,
    createdAt: number * 1000,
  },
  ...change,
});
