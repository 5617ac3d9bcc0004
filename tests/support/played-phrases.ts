import { parseChart } from '../../src/core/music/chart.ts';
import { chordTones, type ChordName } from '../../src/core/music/chord.ts';
import { MODE_STEPS, type Key } from '../../src/core/music/key.ts';
import { steadyTimeline } from '../../src/core/music/timeline.ts';
import { compareClipNotes, type Clip, type ClipNote } from '../../src/core/phrase/clip.ts';
import { seededRandom } from '../../src/core/random.ts';
import type { Role } from '../../src/core/split/roles.ts';

/** Roles that are played below, each in its own way. */
export const PLAYED_ROLES = [
  'bass',
  'keys',
  'guitar',
  'pad',
  'strings',
  'brass',
  'lead',
  'arpeggio',
  'reeds',
] as const;

const CENTER: Partial<Record<Role, number>> = { bass: 40, guitar: 52, lead: 74, arpeggio: 67, reeds: 69 };

type Add = (tick: number, duration: number, pitch: number) => void;

/**
 * A phrase over a chart as a seed plays it: strummed or struck chords, broken ones, a walking bass, a tune by steps and
 * leaps with notes outside of the key now and then, a little loose in time. 480 ticks a quarter, 4/4.
 */
export function playedPhrase(role: Role, chart: string, key: Key, seed: number): Clip {
  const random = seededRandom(seed);
  const bars = parseChart(chart, 4);
  const notes: Omit<ClipNote, 'origin'>[] = [];
  const add: Add = (tick, duration, pitch) =>
    notes.push({
      tick: Math.max(0, Math.round(tick + (random() - 0.5) * 12)),
      duration: Math.round(duration),
      pitch,
      velocity: 60 + Math.floor(random() * 50),
      release: 64,
    });
  bars.forEach((bar, k) => {
    for (const chord of bar) {
      const stretch = { from: k * 1920 + chord.beat * 480, beats: chord.beats };
      playChord(role, chord, stretch, key, random, add);
    }
  });
  return {
    timeline: steadyTimeline(480, 80 + (seed % 60)),
    length: bars.length * 1920,
    notes: notes.map((note, origin) => ({ ...note, origin })).sort(compareClipNotes),
    controls: [],
    role,
    key,
    channel: 0,
    program: 0,
    locked: [],
    pickup: 0,
  };
}

function playChord(
  role: Role,
  chord: ChordName,
  { from, beats }: { from: number; beats: number },
  key: Key,
  random: () => number,
  add: Add,
): void {
  const center = CENTER[role] ?? 60;
  const close = chordTones(chord)
    .map((pc) => center - 6 + ((pc - center + 126) % 12))
    .sort((a, b) => a - b);
  if (role === 'lead' || role === 'reeds' || role === 'bass') {
    const scale = MODE_STEPS[key.mode].map((step) => (key.tonic + step) % 12);
    let pitch = close[0]!;
    for (let at = 0; at < beats * 2; at += random() < 0.5 ? 1 : 2) {
      const tones = random() < 0.6 ? chordTones(chord) : scale;
      const next = pitch + Math.round((random() - 0.5) * 8);
      pitch =
        [0, 1, -1, 2, -2].map((by) => next + by).find((one) => tones.includes((one + 120) % 12)) ?? next;
      if (at === 0 && role === 'bass') pitch = 28 + ((chord.bass - 28 + 120) % 12);
      if (random() < 0.05) pitch++;
      pitch = Math.min(center + 14, Math.max(center - 12, pitch));
      add(from + at * 240, 220, pitch);
    }
  } else if (role === 'arpeggio') {
    for (let at = 0; at < beats * 4; at++) {
      const octave = Math.floor(at / close.length) % 2;
      add(from + at * 120, 110, close[at % close.length]! + 12 * octave);
    }
  } else {
    const held = role === 'pad' || role === 'strings' || role === 'brass';
    const spread = role === 'guitar' ? 8 : 0;
    for (let at = 0; at < beats; at += held ? beats : random() < 0.4 ? 2 : 1)
      close.forEach((pitch, k) => add(from + at * 480 + k * spread, held ? beats * 470 : 300, pitch));
  }
}
