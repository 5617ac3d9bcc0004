import { harmonyOf } from '../core/analyze/analysis.ts';
import { numeralLine, type ChangesChord } from '../core/analyze/changes.ts';
import type { PhraseAsKept } from '../core/catalog/compared.ts';
import { barStart } from '../core/music/timeline.ts';
import { clipFromNotes, compareClipNotes } from '../core/phrase/clip.ts';
import { UNPITCHED, type Role } from '../core/split/roles.ts';
import { partNotes } from '../core/split/split.ts';
import { changesOfTake, playingOfFile } from './opened-file.ts';

/**
 * A file as one phrase: all that plays, as one clip in whole bars, with the changes under it. Where something has pitches, drums are
 * left out: they are no part of its harmony or shape. @throws Refusal where it holds no notes
 */
export function phraseOfFile(
  file: string,
  problem: (text: string) => void,
): PhraseAsKept & { role: Role; changes: ChangesChord[] } {
  const { take, split, playing } = playingOfFile(file, problem);
  const pitched = playing.filter(({ part }) => !UNPITCHED.has(part.role));
  const meant = pitched.length > 0 ? pitched : playing;
  const [first] = meant;
  const role = meant.length === 1 || pitched.length === 0 ? first!.part.role : 'other';
  const { key, bars, changes } = changesOfTake(take, harmonyOf(take, split));
  const clips = meant.map(({ part, index }) =>
    clipFromNotes(take, partNotes(split, index), {
      ...{ streams: [], role, key, channel: part.channel, program: part.program, pitchMap: part.pitchMap },
      locked: partNotes(split, index).filter((i) => split.locked[i]),
    }),
  );
  const notes = clips.flatMap((clip) => clip.notes).sort(compareClipNotes);
  const locked = clips.flatMap((clip) => clip.locked);
  return {
    role,
    clip: { ...clips[0]!, notes, locked, length: barStart(take.timing.timeline, bars + 1) },
    numerals: numeralLine(changes),
    changes,
  };
}
