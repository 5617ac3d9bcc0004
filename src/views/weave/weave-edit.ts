import {
  cellAt,
  newCell,
  newSection,
  sectionNames,
  type Weave,
  type WeaveCell,
  type WeavePart,
  type WeaveSection,
} from '../../core/weave/weave.ts';
import type { Role } from '../../core/split/roles.ts';

/** Where a person stands on the sheet: a cell, or (without a part) a section's head, or (without a section) a part's. */
export interface Place {
  section: string | null;
  part: string | null;
}

/** An id no other section or part of the weave has. */
function newId(weave: Weave, kind: 's' | 'p'): string {
  const taken = new Set([...weave.sections, ...weave.parts].map(({ id }) => id));
  for (let k = 1; ; k++) if (!taken.has(`${kind}${k}`)) return `${kind}${k}`;
}

/** The sections as they are typed; what is named like one that was there begins as it. */
export function withForm(weave: Weave, text: string): Weave {
  const left = [...weave.sections];
  let next: Weave = { ...weave, sections: [] };
  const cells: WeaveCell[] = [];
  for (const name of sectionNames(text)) {
    const at = left.findIndex((one) => one.name === name);
    const like = weave.sections.find((one) => one.name === name);
    const own = at >= 0 ? left.splice(at, 1)[0]! : null;
    const id = own?.id ?? newId({ ...weave, sections: [...weave.sections, ...next.sections] }, 's');
    next = { ...next, sections: [...next.sections, own ?? { ...(like ?? newSection(id, name)), id, name }] };
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

/** A part more, named by its role. */
export function withNewPart(weave: Weave, role: Role, name: string = role): { weave: Weave; id: string } {
  const id = newId(weave, 'p');
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

export function withoutCell(weave: Weave, section: string, part: string): Weave {
  return { ...weave, cells: weave.cells.filter((cell) => cell.section !== section || cell.part !== part) };
}

/** The place a step away on the sheet, heads of sections above and of parts at the left. */
export function placeFrom(weave: Weave, { section, part }: Place, across: number, down: number): Place {
  const columns = [null, ...weave.sections.map(({ id }) => id)];
  const rows = [null, ...weave.parts.map(({ id }) => id)];
  const clamp = (at: number, length: number) => Math.min(length - 1, Math.max(0, at));
  const column = columns[clamp(columns.indexOf(section) + across, columns.length)]!;
  const row = rows[clamp(rows.indexOf(part) + down, rows.length)]!;
  return column === null && row === null ? { section, part } : { section: column, part: row };
}
