import { harmonyOf } from '../core/analyze/analysis.ts';
import { changesIn, numeralLine, type ChangesChord } from '../core/analyze/changes.ts';
import type { PhraseAsKept } from '../core/catalog/compared.ts';
import { barStart, barsUntil } from '../core/music/timeline.ts';
import { clipFromNotes, compareClipNotes } from '../core/phrase/clip.ts';
import { mended } from '../core/split/proposals.ts';
import { UNPITCHED, type Role } from '../core/split/roles.ts';
import { partNotes, playingParts, splitTake } from '../core/split/split.ts';
import { takeOfFile } from './files.ts';
import { Refusal } from './output.ts';
import { CERTAIN } from './split.ts';

/**
 * A file as one phrase: all that plays, as one clip in whole bars, with the changes under it. Where something has pitches, drums are
 * left out: they are no part of its harmony or shape. @throws Refusal where it holds no notes
 */
export function phraseOfFile(
  file: string,
  problem: (text: string) => void,
): PhraseAsKept & { role: Role; changes: ChangesChord[] } {
  const take = takeOfFile(file, problem);
  const split = mended(take, splitTake(take), CERTAIN);
  const playing = playingParts(split);
  if (playing.length === 0) throw new Refusal(`${file}: there are no notes in it.`);
  const pitched = playing.filter(({ part }) => !UNPITCHED.has(part.role));
  const meant = pitched.length > 0 ? pitched : playing;
  const [first] = meant;
  const role = meant.length === 1 || pitched.length === 0 ? first!.part.role : 'other';
  const { chords, keys } = harmonyOf(take, split);
  const [found] = keys;
  const key = found ? { tonic: found.tonic, mode: found.mode } : null;
  const { timeline } = take.timing;
  const bars = Math.max(1, barsUntil(timeline, take.timing.ticks));
  const clips = meant.map(({ part, index }) =>
    clipFromNotes(take, partNotes(split, index), {
      ...{ streams: [], role, key, channel: part.channel, program: part.program, pitchMap: part.pitchMap },
      locked: partNotes(split, index).filter((i) => split.locked[i]),
    }),
  );
  const notes = clips.flatMap((clip) => clip.notes).sort(compareClipNotes);
  const locked = clips.flatMap((clip) => clip.locked);
  const changes = key ? changesIn(take, chords, key, { startBar: 1, bars }) : [];
  return {
    role,
    clip: { ...clips[0]!, notes, locked, length: barStart(timeline, bars + 1) },
    numerals: numeralLine(changes),
    changes,
  };
}
