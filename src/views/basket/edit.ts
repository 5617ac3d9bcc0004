import { mineOver } from '../../core/merge/three-way.ts';
import type { OutOptions, PackLayout } from '../../core/exchange/out-options.ts';
import type { BasketWire } from '../api/queries.ts';

/** All that can be changed about a basket. */
export interface BasketEdit {
  ids: string[];
  name: string;
  pattern: string;
  projectId: string | null;
  recipientId: string | null;
  /** How its phrases leave. */
  out: OutOptions;
  /** How its files lie, and whether each has a preview. */
  layout: PackLayout;
  previews: boolean;
  /** Of what sounds together too; over a bed of their chords. */
  previewSums: boolean;
  previewBeds: boolean;
  /** The folder it is mirrored to; null where it is not. */
  mirror: string | null;
}

export function editOf(basket: BasketWire): BasketEdit {
  const { name, pattern, projectId, recipientId, out, layout, mirror, items } = basket;
  const { previews, previewSums, previewBeds } = basket;
  return {
    ...{ name, pattern, projectId, recipientId, out, layout, mirror, previews, previewSums, previewBeds },
    ids: items.map(({ id }) => id),
  };
}

const same = (one: unknown, other: unknown) => JSON.stringify(one) === JSON.stringify(other);

/** What `ours` changes about `base`, and nothing else: what was not touched is never written. */
export function changesOf(base: BasketEdit, ours: BasketEdit): Partial<BasketEdit> {
  const changed = Object.entries(ours).filter(
    ([field, value]) => !same(value, base[field as keyof BasketEdit]),
  );
  return Object.fromEntries(changed);
}

/** Our edit, made on `base`, as it is on `theirs`: what we changed stays ours, the rest is theirs; phrases are put in and taken out one by one. */
export function rebased(base: BasketEdit, ours: BasketEdit, theirs: BasketEdit): BasketEdit {
  return mineOver(base, ours, theirs, { ids: (id: string) => id });
}
