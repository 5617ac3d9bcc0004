import type { Key } from '../music/key.ts';
import { spellPitchClass } from '../music/spelling.ts';
import { kitPiece } from '../midi/gm.ts';
import type { Clash, ClashKind } from './clashes.ts';

type Words = (clash: Clash, names: readonly [string, string], key: Key | null) => string;

const pitches = (clash: Clash, key: Key | null) =>
  clash.pitches.map((pitch) => spellPitchClass(pitch, key)).join(' and ');

const WORDS: Readonly<Record<ClashKind, Words>> = {
  thirds: (clash, [a, b], key) => `${pitches(clash, key)}: minor and major third at once in ${a} and ${b}`,
  semitone: (clash, [a, b], key) => `${pitches(clash, key)} a semitone apart in ${a} and ${b}`,
  eleventh: (clash, [a, b], key) => `${pitches(clash, key)}: an eleventh over a major third in ${a} and ${b}`,
  low: (clash, [a, b], key) => `${pitches(clash, key)} too close for so low in ${a} and ${b}`,
  'bass under': (_, [a, b]) => `${a} lies above ${b}`,
  'two basses': (_, [a, b]) => `${a} and ${b} are two basses at once`,
  register: (_, [a, b]) => `${a} and ${b} play in one register, mostly together`,
  'kick and bass': ({ by }, [a, b]) => `the kick of ${a} and ${b} are ${by} ms apart`,
  hit: ({ pitches: [pitch] }, [a, b]) => `${a} and ${b} both strike the ${kitPiece(pitch!)}`,
  swing: ({ by }, [a, b]) => `${a} and ${b} swing ${by} points apart`,
  change: ({ by }, [a, b]) => `${a} and ${b} change the chord ${by === 1 ? 'a beat' : `${by} beats`} apart`,
};

/** A clash in words, its parts by their names. */
export function clashInWords(clash: Clash, names: readonly string[], key: Key | null): string {
  const [a, b] = clash.parts;
  return WORDS[clash.kind](clash, [names[a]!, names[b]!], key);
}
