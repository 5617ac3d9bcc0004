import { groups, range } from 'd3-array';
import type { Take } from '../core/capture/take.ts';
import { idsOfTrack, playedOf } from '../core/exchange/pack-in.ts';
import {
  CAME_BACK,
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
    answersFor(partsOf(takeOfFile(file, (text) => out.problem(text))), sent).map((found) =>
      answerOf(file, found),
    ),
  );
  if (out.json) out.answer(JSON.stringify(answers));
  else for (const { file, text } of answers) out.answer(`${file}: ${text}`);
  return 0;
}

/** Ticks a quarter note in which offsets are told. */
const TOLD_PPQ = 480;

/** What is found of the parts of a file: each that a track says is in it, and of what is left, what it is nearest to. */
function answersFor(parts: readonly Part[], sent: readonly Sent[]): (Found | null)[] {
  const places = new Map<Sent, Part>();
  for (const one of sent) {
    const place = placeOf(one, parts);
    if (place) places.set(one, place);
  }
  return parts.flatMap((part) => {
    const inIt = sent.filter((one) => places.get(one) === part);
    if (inIt.length === 0) return [nearest(part, sent)];
    return inIt.map(({ name, played }) => {
      const returned = comparedWith(played, { ...part, id: played.id! }, { isMixture: inIt.length > 1 });
      return returned && { name, returned };
    });
  });
}

/** The part that a phrase is in, of a track that says it is of several: parts of a file with one track, or all on one channel. */
function placeOf({ played }: Sent, parts: readonly Part[]): Part | null {
  let best: { part: Part; shared: number } | null = null;
  for (const part of parts) {
    if (part.ids.length < 2 || !part.ids.includes(played.id!)) continue;
    const returned = comparedWith(played, { ...part, id: played.id! }, { isMixture: true });
    if (returned && returned.shared >= CAME_BACK && returned.shared > (best?.shared ?? 0))
      best = { part, shared: returned.shared };
  }
  return best?.part ?? null;
}

interface Found {
  name: string;
  returned: Returned;
}

/** What a part is nearest to; what its track says it is of is believed where the notes agree. */
function nearest(part: Part, sent: readonly Sent[]): Found | null {
  const said = part.id === null ? undefined : sent.find(({ played }) => played.id === part.id);
  const own = said && comparedWith(said.played, part);
  if (own && own.shared >= CAME_BACK) return { name: said.name, returned: own };
  let best: Found | null = null;
  for (const { name, played } of sent) {
    const returned = comparedWith(played, part);
    if (returned && (!best || returned.shared > best.returned.shared)) best = { name, returned };
  }
  return best;
}

function answerOf(file: string, best: Found | null) {
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

/** A part that came in, and the phrases that its track says it is of. */
type Part = Played & { ids: readonly string[] };

/** What plays in a file: a part a track and channel. */
function partsOf(take: Take): Part[] {
  const { notes, timing } = take;
  const { ppq } = timing.timeline;
  const bpm = bpmOf(tempoAt(timing.timeline, 0).microseconds);
  const streams = groups(range(notes.length), (i) => `${notes.track[i]} ${notes.channel[i]}`);
  return streams.map(([, held]) => ({
    bpm,
    isDrums: notes.channel[held[0]!] === GM_DRUM_CHANNEL,
    ...saidOf(idsOfTrack(take, notes.track[held[0]!]!)),
    notes: held.map((i) => ({
      ...{ at: notes.tick[i]! / ppq, length: notes.duration[i]! / ppq },
      ...{ pitch: notes.pitch[i]!, velocity: notes.velocity[i]! },
    })),
  }));
}

const saidOf = (ids: string[]) => ({ ids, id: ids.length === 1 ? ids[0]! : null });
