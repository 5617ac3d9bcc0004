import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import {
  comparedWith,
  returnedWords,
  verdictOf,
  type Played,
  type Returned,
} from '../core/exchange/returned.ts';
import { idInText } from '../core/exchange/leaving.ts';
import { MANIFEST_FORMAT, MANIFEST_VERSION } from '../core/exchange/manifest.ts';
import { readTakes, type Take } from '../core/capture/take.ts';
import { GM_DRUM_CHANNEL } from '../core/midi/gm.ts';
import { isMeta, META } from '../core/midi/smf.ts';
import { decodeText } from '../core/midi/text.ts';
import { bpmOf, tempoAt } from '../core/music/timeline.ts';
import { takeOfFile } from './files.ts';
import { Refusal, type Output } from './output.ts';

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

/** The phrases of a pack, by its manifest. @throws Refusal where it is none, or names what it has not */
function sentIn(pack: string): Sent[] {
  const read = readerOf(pack);
  const manifest = read('manifest.json');
  if (!manifest) throw new Refusal(`${pack}: there is no manifest.json in it: this is no pack of ours.`);
  let said: {
    format?: unknown;
    version?: unknown;
    phrases?: { file: string; name: string; id: string; role: string }[];
  };
  try {
    said = JSON.parse(new TextDecoder().decode(manifest)) as typeof said;
  } catch {
    throw new Refusal(`${pack}: its manifest.json cannot be read.`);
  }
  if (said.format !== MANIFEST_FORMAT) throw new Refusal(`${pack}: this is no pack of ours.`);
  if (!(Number(said.version) >= 1 && Number(said.version) <= MANIFEST_VERSION))
    throw new Refusal(`${pack}: it was packed by a later version (${String(said.version)}).`);
  return (said.phrases ?? []).map(({ file, name, id, role }) => {
    const bytes = read(file);
    if (!bytes) throw new Refusal(`${pack}: its manifest names ${file}, which is not there.`);
    const [take] = readTakes(bytes);
    const [played] = take ? partsOf(take) : [];
    return { name, played: { ...(played ?? EMPTY), id, isDrums: role === 'drums' || role === 'percussion' } };
  });
}

const EMPTY: Played = { notes: [], bpm: 120, isDrums: false };

/** Reads files of a pack by their names in it, wherever its own folder lies; what climbs out of it is not there. */
function readerOf(pack: string): (name: string) => Uint8Array | undefined {
  if (!existsSync(pack)) throw new Refusal(`${pack} is not there.`);
  const isInside = (name: string) => !name.startsWith('/') && !name.split(/[/\\]/).includes('..');
  if (statSync(pack).isDirectory()) {
    const root = rootIn(pack);
    return (name) => {
      const path = join(root, name);
      return isInside(name) && existsSync(path) ? readFileSync(path) : undefined;
    };
  }
  let files: Record<string, Uint8Array>;
  try {
    files = unzipSync(readFileSync(pack));
  } catch {
    throw new Refusal(`${pack}: this is no ZIP.`);
  }
  const manifest = Object.keys(files).find((name) => /^([^/]+\/)?manifest\.json$/.test(name));
  const root = manifest?.replace(/manifest\.json$/, '') ?? '';
  return (name) => (isInside(name) ? files[root + name] : undefined);
}

/** The phrase that a track says it is of; null where it says none, or several. */
function idIn({ file }: Take, track: number): string | null {
  const said = (file.tracks[track] ?? [])
    .filter((event) => isMeta(event, META.text))
    .flatMap(({ bytes }) => idInText(decodeText(bytes ?? new Uint8Array())) ?? []);
  return said.length === 1 ? said[0]! : null;
}

/** Where the manifest lies in a folder: in it, or in the one folder that a pack has of its own. */
function rootIn(folder: string): string {
  if (existsSync(join(folder, 'manifest.json'))) return folder;
  const inner = readdirSync(folder).find((name) => existsSync(join(folder, name, 'manifest.json')));
  return inner ? join(folder, inner) : folder;
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
    id: idIn(take, notes.track[held[0]!]!),
    notes: held.map((i) => ({
      ...{ at: notes.tick[i]! / ppq, length: notes.duration[i]! / ppq },
      ...{ pitch: notes.pitch[i]!, velocity: notes.velocity[i]! },
    })),
  }));
}
