import { sameMeter, type Meter } from '../music/meters.ts';
import { keyName, type Key } from '../music/key.ts';
import { barTicks, makeTimeline, meterAt } from '../music/timeline.ts';
import { applyRecipe, type RecipeStep } from '../normalize/recipe.ts';
import { LIBRARY_PPQ as PPQ } from '../normalize/resolution.ts';
import { barsOf, isPitched, type Clip } from '../phrase/clip.ts';
import { semitonesInto } from '../reuse/in-project.ts';
import { asChart } from '../through/as-chart.ts';
import { goneRound, readOrWhy, type WrittenChanges } from '../through/sounding.ts';
import type { WeaveCell, WeavePart } from './weave.ts';

/** A phrase as a weave takes it: its notes, and the chords it was played over, both in the key it is kept in. */
export interface WovenPhrase {
  clip: Clip;
  from: WrittenChanges;
  /** It was set aside since: it sounds on where it stands. */
  isAside?: boolean;
}

/**
 * What is told of a cell: it was cut, lies on the bars of another meter, has no phrase any more, one
 * that was set aside, or its section's chords cannot be read. */
export type RemarkCode = 'cut' | 'meter' | 'missing' | 'aside' | 'chords';

/** All that decides how a phrase sounds in a cell. */
export interface CellSetting extends Pick<WeaveCell, 'offset' | 'rounds' | 'plain' | 'steps'> {
  role: WeavePart['role'];
  meter: Meter;
  key: Key | null;
  bars: number;
  changes: string;
}

export interface WovenCell {
  clip: Clip;
  told: [code: RemarkCode, text: string][];
}

/**
 * What phrases became in cells, by what decided it: a sheet has few different cells, and each move on it changes one. Kept
 * for as long as the phrase is.
 */
const known = new WeakMap<WovenPhrase, Map<string, WovenCell>>();

/** So many cells of one phrase are kept. */
const MOST_KNOWN = 200;

export function wovenAgain(phrase: WovenPhrase, setting: CellSetting): WovenCell {
  const cells = known.get(phrase) ?? new Map<string, WovenCell>();
  known.set(phrase, cells);
  const name = JSON.stringify(setting);
  const there = cells.get(name);
  if (there) return there;
  if (cells.size >= MOST_KNOWN) cells.clear();
  const made = wovenCell(phrase, setting);
  cells.set(name, made);
  return made;
}

/** The phrase of a cell as it sounds in its section, its pickup before it; and what is told of it. */
function wovenCell(phrase: WovenPhrase, setting: CellSetting): WovenCell {
  const { role, meter, key, offset, rounds, steps: own } = setting;
  const told: WovenCell['told'] = [];
  const given = { ...phrase.clip, role };
  if (phrase.isAside) told.push(['aside', 'its phrase was set aside; it sounds on here']);
  const bars = Math.max(1, setting.bars - offset);
  const wanted = rounds === null ? bars : Math.min(bars, rounds * barsOf(given));
  const its = meterAt(given.timeline, given.pickup);
  if (!sameMeter(its, meter))
    told.push([
      'meter',
      `it is in ${its.numerator}/${its.denominator} and lies on the bars of ${meter.numerator}/${meter.denominator}`,
    ]);
  const clip = inMeter(
    applyRecipe(given, { version: 1, steps: [{ step: 'resolution', ppq: PPQ }] }).clip,
    meter,
  );
  const ownBars = barsOf(clip);
  if (wanted % ownBars !== 0)
    told.push([
      'cut',
      wanted < ownBars
        ? `${ownBars} bars, of which ${wanted} are played`
        : `${ownBars} bars in ${wanted}: the last round is cut at the line`,
    ]);
  const through = throughStep(phrase.from, setting, wanted);
  if (typeof through === 'string') told.push(['chords', through]);
  const plain: RecipeStep[] =
    key && clip.key && isPitched(clip)
      ? [{ step: 'transpose', semitones: semitonesInto(clip.key, key) }]
      : [];
  const steps: RecipeStep[] =
    through && typeof through !== 'string' ? [through] : [{ step: 'repeat', bars: wanted }, ...plain];
  const { clip: done } = applyRecipe(clip, { version: 1, steps: [...steps, ...own] });
  const last = done.pickup + wanted * barTicks(PPQ, meter);
  return { clip: { ...done, notes: done.notes.filter(({ tick }) => tick < last), length: last }, told };
}

/** The step through the chords of a section; null for what has no pitches or keeps its own, a sentence where they cannot be read. */
function throughStep(
  from: WrittenChanges,
  { role, plain, changes, meter: { numerator: beats }, offset, key }: CellSetting,
  bars: number,
): RecipeStep | string | null {
  if (plain || changes.trim() === '' || !isPitched({ role })) return null;
  const read = readOrWhy(changes, beats);
  if (typeof read === 'string') return read;
  const to = asChart(
    goneRound(read, { beatsPerBar: beats, bars, fromBar: offset }).map(({ beat, beats: long, symbol }) => ({
      beat,
      beats: long,
      symbol,
    })),
    beats,
  );
  return { step: 'through', from, to, loop: true, ...(key ? { key: keyName(key) } : {}) };
}

/** A fill of a section's last bars, on the part. */
export function wovenFill({ clip: given }: WovenPhrase, role: WeavePart['role'], meter: Meter): Clip {
  const { clip } = applyRecipe(
    { ...given, role },
    {
      version: 1,
      steps: [
        { step: 'pickup', mode: 'drop' },
        { step: 'resolution', ppq: PPQ },
      ],
    },
  );
  return inMeter(clip, meter);
}

/** A clip on the bars of another meter: each bar begins on a bar line, what has no room in it is left out. */
function inMeter(clip: Clip, meter: Meter): Clip {
  const own = meterAt(clip.timeline, clip.pickup);
  if (sameMeter(own, meter)) return clip;
  const [ownBar, bar] = [barTicks(PPQ, own), barTicks(PPQ, meter)];
  const place = (tick: number) => {
    if (tick < clip.pickup) return tick;
    const [k, within] = [Math.floor((tick - clip.pickup) / ownBar), (tick - clip.pickup) % ownBar];
    return within < bar ? clip.pickup + k * bar + within : null;
  };
  const moved = <Item extends { tick: number }>(items: readonly Item[]) =>
    items.flatMap((item) => {
      const tick = place(item.tick);
      return tick === null ? [] : [{ ...item, tick }];
    });
  return {
    ...clip,
    timeline: makeTimeline(PPQ, [clip.timeline.tempos[0]!], [{ tick: 0, ...meter }]),
    length: clip.pickup + barsOf(clip) * bar,
    notes: moved(clip.notes),
    controls: moved(clip.controls),
  };
}
