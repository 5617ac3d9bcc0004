import { soundingPitch, playingParts, type PlayingPart } from '../split/split.ts';
import { UNPITCHED, type Role } from '../split/roles.ts';
import type { Pass } from './passes.ts';

/** One instrument across all passes: what is chosen bar by bar. */
export interface Row {
  name: string;
  role: Role;
  /** Channel 0..15 and program 0..127 it sounds by. */
  channel: number;
  program: number;
  /** Of each pass the part that plays it; null where none does. */
  parts: (PlayingPart | null)[];
}

/** What speaks for two parts being one instrument; so much it takes. */
const SAME_NAME = 4;
const SAME_ROLE = 2;
const SAME_SOUND = 1;
const ENOUGH = 3;

/** The instruments of some passes: parts of one name, or of one role and sound, are one. */
export function rowsOf(passes: readonly Pass[]): Row[] {
  const rows: Row[] = [];
  passes.forEach((pass, at) => {
    for (const playing of playingParts(pass.split)) {
      const [best] = rows
        .filter((row) => row.parts[at] === null)
        .map((row) => ({ row, score: sameness(row, playing) }))
        .filter(({ score }) => score >= ENOUGH)
        .sort((a, b) => b.score - a.score);
      const row = best?.row ?? newRow(rows, playing, passes.length);
      row.parts[at] = playing;
    }
  });
  return rows;
}

function sameness(row: Row, { part }: PlayingPart): number {
  if (UNPITCHED.has(row.role) !== UNPITCHED.has(part.role)) return 0;
  return (
    (row.name.toLowerCase() === part.name.toLowerCase() ? SAME_NAME : 0) +
    (row.role === part.role ? SAME_ROLE : 0) +
    (row.program === part.program ? SAME_SOUND : 0) +
    (row.channel === part.channel ? SAME_SOUND : 0)
  );
}

function newRow(rows: Row[], { part }: PlayingPart, passes: number): Row {
  const { name, role, channel, program } = part;
  const row: Row = {
    ...{ name, role, channel, program },
    parts: Array.from({ length: passes }, () => null),
  };
  rows.push(row);
  return row;
}

/** The pitch that a note of a part sounds as. */
export function pitchOf({ part }: Pick<PlayingPart, 'part'>, captured: number): number {
  return soundingPitch(part.pitchMap, captured);
}
