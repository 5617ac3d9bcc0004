import { TUNE_ROLES, UNPITCHED } from '../core/split/roles.ts';
import { playingParts, type Split } from '../core/split/split.ts';
import { Refusal } from './output.ts';

/** Index of the part that is named, by its name or id; the first where none is, and that is said. @throws Refusal */
export function choosePart(
  file: string,
  split: Split,
  name: string | undefined,
  problem: (text: string) => void,
): number {
  if (split.parts.length === 0) throw new Refusal(`${file}: there are no notes in it.`);
  if (name === undefined) {
    if (split.parts.length > 1) {
      problem(
        `${file}: ${split.parts.length} parts; the first, "${split.parts[0]!.name}", is used (choose with --part).`,
      );
    }
    return 0;
  }
  const wanted = name.toLowerCase();
  const index = split.parts.findIndex((part) => part.name.toLowerCase() === wanted || part.id === name);
  if (index < 0) {
    const names = split.parts.map((part) => `"${part.name}"`).join(', ');
    throw new Refusal(`${file}: there is no part "${name}". There are ${names}.`);
  }
  return index;
}

/** Index of the part that carries the tune: the first that has pitches, where none is one by its role; -1 where nothing has. */
export function tuneIn(split: Split): number {
  const pitched = playingParts(split).filter(({ part }) => !UNPITCHED.has(part.role));
  const sung = TUNE_ROLES.flatMap((role) => pitched.filter(({ part }) => part.role === role));
  return (sung[0] ?? pitched[0])?.index ?? -1;
}
