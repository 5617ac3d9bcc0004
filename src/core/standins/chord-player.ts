import { MODE_STEPS, MODES, parseKey, type Key } from '../music/key.ts';
import { pitchClass } from '../music/pitch.ts';
import { forceOf, RHYTHMS, strokesOfSteps } from '../music/rhythm.ts';
import { leastMovement } from './chords.ts';
import { makeHand } from './hand.ts';
import { withMishaps, type Mishap } from './mishaps.ts';
import { PPQ, SIXTEENTH, type Performance, type Played } from './performance.ts';
import { seededRandom } from '../random.ts';
import { choices, HAND_FIELDS, type CommonSettings, type Held, type StandIn } from './stand-in.ts';

/** Degrees of the scale, a chord each, a bar each. */
const PROGRESSIONS = [
  '1 5 6 4',
  '1 4 5 1',
  '6 4 1 5',
  '2 5 1 1',
  '1 6 2 5',
  '1 6 4 5',
  '1 7 6 5',
  '1 3 4 5',
  '4 5 3 6',
  '1 4 1 5 1 4 5 1',
  '6 2 5 1 4 7 3 6',
  '1 5 6 3 4 1 4 5',
];

/** Chord tones stacked in thirds. */
const STACKS: Record<string, number> = { triads: 3, sevenths: 4, ninths: 5 };

export interface ChordPlayerSettings extends CommonSettings {
  key: string;
  progression: string;
  stack: string;
  /** The last chord of every four from the parallel mode. */
  borrowed: boolean;
  rhythm: string;
  octave: number;
  bars: number;
  program: number;
}

function keyOf(settings: Pick<ChordPlayerSettings, 'key'>): Key {
  return parseKey(settings.key) ?? { tonic: 0, mode: 'major' };
}

/** Pitch classes of the chord on a degree (from 1), root first. */
export function diatonicChord(key: Key, degree: number, tones: number): number[] {
  const scale = MODE_STEPS[key.mode];
  return Array.from({ length: tones }, (_, i) => pitchClass(key.tonic + scale[(degree - 1 + 2 * i) % 7]!));
}

function parallel(key: Key): Key {
  return { tonic: key.tonic, mode: key.mode === 'minor' ? 'major' : 'minor' };
}

/** The notes of one chord over a bar's rhythm, from a tick on. */
function inRhythm(rhythm: string, pitches: readonly number[], from: number): Played[] {
  const notes: Played[] = [];
  for (const { step, length, mark } of strokesOfSteps(rhythm)) {
    for (const pitch of pitches) {
      notes.push({
        tick: from + step * SIXTEENTH,
        length: length * SIXTEENTH * 0.92,
        pitch,
        velocity: forceOf(mark) - 6,
      });
    }
  }
  return notes;
}

/** Plays diatonic and borrowed chords of a key, inverted so that voices move least. */
export const chordPlayer: StandIn<ChordPlayerSettings> = {
  id: 'chord-player',
  title: 'Chord player',
  about: 'Plays a progression in a key, or the chord of each key that is held.',
  defaults: {
    bpm: 100,
    seed: 1,
    looseness: 8,
    key: 'C',
    progression: PROGRESSIONS[0]!,
    stack: 'sevenths',
    borrowed: false,
    rhythm: 'three three two',
    octave: 4,
    bars: 8,
    program: 4,
  },
  fields: [
    { name: 'key', label: 'Key', kind: 'text', hint: `C, Dm, F lydian (${MODES.join(', ')})` },
    { name: 'progression', label: 'Degrees', kind: 'choice', options: choices(PROGRESSIONS) },
    { name: 'stack', label: 'Chords', kind: 'choice', options: choices(Object.keys(STACKS)) },
    { name: 'borrowed', label: 'Every fourth chord borrowed', kind: 'switch' },
    { name: 'rhythm', label: 'Rhythm', kind: 'choice', options: choices(Object.keys(RHYTHMS)) },
    { name: 'octave', label: 'Octave', kind: 'number', min: 2, max: 6 },
    { name: 'bars', label: 'Bars', kind: 'number', min: 1, max: 64 },
    ...HAND_FIELDS,
  ],
  mishaps: ['lateStart', 'hungNote', 'doubled', 'tailBars', 'oneBar', 'click', 'layered'],
  play(settings, mishaps: readonly Mishap[] = []): Performance {
    const key = keyOf(settings);
    const rhythm = RHYTHMS[settings.rhythm] ?? RHYTHMS.held!;
    const bar = rhythm.length * SIXTEENTH;
    const degrees = settings.progression.split(' ').map(Number);
    const random = seededRandom(settings.seed);
    const center = (settings.octave + 1) * 12 + 2;
    const hand = makeHand({ ...settings, swing: 0.5 });
    const notes: Played[] = [];
    const held: Played[] = [];
    let before: number[] = [];
    for (let index = 0; index < settings.bars; index++) {
      const degree = degrees[index % degrees.length]!;
      const from = settings.borrowed && index % 4 === 3 ? parallel(key) : key;
      const tones = diatonicChord(from, degree, STACKS[settings.stack] ?? 3);
      before = leastMovement(tones, before, center);
      // Once in a while a hand leaves the middle out.
      const pitches = random() < 0.08 ? before.filter((_, i) => i !== 1) : before;
      notes.push(...inRhythm(rhythm, pitches, index * bar));
      held.push({ tick: index * bar, length: bar * 0.98, pitch: 48 + tones[0]!, velocity: 90 });
    }
    return withMishaps(
      {
        title: 'Chord player',
        bpm: settings.bpm,
        meter: { numerator: rhythm.length / 4, denominator: 4 },
        bars: settings.bars,
        parts: [{ name: 'Chords', channel: 0, program: settings.program, notes: notes.map(hand) }],
        input: { name: 'Keys held', channel: 0, program: null, notes: held },
      },
      mishaps,
      settings.seed,
    );
  },
  respond(held: readonly Held[], settings, until) {
    const key = keyOf(settings);
    const rhythm = RHYTHMS[settings.rhythm] ?? RHYTHMS.held!;
    const center = (settings.octave + 1) * 12 + 2;
    const scale = MODE_STEPS[key.mode].map((step) => pitchClass(key.tonic + step));
    const notes: Played[] = [];
    for (let step = 0; step * SIXTEENTH < until; step++) {
      const tick = step * SIXTEENTH;
      const mark = rhythm[step % rhythm.length]!;
      // A key that has just gone down sounds at the next step whatever the rhythm says there.
      const down = held.filter((note) => note.tick <= tick && (note.end === null || note.end > tick));
      const fresh = down.some((note) => note.tick > tick - SIXTEENTH);
      const newest = down.at(-1);
      if (!newest || !(fresh || /[Xxo]/.test(mark))) continue;
      const degree = scale.indexOf(pitchClass(newest.pitch)) + 1;
      if (degree === 0) continue;
      const tones = diatonicChord(key, degree, STACKS[settings.stack] ?? 3);
      for (const pitch of leastMovement(tones, [], center)) {
        notes.push({ tick, length: PPQ / 2, pitch, velocity: newest.velocity });
      }
    }
    return notes;
  },
};
