import fc from 'fast-check';
import { parseKey } from '../../src/core/music/key.ts';
import { steadyTimeline } from '../../src/core/music/timeline.ts';
import type { FeelShape } from '../../src/core/normalize/feel.ts';
import { GRIDS } from '../../src/core/normalize/grid.ts';
import { orderProblem } from '../../src/core/normalize/order.ts';
import type { Recipe, RecipeStep } from '../../src/core/normalize/recipe.ts';
import { compareClipNotes, type Clip } from '../../src/core/phrase/clip.ts';

const note = fc.record({
  tick: fc.nat(20_000),
  duration: fc.nat(3000),
  pitch: fc.nat(127),
  velocity: fc.integer({ min: 1, max: 127 }),
  release: fc.nat(127),
});

/** Pedal, modulation and bend. */
const control = fc.record(
  {
    tick: fc.nat(23_000),
    kind: fc.constantFrom(0xb0, 0xe0),
    data1: fc.constantFrom(64, 1, 11),
    data2: fc.nat(127),
  },
  { noNullPrototype: true },
);

export const clipArbitrary: fc.Arbitrary<Clip> = fc
  .record({
    notes: fc.array(note, { maxLength: 60 }),
    bpm: fc.integer({ min: 40, max: 220 }),
    meter: fc.constantFrom([4, 4], [3, 4], [6, 8], [7, 8]),
    ppq: fc.constantFrom(96, 120, 192, 384, 480, 960),
    role: fc.constantFrom('drums', 'bass', 'keys', 'lead' as const),
    key: fc.constantFrom('C', 'Dm', 'F#', 'Bbm'),
    controls: fc.array(control, { maxLength: 12 }).map((list) => list.sort((a, b) => a.tick - b.tick)),
  })
  .map(({ notes, bpm, meter, ppq, role, key, controls }) => ({
    timeline: steadyTimeline(ppq, bpm, meter[0], meter[1]),
    length: 24_000,
    notes: notes.map((n, origin) => ({ ...n, origin })).sort(compareClipNotes),
    controls,
    role,
    key: role === 'drums' ? null : parseKey(key)!,
    channel: 0,
    program: 0,
    locked: [],
    pickup: 0,
  }));

const share = fc.double({ min: 0, max: 1, noNaN: true });

const feelArbitrary: fc.Arbitrary<FeelShape> = fc.record({
  grid: fc.constantFrom('1/8', '1/16' as const),
  places: fc.uniqueArray(
    fc.record({
      place: fc.nat(15),
      by: fc.double({ min: -0.5, max: 0.5, noNaN: true }),
      accent: fc.double({ min: 0, max: 2, noNaN: true }),
    }),
    { maxLength: 16, selector: ({ place }) => place },
  ),
});

export const stepArbitrary: fc.Arbitrary<RecipeStep> = fc.oneof(
  fc.record({
    step: fc.constant('bars' as const),
    start: fc.integer({ min: 1, max: 6 }),
    count: fc.integer({ min: 1, max: 6 }),
    tail: fc.constantFrom('cut', 'keep', 'wrap' as const),
    early: fc.constantFrom('none', '1/32' as const),
    pickup: fc.nat(3),
  }),
  fc.record({ step: fc.constant('pickup' as const), mode: fc.constantFrom('keep', 'wrap', 'drop' as const) }),
  fc.record({
    step: fc.constant('switches' as const),
    pitches: fc.array(fc.nat(127), { maxLength: 20 }),
    mode: fc.constantFrom('lock', 'drop' as const),
  }),
  fc.record({
    step: fc.constant('drums' as const),
    pairs: fc.uniqueArray(fc.tuple(fc.nat(127), fc.nat(127)), { maxLength: 20, selector: ([from]) => from }),
  }),
  fc.record({
    step: fc.constant('feel' as const),
    feel: feelArbitrary,
    timing: share,
    accents: share,
  }),
  fc.record({
    step: fc.constant('edit' as const),
    in: fc.constantFrom('C', 'F#'),
    change: fc.array(
      fc.record(
        {
          note: fc.nat(60),
          beat: fc.double({ min: -4, max: 60, noNaN: true }),
          length: fc.double({ min: 0.01, max: 8, noNaN: true }),
          semitones: fc.integer({ min: -24, max: 24 }),
          velocity: fc.integer({ min: 1, max: 127 }),
          remove: fc.boolean(),
        },
        { requiredKeys: ['note'], noNullPrototype: true },
      ),
      { maxLength: 8 },
    ),
    add: fc.array(
      fc.record({
        beat: fc.double({ min: 0, max: 60, noNaN: true }),
        length: fc.double({ min: 0.01, max: 8, noNaN: true }),
        pitch: fc.nat(127),
        velocity: fc.integer({ min: 1, max: 127 }),
      }),
      { maxLength: 4 },
    ),
  }),
  fc.record({
    step: fc.constant('channel' as const),
    channel: fc.integer({ min: 1, max: 16 }),
    program: fc.integer({ min: 1, max: 128 }),
  }),
  fc.record({ step: fc.constant('name' as const), pattern: fc.constantFrom('{role} {key}', '{bars} bars') }),
  fc.record({
    step: fc.constant('quantize' as const),
    grid: fc.constantFrom(...GRIDS),
    strength: fc.double({ min: 0, max: 1, noNaN: true }),
    swing: fc.constantFrom('keep' as const, 0.5, 0.6),
    spread: fc.constantFrom('keep', 'flat' as const),
  }),
  fc.record({
    step: fc.constant('velocity' as const),
    loud: fc.double({ min: 0.1, max: 1, noNaN: true }),
    range: fc.double({ min: 0, max: 2, noNaN: true }),
    ghosts: fc.nat(40),
  }),
  fc.record({
    step: fc.constant('pedal' as const),
    mode: fc.constantFrom('keep', 'length', 'drop' as const),
  }),
  fc.record({ step: fc.constant('doubles' as const), ms: fc.nat(30) }),
  fc.record({ step: fc.constant('time' as const), factor: fc.constantFrom(0.5, 2 as const) }),
  fc.record({
    step: fc.constant('humanize' as const),
    ms: fc.nat(60),
    velocity: fc.nat(20),
    seed: fc.nat(1000),
  }),
  fc.record({
    step: fc.constant('controls' as const),
    mode: fc.constantFrom('keep', 'settle', 'drop' as const),
  }),
  fc.record({ step: fc.constant('length' as const), factor: fc.double({ min: 0.05, max: 8, noNaN: true }) }),
  fc.record({
    step: fc.constant('shift' as const),
    ms: fc.integer({ min: -200, max: 200 }),
    early: fc.constantFrom('hold', 'wrap', 'pickup' as const),
  }),
  fc.record({ step: fc.constant('transpose' as const), semitones: fc.integer({ min: -24, max: 24 }) }),
  fc.record({ step: fc.constant('transpose' as const), to: fc.constantFrom('C', 'A', 'Eb') }),
  fc.record({ step: fc.constant('register' as const), low: fc.constant(36), high: fc.constant(60) }),
  fc.record({ step: fc.constant('repeat' as const), bars: fc.integer({ min: 1, max: 12 }) }),
  fc.record(
    {
      step: fc.constant('through' as const),
      from: fc.constantFrom('C', 'Am | F', 'Dm7 G7 | C'),
      to: fc.constantFrom('C', 'Eb | Cm Ab', 'F#m7b5 | B7alt | Em/G'),
      way: fc.constantFrom('voices', 'block', 'scale' as const),
      strike: fc.boolean(),
    },
    { requiredKeys: ['step', 'from', 'to'] },
  ),
  fc.record({
    step: fc.constant('density' as const),
    level: fc.integer({ min: -3, max: 3 }),
    seed: fc.nat(100),
  }),
  fc.record({ step: fc.constant('octave' as const), by: fc.integer({ min: -3, max: 3 }) }),
  fc.record({
    step: fc.constant('layer' as const),
    octave: fc.integer({ min: -2, max: 2 }),
    level: fc.double({ min: 0.1, max: 2, noNaN: true }),
    lateMs: fc.nat(300),
    density: fc.integer({ min: -3, max: 3 }),
  }),
  fc.record({
    step: fc.constant('ending' as const),
    as: fc.constantFrom('ring', 'stop', 'slower' as const),
    bars: fc.integer({ min: 1, max: 2 }),
  }),
  fc.record({ step: fc.constant('resolution' as const), ppq: fc.constantFrom(96, 480, 960) }),
);

/** Recipes whose order makes sense. */
export const recipeArbitrary: fc.Arbitrary<Recipe> = fc
  .array(stepArbitrary, { maxLength: 8 })
  .filter((steps) => orderProblem(steps) === null)
  .map((steps) => ({ version: 1, steps }));

/** A bar of 4/4 at 120 BPM and 480 ticks with notes [tick, duration, pitch]. */
export function barOf(notes: readonly (readonly [number, number, number])[], more: Partial<Clip> = {}): Clip {
  return {
    timeline: steadyTimeline(480, 120),
    length: 1920,
    notes: notes.map(([tick, duration, pitch], origin) => ({
      tick,
      duration,
      pitch,
      velocity: 100,
      release: 64,
      origin,
    })),
    controls: [],
    role: 'keys',
    key: null,
    channel: 0,
    program: 73,
    locked: [],
    pickup: 0,
    ...more,
  };
}
