import { Chord, Note } from 'tonal';
import { parseKey } from '../src/core/music/key.ts';
import { steadyTimeline } from '../src/core/music/timeline.ts';
import { throughOthers } from '../src/core/normalize/through.ts';
import type { Clip } from '../src/core/phrase/clip.ts';
import { timeInTurn, type BenchResult } from './measure.ts';

/** Times a phrase goes through in a round. */
const ROUND = 20;

const FROM = 'C | Am | F | G | C | Am | Dm | G7';
const TO = 'Eb | Cm | Ab | Bb7 | Gm | Cm | Fm7 | Bb7';

/** Chords of four voices, struck six times a bar and a little loose: about 200 notes over eight bars. */
function phrase(): Clip {
  const chords = [[48, 60, 64, 67], [45, 60, 64, 69], [41, 60, 65, 69], [43, 59, 62, 67]]; // prettier-ignore
  const notes = Array.from({ length: 8 * 6 }, (_, stroke) => {
    const bar = Math.floor(stroke / 6);
    return chords[bar % 4]!.map((pitch, k) => ({
      tick: stroke * 320 + ((stroke * 7 + k) % 5),
      duration: 280,
      pitch,
      velocity: 80,
      release: 64,
      origin: stroke * 4 + k,
    }));
  }).flat();
  return {
    timeline: steadyTimeline(480, 100),
    length: 8 * 1920,
    pickup: 0,
    notes,
    controls: [],
    role: 'keys',
    key: parseKey('C')!,
    channel: 0,
    program: 0,
    locked: [],
  };
}

/**
 * A phrase of about 200 notes through eight other chords, voice by voice: what every arrow costs in the library. The reference
 * names the chords and moves the names of as many notes with tonal, which leads no voices.
 */
export function bench(): BenchResult {
  const clip = phrase();
  const names = clip.notes.map(({ pitch }) => Note.fromMidi(pitch));
  const symbols = `${FROM} | ${TO}`.split(' | ');
  console.log(`${clip.notes.length} notes through ${TO}`);
  const { ours, reference } = timeInTurn(
    () => {
      for (let i = 0; i < ROUND; i++) throughOthers(clip, { from: FROM, to: TO, way: 'voices', loop: true });
    },
    () => {
      for (let i = 0; i < ROUND; i++) {
        symbols.forEach((symbol) => Chord.get(symbol));
        names.forEach((name) => Note.transpose(name, '3m'));
      }
    },
  );
  return {
    bench: 'through',
    ours: ours / ROUND,
    reference: reference / ROUND,
    ratio: ours / reference,
    unit: 'ms',
    figures: { phraseMs: ours / ROUND },
  };
}
