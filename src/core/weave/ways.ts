import type { Clash, ClashKind } from '../clash/clashes.ts';
import { clashInWords } from '../clash/words.ts';
import { parseKey } from '../music/key.ts';
import { pitchClass } from '../music/pitch.ts';
import { isPitched } from '../phrase/clip.ts';
import type { WeaveRemark } from './lay.ts';
import {
  cellAt,
  octaveOf,
  withCell,
  withOctave,
  withoutCell,
  type Weave,
  type WeaveCell,
  type WeavePart,
} from './weave.ts';

/** Something that can be done about what was found: how it is called, and the weave with it. */
export interface WeaveWay {
  text: string;
  apply: (weave: Weave) => Weave;
}

/** What does not go together down the column of a section: told once, however often it sounds. */
export interface ColumnClash {
  /** By which it is known as meant. */
  id: string;
  text: string;
  times: number;
  /** Quarter notes from the section's bar one, where it is heaviest. */
  beat: number;
  ways: WeaveWay[];
}

/** Lighter than this a clash passes by unheard; of the others so many are told. */
const LEAST = 0.1;
const MOST = 8;

/**
 * The clashes of a section's column, the heaviest first, alike ones together; what was said to be meant is left out.
 * @param clashes of the parts, by their places in `parts`
 */
export function columnClashes(
  weave: Weave,
  section: string,
  { clashes, parts }: { clashes: readonly Clash[]; parts: readonly WeavePart[] },
): ColumnClash[] {
  const names = parts.map(({ name }) => name);
  const key = parseKey(weave.sections.find(({ id }) => id === section)?.key || weave.key) ?? null;
  const found = new Map<string, ColumnClash>();
  for (const clash of clashes) {
    const { weight, kind, pitches, beat } = clash;
    if (weight < LEAST) continue;
    const [a, b] = clash.parts.map((at) => parts[at]!) as [WeavePart, WeavePart];
    const id = ['clash', section, kind, a.id, b.id, ...pitches.map((pitch) => pitchClass(pitch))].join(' ');
    const there = found.get(id);
    if (there) there.times++;
    else
      found.set(id, {
        ...{ id, text: clashInWords(clash, names, key), times: 1, beat },
        ways: [a, b]
          .filter((part, k, both) => both.indexOf(part) === k)
          .flatMap((part) => waysOf(weave, section, part, kind)),
      });
  }
  const meant = new Set(weave.refused);
  return [...found.values()].filter(({ id }) => !meant.has(id)).slice(0, MOST);
}

/** Clashes of time: another octave mends none of them. */
const OF_TIME: ReadonlySet<ClashKind> = new Set<ClashKind>(['kick and bass', 'hit', 'swing', 'change']);

/** What can be done to what a part plays in a section: a cell has no loose notes, so it moves or falls silent whole. */
function waysOf(weave: Weave, section: string, part: WeavePart, kind: ClashKind): WeaveWay[] {
  const cell = cellAt(weave, section, part.id);
  if (!cell) return [];
  const change = (text: string, to: (one: WeaveCell) => WeaveCell): WeaveWay => ({
    text,
    apply: (now) => withCell(now, section, part.id, to),
  });
  const octave = (by: number, text: string) => change(text, (one) => withOctave(one, octaveOf(one) + by));
  return [
    ...(isPitched(part) && !OF_TIME.has(kind)
      ? [octave(1, `${part.name} an octave up`), octave(-1, `${part.name} an octave down`)]
      : []),
    change(`${part.name} silent here`, (one) => ({ ...one, muted: true })),
  ];
}

/** What can be done about something that is told of a cell. */
export function remarkWays({ code, section, part }: WeaveRemark): WeaveWay[] {
  const silent: WeaveWay = {
    text: 'Leave it out',
    apply: (weave) => withCell(weave, section, part, (cell) => ({ ...cell, muted: true })),
  };
  const own: WeaveWay = {
    text: 'Keep its own chords',
    apply: (weave) => withCell(weave, section, part, (cell) => ({ ...cell, plain: true })),
  };
  const empty: WeaveWay = { text: 'Empty the cell', apply: (weave) => withoutCell(weave, section, part) };
  return { meter: [silent], cut: [], missing: [empty], aside: [empty], chords: [own, silent] }[code];
}
