import type { TypedForm } from './sections-of.ts';
import {
  cellAt,
  newCell,
  withCell,
  type Weave,
  type WeaveCell,
  type WeavePart,
  type WeaveSection,
} from './weave.ts';
import type { Role } from '../split/roles.ts';

/** An id no other section or part of the weave has. */
export function newId(weave: Weave, kind: 's' | 'p'): string {
  const taken = new Set([...weave.sections, ...weave.parts].map(({ id }) => id));
  for (let k = 1; ; k++) if (!taken.has(`${kind}${k}`)) return `${kind}${k}`;
}

/** The sections of a form that was typed; what is named like one that was there begins as it. */
export function withForm(weave: Weave, { sections, isChart }: TypedForm): Weave {
  const left = [...weave.sections];
  let next: Weave = { ...weave, sections: [] };
  const cells: WeaveCell[] = [];
  for (const typed of sections) {
    const { name } = typed;
    const at = left.findIndex((one) => one.name === name);
    const like = weave.sections.find((one) => one.name === name);
    const own = at >= 0 ? left.splice(at, 1)[0]! : null;
    const id = own?.id ?? newId({ ...weave, sections: [...weave.sections, ...next.sections] }, 's');
    const said = isChart ? { bars: typed.bars, changes: typed.changes } : {};
    next = { ...next, sections: [...next.sections, { ...(own ?? like ?? typed), ...said, id, name }] };
    const from = own ?? like;
    if (from)
      cells.push(
        ...weave.cells.filter((cell) => cell.section === from.id).map((cell) => ({ ...cell, section: id })),
      );
  }
  return { ...next, cells };
}

export function withSection(weave: Weave, id: string, change: Partial<WeaveSection>): Weave {
  return { ...weave, sections: weave.sections.map((one) => (one.id === id ? { ...one, ...change } : one)) };
}

export function withoutSection(weave: Weave, id: string): Weave {
  return {
    ...weave,
    sections: weave.sections.filter((one) => one.id !== id),
    cells: weave.cells.filter(({ section }) => section !== id),
  };
}

export function withPart(weave: Weave, id: string, change: Partial<WeavePart>): Weave {
  return { ...weave, parts: weave.parts.map((one) => (one.id === id ? { ...one, ...change } : one)) };
}

/** A part more, named by its role, and its number where there are several. */
export function withNewPart(weave: Weave, role: Role): { weave: Weave; id: string } {
  const id = newId(weave, 'p');
  const alike = weave.parts.filter((part) => part.role === role).length;
  const name = alike === 0 ? role : `${role} ${alike + 1}`;
  const part: WeavePart = { ...{ id, name, role, program: null, level: 1, pan: null } };
  return { weave: { ...weave, parts: [...weave.parts, part] }, id };
}

export function withoutPart(weave: Weave, id: string): Weave {
  return {
    ...weave,
    parts: weave.parts.filter((one) => one.id !== id),
    cells: weave.cells.filter(({ part }) => part !== id),
  };
}

/** A phrase in a cell; what was done to the one before stays out. */
export function withPhrase(weave: Weave, section: string, part: string, phrase: string): Weave {
  const cell = cellAt(weave, section, part);
  const next = cell ? { ...cell, phrase, steps: [], fill: null } : newCell(section, part, phrase);
  return { ...weave, cells: [...weave.cells.filter((one) => one !== cell), next] };
}

/** What a cell plays instead; what is done to it there stays, as for a copy of its own. */
export function withCopy(weave: Weave, section: string, part: string, phrase: string): Weave {
  return withCell(weave, section, part, (cell) => ({ ...cell, phrase }));
}

/** A phrase in the place of another, in every cell and fill; what is done to it there stays. */
export function withPhraseFor(weave: Weave, from: string, to: string): Weave {
  const one = (id: string) => (id === from ? to : id);
  return {
    ...weave,
    cells: weave.cells.map((cell) => ({
      ...cell,
      phrase: one(cell.phrase),
      fill: cell.fill && one(cell.fill),
    })),
  };
}

/** How many cells a phrase is used in. */
export function placesOf({ cells }: Pick<Weave, 'cells'>, phrase: string): number {
  return cells.filter((cell) => cell.phrase === phrase).length;
}

/** Every cell that a phrase is used in, changed alike. */
export function withCellsOf(weave: Weave, phrase: string, change: Partial<WeaveCell>): Weave {
  return {
    ...weave,
    cells: weave.cells.map((cell) => (cell.phrase === phrase ? { ...cell, ...change } : cell)),
  };
}

/** A phrase all along a part: in the place of what it plays, or in every section where it plays nothing yet. */
export function withPhraseInPart(weave: Weave, part: string, phrase: string): Weave {
  const playing = weave.sections.filter(({ id }) => cellAt(weave, id, part));
  const sections = playing.length > 0 ? playing : weave.sections;
  return sections.reduce((now, { id }) => withPhrase(now, id, part, phrase), weave);
}

/** A phrase that falls onto the sheet, as far as its part has to be found. */
export interface Falling {
  id: string;
  name: string;
  role: Role;
}

/**
 * Phrases put into a section, each in the first part of its role that plays nothing there; a part more where there is none. A
 * sheaf falls in whole.
 */
export function withPhrasesIn(weave: Weave, section: string, phrases: readonly Falling[]): Weave {
  return phrases.reduce((now, { id, role }) => {
    const free = now.parts.find((part) => part.role === role && !cellAt(now, section, part.id));
    const made = free ? { weave: now, id: free.id } : withNewPart(now, role);
    return withPhrase(made.weave, section, made.id, id);
  }, weave);
}
