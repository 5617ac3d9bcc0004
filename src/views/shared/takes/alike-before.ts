import type { TakeChange } from '../../../server/library/takes/takes.ts';

/** A take as it was before a change, as the server answers it. */
export interface TakeBefore {
  id: string;
  source: string | null;
  contributor: string | null;
  rights: string;
  asked: TakeChange['asked'];
  aside: boolean;
}

/** What was not asked before is not asked again. */
const NOTHING_ASKED = { chart: null, bars: null, bpm: null, key: null, parts: null };

/** What was changed, as it was before; takes that were alike together. */
export function alikeBefore(
  before: readonly TakeBefore[],
  changed: TakeChange,
): { ids: string[]; change: TakeChange }[] {
  const groups = new Map<string, { ids: string[]; change: TakeChange }>();
  for (const { id, ...was } of before) {
    const change: TakeChange = {
      ...(changed.source === undefined ? {} : { source: was.source ?? '' }),
      ...(changed.contributor === undefined ? {} : { contributor: was.contributor ?? '' }),
      ...(changed.rights === undefined ? {} : { rights: was.rights }),
      ...(changed.asked === undefined ? {} : { asked: { ...NOTHING_ASKED, ...was.asked } }),
      ...(changed.aside === undefined ? {} : { aside: was.aside }),
    };
    const key = JSON.stringify(change);
    const group = groups.get(key);
    if (group) group.ids.push(id);
    else groups.set(key, { ids: [id], change });
  }
  return [...groups.values()];
}
