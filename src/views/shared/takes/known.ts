import { keyName, parseKey } from '../../../core/music/key.ts';
import type { InferType } from 'yup';
import type { knownSchema } from '../../../requests/takes.ts';
import type { IntakeSettings, TakeAsked } from '../../../server/db/schema.ts';
import type { TakeChange } from '../../../server/library/takes/takes.ts';

/** What can be said of takes, as it is typed. */
export type Known = InferType<typeof knownSchema>;

export const NOTHING_KNOWN: Known = {
  source: '',
  contributor: '',
  rights: '',
  chart: '',
  bars: '',
  bpm: '',
  key: '',
};

/** What is known of takes, as far as it is the same of all. */
export function knownOf(
  takes: readonly {
    source: string | null;
    contributor: string | null;
    rights: string;
    asked: TakeAsked;
  }[],
): Known {
  const same = (text: (take: (typeof takes)[number]) => string) => {
    const [first, ...others] = takes.map(text);
    return first !== undefined && others.every((other) => other === first) ? first : '';
  };
  return {
    source: same(({ source }) => source ?? ''),
    contributor: same(({ contributor }) => contributor ?? ''),
    rights: same(({ rights }) => rights),
    chart: same(({ asked }) => asked.chart ?? ''),
    bars: same(({ asked }) => String(asked.bars ?? '')),
    bpm: same(({ asked }) => String(asked.bpm ?? '')),
    key: same(({ asked }) => (asked.key ? keyName(asked.key) : '')),
  };
}

/** What was changed about what was known: an emptied field empties it, one that was left alone is left as it is. */
export function changedSettings(before: Known, now: Known): TakeChange {
  const isChanged = (field: keyof Known) => before[field].trim() !== now[field].trim();
  const told = knownSettings(now);
  const asked = {
    ...(isChanged('chart') ? { chart: told.asked?.chart ?? null } : {}),
    ...(isChanged('bars') ? { bars: told.asked?.bars ?? null } : {}),
    ...(isChanged('bpm') ? { bpm: told.asked?.bpm ?? null } : {}),
    ...(isChanged('key') ? { key: told.asked?.key ?? null } : {}),
  };
  return {
    ...(isChanged('source') ? { source: now.source.trim() } : {}),
    ...(isChanged('contributor') ? { contributor: now.contributor.trim() } : {}),
    ...(isChanged('rights') ? { rights: now.rights.trim() } : {}),
    ...(Object.keys(asked).length > 0 ? { asked } : {}),
  };
}

/** What was typed, without what was left empty. */
export function knownSettings(known: Known): IntakeSettings {
  const { source, contributor, rights, chart, bars, bpm, key } = known;
  const chosen = parseKey(key);
  const asked: TakeAsked = {
    ...(chart.trim() ? { chart: chart.trim() } : {}),
    ...(Number(bars) >= 1 ? { bars: Math.round(Number(bars)) } : {}),
    ...(Number(bpm) >= 20 && Number(bpm) <= 400 ? { bpm: Number(bpm) } : {}),
    ...(chosen ? { key: chosen } : {}),
  };
  return {
    ...(source.trim() ? { source: source.trim() } : {}),
    ...(contributor.trim() ? { contributor: contributor.trim() } : {}),
    ...(rights.trim() ? { rights: rights.trim() } : {}),
    ...(Object.keys(asked).length > 0 ? { asked } : {}),
  };
}
