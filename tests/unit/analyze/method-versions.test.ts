import assert from 'node:assert/strict';
import { readFileSync, writeFileSync } from 'node:fs';
import { test } from 'node:test';
import { analyzeTake } from '../../../src/core/analyze/analysis.ts';
import { READING_METHOD } from '../../../src/core/analyze/reading.ts';
import { takeFrom } from '../../../src/core/capture/take.ts';
import { chordSymbol } from '../../../src/core/music/chord.ts';
import { keyName } from '../../../src/core/music/key.ts';
import { SPLIT_METHOD } from '../../../src/core/split/base.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { band } from '../../../src/core/standins/band.ts';
import { performanceFile } from '../../../src/core/standins/performance.ts';
import { STAND_INS } from '../../../src/core/standins/stand-ins.ts';

/**
 * Old takes are told by the methods' versions what is heard otherwise today: whoever changes what is found counts the version up.
 * What was found when it was last counted is kept in a fixture; `WRITE_FIXTURES=1` writes it anew.
 */
const FIXTURE = new URL('../../fixtures/found-by-versions.json', import.meta.url);

const CHARTS = [
  'Eb | Cm Ab | Bb7sus4 Bb7 | Eb/G',
  'F#m7b5 | B7 | Em | Em | Am6 | D9 | Gmaj7 | Gmaj7',
  'D5 | D5 | C5 | D5',
  'G7 | G7 | G7 | G7 | C7 | C7 | G7 | G7 | D7 | C7 | G7 | D7',
];

interface Found {
  splitMethod: number;
  readingMethod: number;
  takes: Record<string, { parts: string; reading: string }>;
}

function foundToday(): Found {
  const charts = CHARTS.map((chart) => ({
    name: `${band.id}: ${chart}`,
    played: band.play({ ...band.defaults, chart }),
  }));
  const defaults = STAND_INS.map((one) => ({ name: one.id, played: one.play(one.defaults) }));
  const takes = Object.fromEntries(
    [...defaults, ...charts].map(({ name, played }) => {
      const take = takeFrom(performanceFile(played));
      const split = splitTake(take);
      const { keySpans, chords, loops, sections } = analyzeTake(take, split);
      const reading = [
        keySpans.map((span) => `${span.startBar} ${keyName(span)}`).join(', '),
        chords
          .map(({ bar, beat, chord }) => `${bar}.${beat} ${chord ? chordSymbol(chord, null) : '-'}`)
          .join(', '),
        loops.map(({ part, startBar, bars, repeats }) => `${part} ${startBar}+${bars}x${repeats}`).join(', '),
        sections.map(({ startBar, label }) => `${startBar} ${label}`).join(', '),
      ].join(' | ');
      return [name, { parts: split.parts.map(({ role }) => role).join(' '), reading }];
    }),
  );
  return { splitMethod: SPLIT_METHOD, readingMethod: READING_METHOD, takes };
}

test('methods that find otherwise than before have another version', () => {
  const today = foundToday();
  if (process.env.WRITE_FIXTURES) writeFileSync(FIXTURE, `${JSON.stringify(today, null, 2)}\n`);
  const before = JSON.parse(readFileSync(FIXTURE, 'utf8')) as Found;
  for (const [name, { parts, reading }] of Object.entries(today.takes)) {
    const then = before.takes[name];
    if (before.splitMethod === SPLIT_METHOD)
      assert.equal(
        parts,
        then?.parts,
        'count SPLIT_METHOD up (core/split/base.ts) and write the fixture anew',
      );
    if (before.readingMethod === READING_METHOD)
      assert.equal(
        reading,
        then?.reading,
        'count READING_METHOD up (core/analyze/reading.ts) and write the fixture anew',
      );
  }
  assert.deepEqual(before, today, 'write the fixture anew (WRITE_FIXTURES=1)');
});
