import { parseKey } from '../../core/music/key.ts';
import type { IntakeSettings, TakeAsked } from '../../server/db/schema.ts';

/** What can be said of takes, as it is typed. */
export interface Known {
  source: string;
  contributor: string;
  rights: string;
  chart: string;
  bars: string;
  bpm: string;
  key: string;
}

export const NOTHING_KNOWN: Known = {
  source: '',
  contributor: '',
  rights: '',
  chart: '',
  bars: '',
  bpm: '',
  key: '',
};

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
