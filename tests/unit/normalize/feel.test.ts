import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { putFeel, takeFeel } from '../../../src/core/normalize/feel.ts';
import { quantize } from '../../../src/core/normalize/quantize.ts';
import type { Clip } from '../../../src/core/phrase/clip.ts';
import { barOf } from '../../support/clips.ts';

/** Two bars of eighths on one drum, late by so many ticks on each place of the bar, the same in both. */
function eighths(late: readonly number[], velocities: readonly number[]): Clip {
  const notes = Array.from({ length: 16 }, (_, i): [number, number, number] => [
    i * 240 + late[i % 8]!,
    100,
    42,
  ]);
  const clip = barOf(notes, { length: 3840, role: 'drums' });
  return { ...clip, notes: clip.notes.map((note, i) => ({ ...note, velocity: velocities[i % 8]! })) };
}

const late = fc.array(fc.integer({ min: -50, max: 50 }), { minLength: 8, maxLength: 8 }).map((list) => {
  // Nothing is played before the first bar.
  const [first, ...rest] = list;
  return [Math.abs(first!), ...rest];
});
const velocities = fc.array(fc.integer({ min: 30, max: 120 }), { minLength: 8, maxLength: 8 });

test('a feel taken from a part and put on its straightened self gives the part back', () => {
  fc.assert(
    fc.property(late, velocities, (by, loud) => {
      const played = eighths(by, loud);
      const straight = quantize(
        { ...played, notes: played.notes.map((note) => ({ ...note, velocity: 80 })) },
        { grid: '1/8' },
      ).clip;
      const feel = takeFeel(played, '1/8');
      const { clip } = putFeel(straight, { feel, timing: 1, accents: 1 });
      clip.notes.forEach((note, i) => assert.ok(Math.abs(note.tick - played.notes[i]!.tick) <= 1));
      // Accents are told against the mean: as loud in proportion.
      const mean = loud.reduce((sum, one) => sum + one, 0) / 8;
      clip.notes.forEach((note, i) => {
        const wanted = Math.min(127, Math.max(1, (80 * loud[i % 8]!) / mean));
        assert.ok(Math.abs(note.velocity - wanted) <= 1, `${note.velocity} for ${wanted}`);
      });
    }),
  );
});

test('half the strength goes half the way', () => {
  const feel = takeFeel(eighths([0, 40, 0, 40, 0, 40, 0, 40], Array(8).fill(90)), '1/8');
  const straight = eighths(Array(8).fill(0), Array(8).fill(90));
  const { clip } = putFeel(straight, { feel, timing: 0.5 });
  assert.deepEqual(
    clip.notes.slice(0, 4).map(({ tick }) => tick),
    [0, 260, 480, 740],
  );
});

test('a place that the feel does not know is left, and a chord moves as one', () => {
  const feel = { grid: '1/8' as const, places: [{ place: 0, by: 0.1, accent: 1 }] };
  const chord = barOf([
    [0, 200, 60],
    [10, 200, 64],
    [20, 200, 67],
    [240, 200, 60],
  ]);
  assert.deepEqual(
    putFeel(chord, { feel }).clip.notes.map(({ tick }) => tick),
    [24, 34, 44, 240],
  );
});
