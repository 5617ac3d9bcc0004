import { writeFileSync } from 'node:fs';
import { clipToMidi } from '../core/exchange/midi-out.ts';
import { BASS_WAYS, type BassWay } from '../core/harmonize/bass.ts';
import { bassClip } from '../core/harmonize/made-clips.ts';
import { writeMidiFile } from '../core/midi/write.ts';
import { keyOfChanges, readOrWhy } from '../core/through/sounding.ts';
import { bpmAsked, keyAsked } from './options.ts';
import { Refusal, type Output } from './output.ts';

export interface BassOptions {
  chart: string;
  way: string;
  bpm?: string;
  key?: string;
  seed?: string;
  out: string;
}

/** `bass --chart CHART --way roots|fifths|octaves|walking [--bpm 96] [--key KEY] [--seed 1] --out FILE.mid`. */
export function bassCommand({ chart, way, bpm, key, seed, out: file }: BassOptions, out: Output): number {
  const ways = BASS_WAYS.filter((one) => one !== 'kick');
  if (!(ways as string[]).includes(way)) throw new Refusal(`--way ${way}: there are ${ways.join(', ')}.`);
  const tempo = bpmAsked(bpm) ?? 100;
  const asked = keyAsked(key);
  const number = seed === undefined ? 1 : Number(seed);
  if (!Number.isInteger(number) || number < 0) throw new Refusal('--seed: a whole number from 0.');
  const changes = readOrWhy(chart, 4);
  if (typeof changes === 'string') throw new Refusal(`--chart: ${changes}`);
  const clip = bassClip(changes, {
    way: way as BassWay,
    key: asked ?? keyOfChanges(changes),
    bpm: tempo,
    meter: { numerator: 4, denominator: 4 },
    seed: number,
  });
  writeFileSync(file, writeMidiFile(clipToMidi(clip, 'Bass')));
  const pitches = clip.notes.map(({ pitch }) => pitch);
  const answer = { out: file, notes: pitches.length, low: Math.min(...pitches), high: Math.max(...pitches) };
  out.answer(
    out.json
      ? JSON.stringify(answer)
      : `${answer.notes} notes from ${answer.low} to ${answer.high}. Written: ${file}`,
  );
  return 0;
}
