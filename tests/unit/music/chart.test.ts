import assert from 'node:assert/strict';
import { test } from 'node:test';
import { ChartError, parseChart } from '../../../src/core/music/chart.ts';

test('chords share the beats of their bar', () => {
  const chart = parseChart('| Dm | Gm7 A7/C# | % |', 4);
  assert.equal(chart.length, 3);
  assert.deepEqual(chart[0], [{ symbol: 'Dm', beat: 0, beats: 4, root: 2, tones: [2, 5, 9], bass: 2 }]);
  assert.deepEqual(
    chart[1]!.map(({ symbol, beat, beats, bass }) => [symbol, beat, beats, bass]),
    [
      ['Gm7', 0, 2, 7],
      ['A7/C#', 2, 2, 1],
    ],
  );
  assert.equal(chart[2], chart[1]);
});

test('what is no chart is refused with its bar', () => {
  assert.throws(
    () => parseChart('Dm | Xyz', 4),
    new ChartError('Bar 2: "Xyz" is not a chord symbol that is understood.'),
  );
  assert.throws(() => parseChart('Dm | | C', 4), ChartError);
  assert.throws(() => parseChart('%', 4), /first bar/);
  assert.throws(() => parseChart('C D E F', 3), /4 chords for 3 beats/);
});
