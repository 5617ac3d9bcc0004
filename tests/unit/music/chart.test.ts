import assert from 'node:assert/strict';
import { test } from 'node:test';
import { ChartError, parseChart, type ChartChord } from '../../../src/core/music/chart.ts';

test('chords share the beats of their bar', () => {
  const chart = parseChart('| Dm | Gm7 A7/C# | % |', 4);
  assert.equal(chart.length, 3);
  const [{ quality, ...first }] = chart[0] as [ChartChord];
  assert.equal(quality.symbol, 'm');
  assert.deepEqual(first, { symbol: 'Dm', beat: 0, beats: 4, root: 2, tones: [2, 5, 9], bass: 2 });
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

const symbols = (text: string, beats = 4) =>
  parseChart(text, beats)
    .map((bar) => bar.map(({ symbol }) => symbol).join(' ') || 'N.C.')
    .join(' | ');

test('repeats are played, twice or as often as it says', () => {
  assert.equal(symbols('|: Dm | A7 :| Gm'), 'Dm | A7 | Dm | A7 | Gm');
  assert.equal(symbols('|: Dm | A7 :| x3'), 'Dm | A7 | Dm | A7 | Dm | A7');
  assert.equal(symbols('C | |: F :| x2 | G'), 'C | F | F | G');
  assert.equal(symbols('Dm | N.C. | Dm'), 'Dm | N.C. | Dm');
});

test('sections are played in the order of the form, each time they come', () => {
  assert.equal(symbols('A: Dm | A7; B: Gm C; form: A A B A'), 'Dm | A7 | Dm | A7 | Gm C | Dm | A7');
  assert.equal(symbols('Verse: Dm | A7\nBridge: Gm'), 'Dm | A7 | Gm');
  assert.throws(() => parseChart('A: Dm; form: A C', 4), /no such section/);
});

test('a sixth with a ninth is no slash, a bass is', () => {
  const [[sixNine, over]] = parseChart('C6/9 F/A', 4) as [ChartChord[]];
  assert.deepEqual([sixNine!.tones, sixNine!.bass], [[0, 4, 7, 9, 2], 0]);
  assert.deepEqual([over!.tones, over!.bass], [[5, 9, 0], 9]);
});

test('a symbol that is read in two ways is asked about', () => {
  assert.throws(
    () => parseChart('C | A2', 4),
    (error: ChartError) => {
      assert.deepEqual(error.unclear, { symbol: 'A2', meanings: ['Asus2', 'Aadd9'] });
      return /which is meant/.test(error.message);
    },
  );
});
