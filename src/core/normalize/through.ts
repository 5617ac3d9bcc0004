import { keyName, parseKey, sameKey } from '../music/key.ts';
import { meterAt } from '../music/timeline.ts';
import { barsOf, isPitched, type Clip } from '../phrase/clip.ts';
import { mended, type Mend } from '../through/mends.ts';
import type { ThroughSetting, Way } from '../through/pieces.ts';
import { keyOfChanges, layOver, readOrWhy, type Changes, type WrittenChanges } from '../through/sounding.ts';
import { throughChords } from '../through/through.ts';
import { WAY_TITLES } from '../through/words.ts';
import { repeat } from './repeat.ts';
import { count, unchanged, type Step, type StepResult } from './step.ts';

export interface ThroughParams {
  /** The chords it was played over: a chart, or a list with beats from bar one. */
  from: WrittenChanges;
  /** The chords it is to go through. */
  to: WrittenChanges;
  /** Key of the target; where nothing is said, its own if that has the chords, else the one they are in. */
  key?: string;
  /** By its role where nothing is said. */
  way?: Way;
  /** Whether its end leads back to its beginning; it does where nothing is said. */
  loop?: boolean;
  /** Whether triads may become the sevenths that the target names. */
  richer?: boolean;
  /** Whether changes under which nothing begins are struck. */
  strike?: boolean;
  /** What was put right of notes that fell outside. */
  mend?: Mend[];
}

/** A phrase through other chords: repeated or cut to the bars of the target, its rhythm and shape kept. */
export const throughOthers: Step<ThroughParams> = (clip, params) => {
  const beats = meterAt(clip.timeline, clip.pickup).numerator;
  const to = readOrWhy(params.to, beats);
  const from = readOrWhy(params.from, beats);
  if (typeof to === 'string') return unchanged(clip, `left as it is: ${to}`);
  if (typeof from === 'string') return unchanged(clip, `left as it is: ${from}`);
  const longer = repeat(clip, { bars: to.bars });
  if (!isPitched(clip)) {
    return { ...longer, summary: `${clip.role} have no chords to follow; ${longer.summary}` };
  }
  const setting = settingOf(clip, longer.clip, from, to, params);
  const raw = throughChords(longer.clip, setting);
  const result = mended(raw, params.mend ?? [], longer.clip.notes, setting);
  const key = setting.targetKey;
  return {
    clip: { ...longer.clip, notes: result.notes, key },
    changed: longer.changed + changedBetween(longer.clip, result.notes),
    summary: [
      `through ${count(to.chords.filter(({ chord }) => chord).length, 'chord')}`,
      params.way ? WAY_TITLES[params.way] : '',
      clip.key && key && !sameKey(clip.key, key) ? `in ${keyName(key)}` : '',
      longer.changed > 0 ? longer.summary : '',
      result.outside.length > 0 ? `${count(result.outside.length, 'note')} outside` : '',
      result.unheard.length > 0 ? `${count(result.unheard.length, 'change')} unheard` : '',
    ]
      .filter(Boolean)
      .join('; '),
    setAside: [
      ...longer.setAside,
      { reason: 'no string for it in the shape', origins: result.dropped },
      { reason: 'left out as outside', origins: result.out },
    ].filter(({ origins }) => origins.length > 0),
    outside: result.outside,
    unheard: result.unheard,
  };
};

/** What a clip goes through, laid over its bars: for the step, and for whoever shows what it does. */
export function settingOf(
  clip: Clip,
  longer: Clip,
  from: Changes,
  to: Changes,
  params: ThroughParams,
): ThroughSetting {
  const sourceKey = clip.key ?? keyOfChanges(from);
  return {
    source: layOver(longer, from, barsOf(clip)),
    target: layOver(longer, to),
    sourceKey,
    targetKey: (params.key === undefined ? undefined : parseKey(params.key)) ?? keyOfChanges(to, sourceKey),
    way: params.way,
    loops: params.loop ?? true,
    richer: params.richer,
    strikeEvery: params.strike,
  };
}

function changedBetween(before: Clip, after: StepResult['clip']['notes']): number {
  const was = new Map(before.notes.map((note) => [note.origin, note]));
  return after.filter((note) => {
    const old = was.get(note.origin);
    return !old || old.pitch !== note.pitch || old.duration !== note.duration;
  }).length;
}
