import { chartSections } from '../music/chart.ts';
import { PURPOSES, type Purpose, type Section } from '../music/form.ts';
import type { ChartCheck } from './chart-check.ts';

/**
 * The sections that a chart names, where the take plays them: what was asked has its own names. Bars that a device added belong to
 * the section before them. Null where the chart names no sections, or only one.
 */
export function askedSections(
  chart: string,
  { aligned }: Pick<ChartCheck, 'aligned'>,
  found: readonly Section[],
): Section[] | null {
  const asked = chartSections(chart);
  if (asked.length < 2 || asked.every(({ name }) => name === '')) return null;
  let bar = 1;
  const names = new Map<number, string>();
  for (const { name, bars } of asked) {
    names.set(bar, name);
    bar += bars.length;
  }
  const sections: Section[] = [];
  let current: string | null = null;
  for (const { bar: played, chartBar } of aligned) {
    const begins = chartBar !== null && names.has(chartBar);
    if (begins) current = names.get(chartBar)!;
    if (played === null || current === null) continue;
    const last = sections.at(-1);
    // A section whose first bar was not played begins with the one that was.
    if (begins || !last || last.label !== current) {
      sections.push({ startBar: played, bars: 1, label: current, purpose: 'verse' });
    } else last.bars = played - last.startBar + 1;
  }
  return sections.map((section) => ({ ...section, purpose: purposeOf(section, found) }));
}

/** What a section is for: as its name says, else as what is found in most of its bars. */
function purposeOf({ label, startBar, bars }: Section, found: readonly Section[]): Purpose {
  const named = PURPOSES.find((purpose) => label.toLowerCase().startsWith(purpose));
  if (named) return named;
  const shared = (one: Section) =>
    Math.min(startBar + bars, one.startBar + one.bars) - Math.max(startBar, one.startBar);
  const [most] = [...found].sort((a, b) => shared(b) - shared(a));
  return most && shared(most) > 0 ? most.purpose : 'verse';
}
