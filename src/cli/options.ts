import { parseKey, type Key } from '../core/music/key.ts';
import { Refusal } from './output.ts';

/** A key as it is asked for; undefined where none is. @throws Refusal where it is none */
export function keyAsked(text: string | undefined, more = ''): Key | undefined {
  if (text === undefined) return undefined;
  const key = parseKey(text);
  if (!key) throw new Refusal(`--key: "${text}" is not a key${more}.`);
  return key;
}

/** A tempo as it is asked for, in BPM; undefined where none is. @throws Refusal where it is none */
export function bpmAsked(text: string | undefined): number | undefined {
  if (text === undefined) return undefined;
  const bpm = Number(text);
  if (!(bpm >= 20 && bpm <= 400)) throw new Refusal('--bpm: a tempo is 20 to 400 BPM.');
  return bpm;
}
