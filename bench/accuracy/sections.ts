import { findSections, type FoundSection } from '../../src/core/analyze/sections.ts';
import { takeFrom, type Take } from '../../src/core/capture/take.ts';
import { barTicks } from '../../src/core/music/timeline.ts';
import { performanceFile, PPQ, type PlayedPart } from '../../src/core/standins/performance.ts';
import { seededRandom } from '../../src/core/random.ts';
import { standInById } from '../../src/core/standins/stand-ins.ts';
import { splitTake } from '../../src/core/split/split.ts';

interface SectionedTake {
  take: Take;
  made: FoundSection[];
}

const CHARTS = [
  'Dm | Bb | Gm | A7',
  'F | C | Gm | Bb',
  'Dm | C | Bb | A7',
  'G | C | D7 | G',
  'Em | C | Am | B7',
  'C | Am | F | G7',
  'Eb | Cm | Ab | Bb7',
];

/** Forms of eight bars a section, as they are common. */
const FORMS = ['AB', 'ABA', 'AABA', 'ABAB', 'ABC', 'AAAA'];

/** Takes of the band whose sections are known: each has changes of its own, and in some a part pauses. */
export function sectionedTakes(count: number, seed = 0): SectionedTake[] {
  return Array.from({ length: count }, (_, n) => {
    const random = seededRandom(600 + n + seed);
    const pick = <Value>(list: readonly Value[]) => list[Math.floor(random() * list.length)]!;
    const form = FORMS[n % FORMS.length]!;
    const band = standInById('band');
    const style = pick(['river', 'market', 'clockwork', 'waltz'].filter((name) => name in BAND_OPTIONS));
    const charts = new Map<string, string>();
    for (const label of new Set(form)) {
      const left = CHARTS.filter((chart) => ![...charts.values()].includes(chart));
      charts.set(label, pick(left));
    }
    const without = new Map(
      [...new Set(form)].map((label) => [
        label,
        label !== 'A' && random() < 0.4 ? pick(['Guitar', 'Pad', 'Keys']) : '',
      ]),
    );
    const parts: PlayedPart[] = [];
    let bars = 0;
    let length = 0;
    for (const label of form) {
      const chart = `${charts.get(label)} | ${charts.get(label)}`;
      const performance = band.play(
        { ...band.defaults, style, chart, choruses: 1, seed: n, looseness: 8 },
        [],
      );
      const bar = barTicks(PPQ, performance.meter);
      length = bar;
      for (const part of performance.parts) {
        if (part.name === without.get(label)) continue;
        const notes = part.notes.map((note) => ({ ...note, tick: note.tick + bars * bar }));
        const known = parts.find(({ name }) => name === part.name);
        if (known) known.notes.push(...notes);
        else parts.push({ ...part, notes });
      }
      bars += 8;
    }
    const meter = { numerator: length / PPQ, denominator: 4 };
    const take = takeFrom(performanceFile({ title: 'Form', bpm: 100, meter, bars, parts, input: null }));
    return { take, made: joined([...form]) };
  });
}

const BAND_OPTIONS = Object.fromEntries(
  standInById('band').fields.flatMap((field) =>
    field.name === 'style' && field.kind === 'choice' ? field.options.map(({ value }) => [value, true]) : [],
  ),
);

/** The same again without anything between is one section. */
function joined(labels: readonly string[]): FoundSection[] {
  const made: FoundSection[] = [];
  labels.forEach((label, k) => {
    const last = made.at(-1);
    if (last?.label === label) last.bars += 8;
    else made.push({ startBar: 8 * k + 1, bars: 8, label });
  });
  return made;
}

/** F-measure of boundaries at the very bar, and the share of bars under the right name where names are made alike. */
export function scoreSections(takes: readonly SectionedTake[]): { boundaries: number; bars: number } {
  let [hits, found, made, right, bars] = [0, 0, 0, 0, 0];
  for (const { take, made: truth } of takes) {
    const sections = findSections(take, splitTake(take));
    const inner = (list: readonly FoundSection[]) => list.slice(1).map(({ startBar }) => startBar);
    const truthStarts = new Set(inner(truth));
    hits += inner(sections).filter((bar) => truthStarts.has(bar)).length;
    found += sections.length - 1;
    made += truth.length - 1;
    const labelAt = (list: readonly FoundSection[], bar: number) =>
      list.find((one) => bar >= one.startBar && bar < one.startBar + one.bars)?.label;
    const last = truth.at(-1)!;
    for (let bar = 1; bar < last.startBar + last.bars; bar++) {
      bars++;
      if (labelAt(sections, bar) === labelAt(truth, bar)) right++;
    }
  }
  return { boundaries: (2 * hits) / Math.max(1, found + made), bars: right / bars };
}
