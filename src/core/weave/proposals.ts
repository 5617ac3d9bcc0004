import type { Purpose } from '../music/form.ts';
import { isPitched } from '../phrase/clip.ts';
import type { Role } from '../split/roles.ts';
import {
  cellAt,
  densityOf,
  ENDING_BARS,
  withCell,
  withDensity,
  withOctave,
  type Weave,
  type WeaveCell,
  type WeaveSection,
} from './weave.ts';

/** A phrase that could be used in a weave, as far as is needed to choose it. */
export interface WeavePhrase {
  id: string;
  name: string;
  role: Role;
  bars: number;
  purpose: Purpose | null;
  sheafId: string | null;
  sourceId: string | null;
}

/** Something that could be better, with its reason: what it would change, and a name by which a refusal is known. */
export interface WeaveProposal {
  id: string;
  kind: 'variant' | 'fill' | 'crash' | 'energy' | 'ending';
  section: string;
  part: string | null;
  text: string;
  /** The weave with it. */
  apply: (weave: Weave) => Weave;
}

/** More equal bars in a row than these ask for a change (common practice: a listener has heard them four times twice). */
export const MOST_EQUAL_BARS = 8;

/**
 * What could be done to a weave: a variant where bars stay equal for too long, a fill before a new section and a crash on it,
 * more of something in a second verse, bass or drums out of a break, a layer more in the last refrain, an ending. None is done
 * unasked, and what was refused is not proposed again.
 */
export function proposalsFor(weave: Weave, phrases: ReadonlyMap<string, WeavePhrase>): WeaveProposal[] {
  const all = [
    ...variants(weave, phrases),
    ...fills(weave, phrases),
    ...crashes(weave),
    ...energies(weave, phrases),
    ...endings(weave),
  ];
  const refused = new Set(weave.refused);
  return all.filter(({ id }) => !refused.has(id));
}

const inCell =
  (section: string, part: string, change: (cell: WeaveCell) => WeaveCell) =>
  (weave: Weave): Weave =>
    withCell(weave, section, part, change);

const nameOf = (phrases: ReadonlyMap<string, WeavePhrase>, id: string) =>
  phrases.get(id)?.name ?? 'its phrase';

/** Where the same bars go on for too long: busier by one from the section in which that happens. */
function variants(weave: Weave, phrases: ReadonlyMap<string, WeavePhrase>): WeaveProposal[] {
  return weave.parts.flatMap((part) => {
    const found: WeaveProposal[] = [];
    let [equal, before]: [number, WeaveCell | undefined] = [0, undefined];
    for (const section of weave.sections) {
      const cell = cellAt(weave, section.id, part.id);
      const bars = section.bars * section.times;
      const own = cell && (phrases.get(cell.phrase)?.bars ?? 1);
      // A phrase of many bars is not equal to itself bar by bar.
      const counts = cell && !cell.muted && own! <= 4;
      const same = counts && before && before.phrase === cell.phrase && densityOf(before) === densityOf(cell);
      equal = counts ? (same ? equal : 0) + bars : 0;
      before = counts ? cell : undefined;
      if (!cell || equal <= MOST_EQUAL_BARS || densityOf(cell) !== 0) continue;
      const other = variantOf(cell.phrase, phrases);
      found.push({
        id: `variant ${section.id} ${part.id} ${cell.phrase}`,
        ...{ kind: 'variant', section: section.id, part: part.id },
        text: `${nameOf(phrases, cell.phrase)} goes on for ${equal} equal bars: ${other ? `its variation ${other.name}` : 'busier by one'} here`,
        apply: inCell(section.id, part.id, (one) =>
          other ? { ...one, phrase: other.id } : withDensity(one, 1),
        ),
      });
      equal = 0;
    }
    return found;
  });
}

/** A kept variation that belongs to a phrase: of its role, from its sheaf or else from its source, nearest to its length. */
function variantOf(id: string, phrases: ReadonlyMap<string, WeavePhrase>): WeavePhrase | undefined {
  const own = phrases.get(id);
  if (!own) return undefined;
  return [...phrases.values()]
    .filter((one) => one.id !== id && one.purpose === 'variation' && one.role === own.role)
    .filter((one) => nearness(one, own) < 2)
    .sort(
      (a, b) =>
        nearness(a, own) - nearness(b, own) || Math.abs(a.bars - own.bars) - Math.abs(b.bars - own.bars),
    )[0];
}

/** 0 from the same sheaf, 1 from the same source, else 2. */
function nearness(one: WeavePhrase, own: WeavePhrase | undefined): 0 | 1 | 2 {
  if (one.sheafId !== null && one.sheafId === own?.sheafId) return 0;
  return one.sourceId !== null && one.sourceId === own?.sourceId ? 1 : 2;
}

/** The section that comes after, where it is another one. */
function nextOther(weave: Weave, at: number): WeaveSection | undefined {
  const next = weave.sections[at + 1];
  return next && next.name !== weave.sections[at]!.name ? next : undefined;
}

function isDrums(role: Role): boolean {
  return role === 'drums';
}

/** A fill before a new section: from the same sheaf, else the same source, else any. */
function fills(weave: Weave, phrases: ReadonlyMap<string, WeavePhrase>): WeaveProposal[] {
  const known = [...phrases.values()].filter(({ role, purpose }) => isDrums(role) && purpose === 'fill');
  if (known.length === 0) return [];
  return weave.sections.flatMap((section, at) => {
    const next = nextOther(weave, at);
    if (!next) return [];
    return weave.parts.flatMap((part): WeaveProposal[] => {
      const cell = cellAt(weave, section.id, part.id);
      if (!isDrums(part.role) || !cell || cell.muted || cell.fill) return [];
      const groove = phrases.get(cell.phrase);
      const best = [...known]
        .filter(({ bars }) => bars < section.bars)
        .sort((a, b) => nearness(a, groove) - nearness(b, groove) || a.bars - b.bars)[0];
      if (!best) return [];
      const why = ['from the same sheaf', 'from the same source', 'of the same role'][nearness(best, groove)];
      return [
        {
          id: `fill ${section.id} ${part.id}`,
          ...{ kind: 'fill', section: section.id, part: part.id },
          text: `${best.name} leads into "${next.name}", ${why}: it takes the place of the last ${best.bars === 1 ? 'bar' : `${best.bars} bars`}`,
          apply: inCell(section.id, part.id, (one) => ({ ...one, fill: best.id })),
        },
      ];
    });
  });
}

/** A crash where a new section begins. */
function crashes(weave: Weave): WeaveProposal[] {
  return weave.sections.flatMap((section, at) => {
    if (at === 0 || weave.sections[at - 1]!.name === section.name) return [];
    return weave.parts.flatMap((part): WeaveProposal[] => {
      const cell = cellAt(weave, section.id, part.id);
      if (!isDrums(part.role) || !cell || cell.muted || cell.crash) return [];
      return [
        {
          id: `crash ${section.id} ${part.id}`,
          ...{ kind: 'crash', section: section.id, part: part.id },
          text: `A crash where "${section.name}" begins`,
          apply: inCell(section.id, part.id, (one) => ({ ...one, crash: true })),
        },
      ];
    });
  });
}

const isLike = (name: string, purpose: Purpose | null, meant: Purpose, words: RegExp) =>
  purpose === meant || words.test(name);

/** A second verse has one thing more than the first, a break leaves bass or drums out, the last refrain has a layer more. */
function energies(weave: Weave, phrases: ReadonlyMap<string, WeavePhrase>): WeaveProposal[] {
  const found: WeaveProposal[] = [];
  const verses = weave.sections.filter(({ name, purpose }) => isLike(name, purpose, 'verse', /^verse|^a\b/i));
  const second = verses[1];
  if (second) {
    const [first] = verses as [WeaveSection];
    const part = weave.parts.find(({ id, role }) => {
      const [a, b] = [cellAt(weave, first.id, id), cellAt(weave, second.id, id)];
      return a && b && !b.muted && !isDrums(role) && a.phrase === b.phrase && densityOf(a) === densityOf(b);
    });
    const playsMore = weave.parts.some(
      ({ id }) => !cellAt(weave, first.id, id) && cellAt(weave, second.id, id),
    );
    if (part && !playsMore)
      found.push({
        id: `energy second ${second.id}`,
        ...{ kind: 'energy', section: second.id, part: part.id },
        text: `The second "${second.name}" has nothing more than the first: ${part.name} busier by one`,
        apply: inCell(second.id, part.id, (one) => withDensity(one, 1)),
      });
  }
  for (const section of weave.sections) {
    if (!isLike(section.name, section.purpose, 'break', /^break/i)) continue;
    const playing = weave.parts.filter(({ id, role }) => {
      const cell = cellAt(weave, section.id, id);
      return cell && !cell.muted && (isDrums(role) || role === 'bass');
    });
    if (playing.length < 2) continue;
    const out = playing.find(({ role }) => role === 'bass')!;
    found.push({
      id: `energy break ${section.id}`,
      ...{ kind: 'energy', section: section.id, part: out.id },
      text: `"${section.name}" is a break: ${out.name} out`,
      apply: inCell(section.id, out.id, (one) => ({ ...one, muted: true })),
    });
  }
  const refrains = weave.sections.filter(({ name, purpose }) =>
    isLike(name, purpose, 'chorus', /^(refrain|chorus)/i),
  );
  const last = refrains.length > 1 ? refrains.at(-1)! : undefined;
  const layered =
    last &&
    weave.parts.find(({ id, role }) => cellAt(weave, last.id, id) && isPitched({ role }) && role !== 'bass');
  const doubled =
    last &&
    weave.parts.some(({ id }) => cellAt(weave, last.id, id)?.steps.some(({ step }) => step === 'octave'));
  if (last && layered && !doubled) {
    const cell = cellAt(weave, last.id, layered.id)!;
    const id = `${layered.id} layer`;
    found.push({
      id: `energy last ${last.id}`,
      ...{ kind: 'energy', section: last.id, part: layered.id },
      text: `The last "${last.name}" has no layer more: ${nameOf(phrases, cell.phrase)} an octave up beside it`,
      apply: (now) => ({
        ...now,
        parts: now.parts.some((one) => one.id === id)
          ? now.parts
          : [...now.parts, { ...layered, id, name: `${layered.name}, layer`, level: 0.7 * layered.level }],
        cells: [...now.cells, { ...withOctave(cell, 1), part: id }],
      }),
    });
  }
  return found;
}

/** An ending by part, where there is none. */
function endings(weave: Weave): WeaveProposal[] {
  const last = weave.sections.at(-1);
  if (weave.ending !== 'none' || !last || weave.cells.length === 0) return [];
  return [
    {
      id: 'ending',
      ...{ kind: 'ending', section: last.id, part: null },
      text: `It stops where "${last.name}" ends: the last chord held for ${ENDING_BARS} bars, drums with a crash`,
      apply: (now) => ({ ...now, ending: 'ring', endingBars: ENDING_BARS }),
    },
  ];
}
