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

/**
 * Our edit, made on `base`, as it is on `theirs`: what we changed stays ours, the rest is theirs. In the order of
 * phrases, what they added comes last and what they took out is out.
 */
export function rebased(base: BasketEdit, ours: BasketEdit, theirs: BasketEdit): BasketEdit {
  const { ids, ...settings } = changesOf(base, ours);
  if (!ids) return { ...theirs, ...settings };
  const added = theirs.ids.filter((id) => !base.ids.includes(id) && !ids.includes(id));
  const kept = ids.filter((id) => theirs.ids.includes(id) || !base.ids.includes(id));
  return { ...theirs, ...settings, ids: [...kept, ...added] };
}
