import { basename } from 'node:path';
import { findFeel } from '../core/analyze/feel.ts';
import { harmonyOf } from '../core/analyze/analysis.ts';
import { clashesBetween, type Clash, type SoundingPart } from '../core/clash/clashes.ts';
import { clashInWords } from '../core/clash/words.ts';
import type { Key } from '../core/music/key.ts';
import { meterAt } from '../core/music/timeline.ts';
import { clipFromPart } from '../core/phrase/clip.ts';
import { partNotes, playingParts, splitTake } from '../core/split/split.ts';
import { takeOfFile } from './files.ts';
import { Refusal, table, type Output } from './output.ts';

/** `clashes FILE...`: between the parts of one file, or between files that begin together. Returns the exit code. */
export function clashesCommand(files: readonly string[], out: Output): number {
  const read = files.map((file) => partsOfFile(file, files.length > 1, (text) => out.problem(text)));
  const parts = read.flatMap((one) => one.parts);
  if (parts.length === 0) throw new Refusal(`${files.join(', ')}: there are no notes in it.`);
  const key = read.find((one) => one.key)?.key ?? null;
  const names = parts.map(({ name }) => name);
  const answer = clashesBetween(parts).map((clash) => answerOf(clash, parts, names, key));
  if (out.json) out.answer(JSON.stringify(answer));
  else if (answer.length === 0) out.answer('No clash.');
  else {
    out.answer(
      table([
        ['bar', 'beat', 'kind', 'weight', 'what'],
        ...answer.map(({ bar, beat, kind, weight, text }) => [bar, beat, kind, weight, text]),
      ]),
    );
  }
  return 0;
}

function partsOfFile(
  file: string,
  isOneOfSeveral: boolean,
  problem: (text: string) => void,
): { parts: SoundingPart[]; key: Key | null } {
  const take = takeOfFile(file, problem);
  const split = splitTake(take);
  const key = harmonyOf(take, split).keys[0] ?? null;
  const parts = playingParts(split).map(({ part, index }): SoundingPart => {
    const { swing } = findFeel(take, partNotes(split, index));
    const name = isOneOfSeveral ? `${basename(file)}: ${part.name}` : part.name;
    return { name, clip: clipFromPart(take, split, index, key), swing };
  });
  return { parts, key };
}

function answerOf(clash: Clash, parts: readonly SoundingPart[], names: readonly string[], key: Key | null) {
  const { clip } = parts[clash.parts[0]]!;
  const { numerator, denominator } = meterAt(clip.timeline, clip.pickup);
  const beats = (clash.beat * denominator) / 4;
  return {
    bar: Math.floor(beats / numerator) + 1,
    beat: Math.round(100 * ((((beats % numerator) + numerator) % numerator) + 1)) / 100,
    kind: clash.kind,
    parts: clash.parts.map((k) => names[k]!),
    pitches: clash.pitches,
    weight: Math.round(1000 * clash.weight) / 1000,
    text: clashInWords(clash, names, key),
  };
}
