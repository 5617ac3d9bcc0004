import { newId } from './edit.ts';
import type { Weave, WeaveCell, WeavePart, WeaveSection } from './weave.ts';

/** What comes along with parts that are brought from one weave into another; their phrases always do. */
export interface Along {
  /** On which sound each is played. */
  sound: boolean;
  /** How loud it is, and where it stands. */
  level: boolean;
  /** What it plays where: in the sections that are called alike, in their order. */
  cells: boolean;
  /** Sections that are not here, at the end. */
  sections: boolean;
}

/** A weave with parts of another: new parts at the end, with what is wanted of what stands with them there. */
export function broughtIn(weave: Weave, from: Weave, partIds: readonly string[], along: Along): Weave {
  const chosen = from.parts.filter(({ id }) => partIds.includes(id));
  const { sections, places } = along.cells
    ? placedSections(weave, from, along.sections)
    : { sections: weave.sections, places: new Map<string, string>() };
  return chosen.reduce<Weave>((now, part) => withPartOf(now, part, { from, places, along }), {
    ...weave,
    sections,
  });
}

interface Bringing {
  from: Weave;
  /** Where its sections stand here, by their ids there. */
  places: ReadonlyMap<string, string>;
  along: Along;
}

function withPartOf(weave: Weave, part: WeavePart, { from, places, along }: Bringing): Weave {
  const id = newId(weave, 'p');
  const brought: WeavePart = {
    ...{ id, name: nameBeside(weave, part.name), role: part.role },
    program: along.sound ? part.program : null,
    ...(along.level ? { level: part.level, pan: part.pan } : { level: 1, pan: null }),
  };
  const cells = from.cells.flatMap((cell): WeaveCell[] => {
    const section = places.get(cell.section);
    return cell.part === part.id && section ? [{ ...cell, part: id, section }] : [];
  });
  return { ...weave, parts: [...weave.parts, brought], cells: [...weave.cells, ...cells] };
}

/** Two parts of one name could not be told apart. */
function nameBeside({ parts }: Weave, name: string): string {
  const isTaken = (one: string) => parts.some((part) => part.name === one);
  for (let n = 1; ; n++) {
    const tried = n === 1 ? name : `${name} ${n}`;
    if (!isTaken(tried)) return tried;
  }
}

/** Where the sections of another weave stand here: the first verse is the first verse. Those that are not here are added where that is wanted. */
function placedSections(weave: Weave, from: Weave, adds: boolean) {
  const sections: WeaveSection[] = [...weave.sections];
  const places = new Map<string, string>();
  const used = new Set<string>();
  for (const section of from.sections) {
    const alike = weave.sections.find(({ id, name }) => name === section.name && !used.has(id));
    if (alike) {
      used.add(alike.id);
      places.set(section.id, alike.id);
    } else if (adds) {
      const id = newId({ ...weave, sections }, 's');
      sections.push({ ...section, id });
      places.set(section.id, id);
    }
  }
  return { sections, places };
}
