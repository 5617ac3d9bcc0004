import { sameMeter, type Meter } from '../music/meters.ts';
import { changesIn, type ChangesChord } from '../analyze/changes.ts';
import type { ChordFinding } from '../analyze/chords.ts';
import type { Take } from '../capture/take.ts';
import { chartSections, ChartError, parseChart } from '../music/chart.ts';
import type { Section } from '../music/form.ts';
import type { Key } from '../music/key.ts';
import { barStart, bpmOf, meterAt, roundedBpm, tempoAt } from '../music/timeline.ts';
import { playingParts, type Split } from '../split/split.ts';
import { asChart } from '../through/as-chart.ts';
import { newSection, sectionNames, type WeaveSection } from './weave.ts';

/** What a section is called that nobody has given a name. */
const UNNAMED = 'A';

/** Whether what was typed is a chart, and not only names of sections. */
function isChart(text: string): boolean {
  return /[:|]/.test(text);
}

/**
 * Sections as they are typed: names, "A A B A", or a chart with its form, "A: Dm | A7; B: Gm | C; form: A A B A".
 * @param beatsPerBar of the meter that the chart is in
 * @throws ChartError where a chart cannot be read
 */
export function sectionsTyped(text: string, beatsPerBar: number): WeaveSection[] {
  if (!isChart(text)) return sectionNames(text).map((name, k) => newSection(`s${k + 1}`, name));
  parseChart(text, beatsPerBar);
  return chartSections(text).map(({ name, bars }, k) => ({
    ...newSection(`s${k + 1}`, name || UNNAMED, bars.length),
    changes: bars.map((bar) => bar.trim()).join(' | '),
  }));
}

/** A form as it was typed: its sections, and whether their bars and chords were typed with them. */
export interface TypedForm {
  sections: WeaveSection[];
  isChart: boolean;
}

/** A form as it is typed, read; or why it cannot be, as a sentence. */
export function formOrWhy(text: string, beatsPerBar: number): TypedForm | string {
  try {
    return { sections: sectionsTyped(text, beatsPerBar), isChart: isChart(text) };
  } catch (error) {
    if (error instanceof ChartError) return error.message;
    throw error;
  }
}

/** A take's sections for a sheet: where each lies in the take, and which of its parts sound there. */
export interface TakeForm {
  bpm: number;
  meter: Meter;
  key: Key | null;
  sections: { section: WeaveSection; startBar: number; parts: string[] }[];
  parts: { id: string; name: string; role: Split['parts'][number]['role'] }[];
}

/**
 * The form of a take: the sections of the chart it was asked to play where those are named and last as long as it does, else
 * those that are found or were said; with the chords that sound in each.
 */
export function formOfTake(
  take: Take,
  split: Split,
  known: {
    sections: readonly Section[];
    chords: readonly ChordFinding[];
    key: Key | null;
    bars: number;
    chart: string;
  },
): TakeForm {
  const { timeline } = take.timing;
  const { key, chords } = known;
  const playing = playingParts(split);
  const first = meterAt(timeline, 0);
  let before = { meter: first, bpm: roundedBpm(bpmAt(take, 0)) };
  const sections = namedBars(known, first.numerator).map(({ name, purpose, startBar, bars }, k) => {
    const [from, to] = [barStart(timeline, startBar), barStart(timeline, startBar + bars)];
    const meter = meterAt(timeline, from);
    const bpm = roundedBpm(bpmAt(take, from));
    const section: WeaveSection = {
      ...newSection(`s${k + 1}`, name, bars),
      purpose,
      changes: key ? onBeats(changesIn(take, chords, key, { startBar, bars }), meter.numerator) : '',
      bpm: bpm === before.bpm ? null : bpm,
      meter: sameMeter(meter, before.meter)
        ? null
        : { numerator: meter.numerator, denominator: meter.denominator },
    };
    before = { meter, bpm };
    const sounds = (i: number) => take.notes.tick[i]! >= from && take.notes.tick[i]! < to;
    const parts = playing.filter(({ notes }) => notes.some(sounds)).map(({ part }) => part.id);
    return { section, startBar, parts };
  });
  return {
    bpm: roundedBpm(bpmAt(take, 0)),
    meter: { numerator: first.numerator, denominator: first.denominator },
    key,
    sections,
    parts: playing.map(({ part: { id, name, role } }) => ({ id, name, role })),
  };
}

const bpmAt = ({ timing: { timeline } }: Take, tick: number) => bpmOf(tempoAt(timeline, tick).microseconds);

function namedBars(
  { sections, bars, chart }: { sections: readonly Section[]; bars: number; chart: string },
  beatsPerBar: number,
): { name: string; purpose: WeaveSection['purpose']; startBar: number; bars: number }[] {
  const asked = sectionsAsked(chart, beatsPerBar);
  const askedBars = asked.reduce((sum, one) => sum + one.bars, 0);
  if (asked.length > 1 && askedBars === bars) {
    let startBar = 1;
    return asked.map(({ name, bars: own }) => {
      const at = startBar;
      startBar += own;
      return { name, purpose: null, startBar: at, bars: own };
    });
  }
  const found = sections.map(({ label, ...section }) => ({ ...section, name: label }));
  return found.length > 0 ? found : [{ name: UNNAMED, purpose: null, startBar: 1, bars }];
}

/** Named sections of a chart that was asked for; none where it has none, or cannot be read. */
function sectionsAsked(chart: string, beatsPerBar: number): WeaveSection[] {
  const form = chart.includes(':') ? formOrWhy(chart, beatsPerBar) : '';
  return typeof form !== 'string' && form.sections.some(({ name }) => name !== UNNAMED) ? form.sections : [];
}

/** Found chords as a chart: each begins on the nearest beat, since that is all a chart can say. */
function onBeats(changes: readonly ChangesChord[], beatsPerBar: number): string {
  const placed = changes
    .map(({ beat, beats, symbol }) => {
      const from = Math.round(beat);
      return { beat: from, beats: Math.round(beat + beats) - from, symbol };
    })
    .filter(({ beats }) => beats > 0);
  const chart = asChart(placed, beatsPerBar);
  return typeof chart === 'string' ? chart : '';
}
