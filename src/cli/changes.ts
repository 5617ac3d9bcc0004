import { harmonyOf } from '../core/analyze/analysis.ts';
import { changesForTune, chartOf, TUNE_SETS, type TuneChord } from '../core/harmonize/for-tune.ts';
import { barStart, barsUntil } from '../core/music/timeline.ts';
import { keyName } from '../core/music/key.ts';
import { clipFromPart } from '../core/phrase/clip.ts';
import { splitTake } from '../core/split/split.ts';
import { takeOfFile } from './files.ts';
import { choosePart, tuneIn } from './choose-part.ts';
import { ofEach, Refusal, table, type Output, type Said } from './output.ts';

/** `changes FILE [--part NAME]`: chords for a tune, three sets. Returns the exit code. */
export function changesCommand(file: string, options: { part?: string }, out: Output): number {
  return ofEach([file], out, (one) => changesOfFile(one, options, (text) => out.problem(text)));
}

function changesOfFile(file: string, { part }: { part?: string }, problem: (text: string) => void): Said {
  const take = takeOfFile(file, problem);
  const split = splitTake(take);
  const index = part === undefined ? tuneIn(split) : choosePart(file, split, part, problem);
  if (index < 0) throw new Refusal(`${file}: there is no tune in it, only parts without pitches.`);
  const key = harmonyOf(take, split).keys[0];
  if (!key) throw new Refusal(`${file}: no key could be found for chords.`);
  const clip = clipFromPart(take, split, index, key);
  const bars = Math.max(1, barsUntil(clip.timeline, clip.length));
  const whole = { ...clip, length: barStart(clip.timeline, bars + 1) };
  const found = changesForTune(whole, { tonic: key.tonic, mode: key.mode }, new Map(), false);
  const answer = {
    file,
    part: split.parts[index]!.name,
    key: keyName(found.key),
    otherKeys: found.otherKeys,
    sets: Object.fromEntries(TUNE_SETS.map((set) => [set, found.sets[set].map(answerOf)])),
  };
  return {
    answer,
    text: [
      `${file}, "${answer.part}" in ${answer.key} (or ${answer.otherKeys.join(', ')})`,
      table([['set', 'chords'], ...TUNE_SETS.map((set) => [set, chartOf(found.sets[set])])]),
    ].join('\n'),
  };
}

function answerOf({ bar, beat, symbol, roman, next }: TuneChord) {
  return { bar, beat, symbol, roman, next };
}
