import type { Take } from '../core/capture/take.ts';
import { idOfTrack, playedOf } from '../core/exchange/pack-in.ts';
import {
  comparedWith,
  returnedWords,
  verdictOf,
  type Played,
  type Returned,
} from '../core/exchange/returned.ts';
import { GM_DRUM_CHANNEL } from '../core/midi/gm.ts';
import { bpmOf, tempoAt } from '../core/music/timeline.ts';
import { packIn } from '../server/compute/pack-in.ts';
import { LibraryError } from '../server/library/errors.ts';
import { takeOfFile } from './files.ts';
import { Refusal, type Output } from './output.ts';
import { packAt } from './pack-at.ts';

/** A phrase that left, as its pack has it. */
interface Sent {
  name: string;
  played: Played;
}

/** `returned FILE... --against PACK.zip|FOLDER`: which of what left has come back, and what was done to it. Returns the exit code. */
export function returnedCommand(files: readonly string[], against: string, out: Output): number {
  const sent = sentIn(against);
  const answers = files.flatMap((file) =>
    partsOf(takeOfFile(file, (text) => out.problem(text))).map((back) => answerFor(file, back, sent)),
  );
  if (out.json) out.answer(JSON.stringify(answers));
  else for (const { file, text } of answers) out.answer(`${file}: ${text}`);
  return 0;
}

/** Ticks a quarter note in which offsets are told. */
const TOLD_PPQ = 480;

function answerFor(file: string, back: Played, sent: readonly Sent[]) {
  let best: { name: string; returned: Returned } | null = null;
  for (const { name, played } of sent) {
    const returned = comparedWith(played, back);
    if (returned && (!best || returned.shared > best.returned.shared)) best = { name, returned };
  }
  const verdict = verdictOf(best?.returned ?? null);
  const found = verdict === 'new' ? null : best;
  const { offset = 0, extent: _, ...told } = found?.returned ?? NOTHING;
  return {
    ...{ file, of: found?.name ?? null, verdict, ...told },
    offsetTicks: Math.round(offset * TOLD_PPQ),
    text: returnedWords(found?.name ?? '', found?.returned ?? null),
  };
}

const NOTHING: Returned = {
  ...{ shared: 0, semitones: 0, tempoRatio: 1, offset: 0, lateMs: 0, moved: 0, added: 0, gone: 0 },
  ...{ velocityFactor: 1, extent: 'whole' },
};

/** The phrases of a pack. @throws Refusal where it is none, or names what it has not */
function sentIn(path: string): Sent[] {
  try {
    return packIn(packAt(path)).phrases.map(({ told, clip }) => {
      if (!clip) throw new Refusal(`${path}: its manifest names ${told.file}, which is not there.`);
      return { name: told.name, played: playedOf(clip, told.id) };
    });
  } catch (error) {
    if (error instanceof LibraryError) throw new Refusal(`${path}: ${error.message}`);
    throw error;
  }
}

/** What plays in a file: a part a track and channel. */
function partsOf(take: Take): Played[] {
  const { notes, timing } = take;
  const { ppq } = timing.timeline;
  const bpm = bpmOf(tempoAt(timing.timeline, 0).microseconds);
  const streams = new Map<string, number[]>();
  for (let i = 0; i < notes.length; i++) {
    const stream = `${notes.track[i]} ${notes.channel[i]}`;
    streams.set(stream, [...(streams.get(stream) ?? []), i]);
  }
  return [...streams.values()].map((held) => ({
    bpm,
    isDrums: notes.channel[held[0]!] === GM_DRUM_CHANNEL,
    id: idOfTrack(take, notes.track[held[0]!]!),
    notes: held.map((i) => ({
      ...{ at: notes.tick[i]! / ppq, length: notes.duration[i]! / ppq },
      ...{ pitch: notes.pitch[i]!, velocity: notes.velocity[i]! },
    })),
  }));
}
