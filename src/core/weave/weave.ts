import type { Meter } from '../music/meters.ts';
import { activeStep, type Recipe, type RecipeStep } from '../normalize/recipe.ts';
import type { Purpose } from '../music/form.ts';
import type { Role } from '../split/roles.ts';

/** A stretch of an arrangement: so many bars over one line of chords, played so many times in a row. */
export interface WeaveSection {
  id: string;
  name: string;
  purpose: Purpose | null;
  bars: number;
  times: number;
  /** A chart; empty where the phrases keep their own chords. */
  changes: string;
  /** Where it is other than before it: BPM, key as it is written, meter. */
  bpm: number | null;
  key: string;
  meter: Meter | null;
  /** 1 the calmest to 5. */
  energy: number;
}

export interface WeavePart {
  id: string;
  name: string;
  role: Role;
  /** General MIDI 0..127; null for that of what it plays. */
  program: number | null;
  /** Factor on velocities. */
  level: number;
  /** 0 left, 64 middle, 127 right; null as it is. */
  pan: number | null;
}

/** What a part plays in a section: a phrase, bound, and what is done to it there. */
export interface WeaveCell {
  section: string;
  part: string;
  phrase: string;
  /** Bars of the section before it begins. */
  offset: number;
  /** How often it goes round; null for as long as the section lasts. */
  rounds: number | null;
  /** What is done to it here: busier, an octave, a layer. */
  steps: RecipeStep[];
  /** Its own notes, whatever the section's chords. */
  plain: boolean;
  muted: boolean;
  /** A fill that takes the place of its last bars, and a crash where it begins. */
  fill: string | null;
  crash: boolean;
}

/** How it ends: let ring, stopped short, grown slower, from the top again, or with its last bar. */
export const WEAVE_ENDINGS = ['ring', 'stop', 'back', 'slower', 'none'] as const;
export type WeaveEnding = (typeof WEAVE_ENDINGS)[number];

/** An arrangement sheet: sections across, parts down, a phrase a cell. */
export interface Weave {
  title: string;
  bpm: number;
  meter: Meter;
  /** As it is written. */
  key: string;
  sections: WeaveSection[];
  parts: WeavePart[];
  cells: WeaveCell[];
  ending: WeaveEnding;
  /** Bars the last chord is held. */
  endingBars: number;
  /** Proposals that were refused; they are not made again. */
  refused: string[];
}

/** Bars of a section, times it is played, bars in all, at the most. */
export const MOST_SECTION_BARS = 512;
export const MOST_TIMES = 64;
export const MOST_WEAVE_BARS = 2000;

/** Bars an ending adds, where nothing is said. */
export const ENDING_BARS = 2;

export const newSection = (id: string, name: string, bars = 8): WeaveSection => ({
  ...{ id, name, purpose: null, bars, times: 1, changes: '' },
  ...{ bpm: null, key: '', meter: null, energy: 3 },
});

export const newCell = (section: string, part: string, phrase: string): WeaveCell => ({
  ...{ section, part, phrase, offset: 0, rounds: null, steps: [] },
  ...{ plain: false, muted: false, fill: null, crash: false },
});

/** Names of sections as they are typed, "A A B A" or "verse, refrain": one a section, in order. */
export function sectionNames(text: string): string[] {
  return text
    .split(text.includes(',') ? /,/ : /[\s|]+/)
    .map((name) => name.trim().slice(0, 40))
    .filter(Boolean);
}

/** Bars an ending adds. */
export function barsOfEnding({ ending, endingBars }: Pick<Weave, 'ending' | 'endingBars'>): number {
  return ending === 'none' || ending === 'back' ? 0 : endingBars;
}

/** Bars of the sections, each as often as it is played; without a pickup and the ending. */
export function barsOfSections(sections: readonly WeaveSection[]): number {
  return sections.reduce((sum, { bars, times }) => sum + bars * times, 0);
}

export function cellAt(
  { cells }: Pick<Weave, 'cells'>,
  section: string,
  part: string,
): WeaveCell | undefined {
  return cells.find((cell) => cell.section === section && cell.part === part);
}

/** The weave with one cell changed. */
export function withCell(
  weave: Weave,
  section: string,
  part: string,
  change: (cell: WeaveCell) => WeaveCell,
): Weave {
  const changed = (cell: WeaveCell) => cell.section === section && cell.part === part;
  return { ...weave, cells: weave.cells.map((cell) => (changed(cell) ? change(cell) : cell)) };
}

export function withoutCell(weave: Weave, section: string, part: string): Weave {
  return { ...weave, cells: weave.cells.filter((cell) => cell.section !== section || cell.part !== part) };
}

/** What a section or part is called. */
export function nameIn(list: readonly { id: string; name: string }[], id: string): string {
  return list.find((one) => one.id === id)?.name ?? id;
}

/** Why a weave cannot be laid, as a sentence; null where it can. */
export function problemOfWeave(weave: Weave): string | null {
  for (const { name, bars, times } of weave.sections) {
    if (!(Number.isInteger(bars) && bars >= 1 && bars <= MOST_SECTION_BARS))
      return `"${name}" has ${bars} bars; a section has 1 to ${MOST_SECTION_BARS}.`;
    if (!(Number.isInteger(times) && times >= 1 && times <= MOST_TIMES))
      return `"${name}" is played ${times} times; 1 to ${MOST_TIMES} are possible.`;
  }
  const bars = barsOfSections(weave.sections) + barsOfEnding(weave);
  if (bars > MOST_WEAVE_BARS)
    return `The weave has ${bars.toLocaleString('en')} bars; ${MOST_WEAVE_BARS.toLocaleString('en')} are the most.`;
  return null;
}

/** A cell's step of some kind put, changed or (with null) taken out. */
export function withCellStep(cell: WeaveCell, name: RecipeStep['step'], step: RecipeStep | null): WeaveCell {
  const others = cell.steps.filter((one) => one.step !== name);
  return { ...cell, steps: step ? [...others, step] : others };
}

/** How busy a cell is against its phrase, -3 to 3. */
export function densityOf({ steps }: Pick<WeaveCell, 'steps'>): number {
  return activeStep({ version: 1, steps } as Recipe, 'density')?.level ?? 0;
}

/** How many octaves a cell is from its phrase. */
export function octaveOf({ steps }: Pick<WeaveCell, 'steps'>): number {
  return activeStep({ version: 1, steps } as Recipe, 'octave')?.by ?? 0;
}

/** A cell so many octaves from its phrase; in its own at 0. */
export function withOctave(cell: WeaveCell, by: number): WeaveCell {
  const within = Math.min(3, Math.max(-3, by));
  return withCellStep(cell, 'octave', within === 0 ? null : { step: 'octave', by: within });
}

/** A cell so much busier than its phrase, or calmer below 0; as it is at 0. */
export function withDensity(cell: WeaveCell, level: number): WeaveCell {
  return withCellStep(cell, 'density', level === 0 ? null : { step: 'density', level, seed: 1 });
}
