import { roundedBpm } from '../core/music/timeline.ts';
import { takeFacts } from '../core/capture/facts.ts';
import { takeFrom } from '../core/capture/take.ts';
import { takesOfFile } from './files.ts';
import { ofEach, Refusal, table, type Output } from './output.ts';

/** `read FILE...`: what each file holds. Returns the exit code. */
export function readCommand(files: readonly string[], out: Output): number {
  return ofEach(files, out, (file) => {
    const takes = takesOfFile(file);
    // A pattern file is described as the one file it is.
    const take = takes.length === 1 ? takes[0]! : wholeFile(takes);
    const facts = takeFacts(take);
    const answer = { file, ...facts, ...(takes.length > 1 ? { patterns: takes.length } : {}) };
    return { answer, text: describe(file, facts) };
  });
}

function wholeFile(takes: ReturnType<typeof takesOfFile>) {
  const [first] = takes;
  if (!first) throw new Refusal('The file has no tracks.');
  const file = { ...first.file, format: 2 as const, tracks: takes.flatMap((take) => take.file.tracks) };
  return takeFrom(file, []);
}

function describe(file: string, facts: ReturnType<typeof takeFacts>): string {
  const tempo = facts.tempos[0] ? `${roundedBpm(facts.tempos[0].bpm)} BPM` : 'no tempo given';
  const meter = facts.meters[0]
    ? `${facts.meters[0].numerator}/${facts.meters[0].denominator}`
    : 'no meter given';
  return [
    file,
    `  format ${facts.format}, ${facts.tracks} tracks, ${facts.notes} notes, ${facts.bars} bars, ` +
      `${facts.seconds.toFixed(1)} s, ${tempo}, ${meter}`,
    table([
      ['  track', 'channel', 'program', 'notes', 'low', 'high', 'name'],
      ...facts.streams.map((s) => [`  ${s.track}`, s.channel, s.program, s.notes, s.low, s.high, s.name]),
    ]),
    ...facts.repairs.map(
      (repair) => `  repaired: track ${repair.track}, tick ${repair.tick}: ${repair.message}`,
    ),
  ].join('\n');
}
