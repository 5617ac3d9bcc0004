import type { Held } from '../../core/standins/stand-in.ts';
import type { SweepPlan } from '../../core/sweep/plan.ts';
import { heldOf } from '../../core/standins/held.ts';
import { fetchPhrase, heardClip } from '../shared/phrases/listening.ts';

/** The keys of the phrase that sets a source off; null where none does. */
export async function heldPhrase({ trigger }: SweepPlan): Promise<Held[] | null> {
  if (trigger.kind !== 'phrase') return null;
  const phrase = await fetchPhrase(trigger.id);
  return heldOf(heardClip(phrase.clip, phrase));
}
