import { readFileSync, writeFileSync } from 'node:fs';
import { basename, extname } from 'node:path';
import { harmonyOf } from '../core/analyze/analysis.ts';
import { outOf, readCard, type Card } from '../core/exchange/card.ts';
import type { HandOff, PhraseOut } from '../core/exchange/handoff.ts';
import { OUT } from '../core/exchange/out-options.ts';
import type { Key } from '../core/music/key.ts';
import { barStart } from '../core/music/timeline.ts';
import { HOUSE, houseRecipe } from '../core/normalize/house.ts';
import { transpose } from '../core/normalize/transpose.ts';
import { clipFromPart, isPitched, type Clip } from '../core/phrase/clip.ts';
import { DEFAULT_PATTERN } from '../core/phrase/naming.ts';
import { semitonesInto } from '../core/reuse/in-project.ts';
import { sha256Of } from '../server/checksum.ts';
import { compute, endThreads } from '../server/compute/pool.ts';
import { keyAsked } from './options.ts';
import { Refusal, type Output } from './output.ts';
import { changesOfTake, playingOfFile } from './opened-file.ts';

export interface PackOptions {
  out: string;
  title?: string;
  plain?: boolean;
  previews?: boolean;
  key?: string;
  card?: string;
}

type KeyMeant = 'captured' | 'kept' | Key;

/** `pack FILE... --out PACK.zip`: every part of the files as a phrase, in one ZIP. Returns the exit code. */
export async function packCommand(
  files: readonly string[],
  options: PackOptions,
  out: Output,
): Promise<number> {
  const started = performance.now();
  const key = keyMeant(options.key ?? 'captured');
  const card = options.card === undefined ? null : cardFrom(options.card);
  const way = card ? outOf(card) : OUT;
  const wantsPreviews = options.previews ?? card?.previews ?? false;
  const title = options.title?.trim() || basename(options.out, extname(options.out));
  const handOff: HandOff = {
    title,
    pattern: card?.pattern ?? DEFAULT_PATTERN,
    // The same files give the same bytes.
    madeAt: new Date(Date.UTC(2000, 0, 1)).toISOString(),
    layout: card?.layout ?? 'folders',
    out: { ...way, sounds: options.plain ? 'plain' : 'suggested' },
    card,
    ...{ recipient: null, library: null },
    phrases: files.flatMap((file) => phrasesOfFile(file, key, (text) => out.problem(text))),
  };
  try {
    const wanted = wantsPreviews ? { sums: true, beds: false } : null;
    const ready = await compute('readyToPack', handOff, wanted);
    const stopped = ready.checks.find(({ state }) => state === 'stop');
    if (stopped) throw new Refusal(`Nothing was written. ${stopped.text}`);
    const previews = await Promise.all(
      ready.sounding.map(async ({ path, midi }) => [path, await compute('previewOf', midi)] as const),
    );
    const checks = wantsPreviews ? await compute('handOffChecks', handOff, previews) : ready.checks;
    writeFileSync(options.out, await compute('packedHandOff', handOff, previews));
    const seconds = Math.round(performance.now() - started) / 1000;
    const { names } = ready;
    if (out.json) {
      const told = checks.map(({ check, state, place, text }) => ({ check, state, place, text }));
      out.answer(JSON.stringify({ out: options.out, files: names, checks: told, seconds }));
    } else {
      out.answer(`${options.out}: ${names.length} files, ${seconds} s`);
      for (const name of names) out.answer(`  ${name}`);
      for (const { state, text } of checks) if (state !== 'pass') out.problem(text);
    }
    return 0;
  } finally {
    await endThreads();
  }
}

/** A recipient card. @throws Refusal with what is wrong in it */
function cardFrom(file: string): Card {
  try {
    return readCard(JSON.parse(readFileSync(file, 'utf8')));
  } catch (error) {
    throw new Refusal(`${file} is no recipient card: ${(error as Error).message}`);
  }
}

function keyMeant(text: string): KeyMeant {
  if (text === 'captured' || text === 'kept') return text;
  return keyAsked(text, ', and neither "captured" nor "kept"')!;
}

/** Every part of a file that plays, from bar one on in whole bars; several sound together. */
function phrasesOfFile(file: string, key: KeyMeant, problem: (text: string) => void): PhraseOut[] {
  const { take, split, playing } = playingOfFile(file, problem);
  const { key: captured, bars, changes } = changesOfTake(take, harmonyOf(take, split));
  const sha256 = sha256Of(readFileSync(file));
  const name = basename(file, extname(file));
  return playing.map(({ part, index }): PhraseOut => {
    const clip = {
      ...clipFromPart(take, split, index, captured),
      length: barStart(take.timing.timeline, bars + 1),
    };
    const capturedKey = isPitched(clip) ? captured : null;
    const kept = keptClip(clip);
    return {
      id: `${sha256.slice(0, 16)} ${part.id}`,
      ...{ isKept: false, saysId: true },
      hash: null,
      name: playing.length === 1 ? name : `${name}, ${part.name}`,
      clip: key === 'captured' ? clip : key === 'kept' ? kept : inKey(clip, key),
      bars,
      tags: [],
      project: '',
      sheaf: playing.length > 1 ? { id: sha256, name } : null,
      source: { take: name, sha256, part: part.name, startBar: 1 },
      recipe: { version: 1, steps: [] },
      fitting: {},
      ...{ rights: '', contributor: '', purpose: null, parents: [] },
      changes: capturedKey ? changes : null,
      ...{ capturedKey, keptKey: kept.key },
    };
  });
}

/** A clip in the key that the house keeps its mode in. */
function keptClip(clip: Clip): Clip {
  const { steps } = houseRecipe(clip.role, { start: 1, count: 1 }, clip.key?.mode ?? null, HOUSE);
  const step = steps.find((one) => one.step === 'transpose');
  return step && clip.key ? transpose(clip, step).clip : clip;
}

function inKey(clip: Clip, key: Key): Clip {
  return clip.key && isPitched(clip)
    ? transpose(clip, { semitones: semitonesInto(clip.key, key) }).clip
    : clip;
}
