import type { Take } from '../capture/take.ts';
import { SPLIT_METHOD } from './base.ts';
import { inOrder, type Proposal } from './proposals.ts';
import { notesByPart, splitTake, type Split } from './split.ts';

/** The first split as it would be found today: the one that is there, where today's method found it. */
export function splitOfToday(take: Take, first: Split, method: number): Split {
  return method >= SPLIT_METHOD ? first : splitTake(take);
}

/**
 * What is heard otherwise today than when a take came in: the roles of parts, offered and never changed by itself. `first`
 * is the take's first split as it was found then, `today` as it would be found now; `split` is how it stands.
 */
export function rolesHeardAnew(first: Split, today: Split, split: Split): Proposal[] {
  const [then, now] = [notesByPart(first), notesByPart(today)];
  const proposals = first.parts.flatMap((was, index): Proposal[] => {
    // The same notes then and now, whatever the part was called: what is divided otherwise is no question of a role.
    const place = now.findIndex((notes) => notes.length > 0 && sameNotes(notes, then[index]!));
    const part = split.parts.find(({ id }) => id === was.id);
    const heard = today.parts[place];
    if (!heard || !part?.found || part.role !== was.role || heard.role === was.role) return [];
    return [
      {
        id: `role ${was.id} ${heard.role}`,
        kind: 'role',
        parts: [was.id],
        text: `"${part.name}" is heard as ${heard.role} today: take it so?`,
        why: `When it came in it was taken for ${was.role}. Now: ${heard.reasons.join('; ')}.`,
        certainty: heard.certainty,
        ways: [{ title: `As ${heard.role}`, move: { move: 'role', part: was.id, role: heard.role } }],
      },
    ];
  });
  return inOrder(split, proposals);
}

function sameNotes(a: readonly number[], b: readonly number[]): boolean {
  return a.length === b.length && a.every((note, k) => note === b[k]);
}
