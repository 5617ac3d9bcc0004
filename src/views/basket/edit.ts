import type { PackLayout } from '../../core/exchange/handoff.ts';
import type { KeyChoice } from '../../core/reuse/in-project.ts';
import type { BasketWire } from '../api/queries.ts';

/** All that can be changed about a basket. */
export interface BasketEdit {
  ids: string[];
  name: string;
  pattern: string;
  projectId: string | null;
  /** The key and tempo its phrases leave in. */
  leaves: KeyChoice;
  /** Each phrase with what suits its own sound, or plain. */
  fitted: boolean;
  /** How its files lie, whether nothing in them chooses sounds, and whether each has a preview. */
  layout: PackLayout;
  plain: boolean;
  previews: boolean;
}

export function editOf(basket: BasketWire): BasketEdit {
  const { name, pattern, projectId, leaves, fitted, layout, plain, previews, items } = basket;
  const settings = { name, pattern, projectId, leaves, fitted, layout, plain, previews };
  return { ...settings, ids: items.map(({ id }) => id) };
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
