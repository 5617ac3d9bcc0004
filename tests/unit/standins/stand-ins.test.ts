import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { takeFrom } from '../../../src/core/capture/take.ts';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { takeAccount } from '../../../src/core/analyze/account.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { arpeggiator } from '../../../src/core/standins/arpeggiator.ts';
import { BAND_STYLES } from '../../../src/core/standins/band-styles.ts';
import { band } from '../../../src/core/standins/band.ts';
import { chordPlayer, diatonicChord } from '../../../src/core/standins/chord-player.ts';
import { leastMovement } from '../../../src/core/standins/chords.ts';
import { onStrings, strummer } from '../../../src/core/standins/strummer.ts';
import {
  passFiles,
  performanceFile,
  performanceMessages,
  type Performance,
} from '../../../src/core/standins/performance.ts';
import type { Field, Held } from '../../../src/core/standins/stand-in.ts';
import { STAND_INS, type AnySettings } from '../../../src/core/standins/stand-ins.ts';

/** Any settings that a form allows. */
function anySettings(defaults: AnySettings, fields: readonly Field[]): fc.Arbitrary<AnySettings> {
  const values = Object.fromEntries(
    fields.flatMap((field): [string, fc.Arbitrary<unknown>][] => {
      if (field.kind === 'number')
        return [
          [
            field.name,
            fc.integer({
              min: field.min,
              max:
                Math.min(field.max, 12) < field.min
                  ? field.min
                  : Math.min(field.max, field.name === 'bars' ? 8 : field.max),
            }),
          ],
        ];
      if (field.kind === 'choice')
        return [[field.name, fc.constantFrom(...field.options.map(({ value }) => value))]];
      if (field.kind === 'switch') return [[field.name, fc.boolean()]];
      return [];
    }),
  );
  return fc.record(values, { noNullPrototype: true }).map((some) => ({ ...defaults, ...some }));
}

function accountOf(performance: Performance, chart?: unknown, parts = performance.parts.length) {
  const take = takeFrom(performanceFile(performance));
  const asked = {
    bars: performance.bars,
    parts,
    ...(typeof chart === 'string' ? { chart } : {}),
  };
  return takeAccount(take, splitTake(take), asked);
}

for (const standIn of STAND_INS) {
  test(`${standIn.title}: the same settings play the same, within what MIDI can say, and bring no warning`, () => {
    fc.assert(
      fc.property(anySettings(standIn.defaults, standIn.fields), (settings) => {
        const performance = standIn.play(settings);
        assert.deepEqual(
          writeMidiFile(performanceFile(standIn.play(settings))),
          writeMidiFile(performanceFile(performance)),
        );
        for (const { pitch, velocity, tick, length } of performance.parts.flatMap(({ notes }) => notes)) {
          assert.ok(
            pitch >= 0 && pitch <= 127 && velocity >= 1 && velocity <= 127 && tick >= 0 && length > 0,
          );
        }
        assert.deepEqual(accountOf(performance, settings.chart ?? settings.chord).findings, []);
      }),
      { numRuns: 60 },
    );
  });

  test(`${standIn.title}: the account tells each of its mishaps`, () => {
    const CODES = {
      drumChannel: 'drumChannel',
      oneTrack: 'oneTrack',
      pieces: 'pieces',
      lateStart: 'late',
      wrongThird: 'wrongChord',
      hungNote: 'hung',
      doubled: 'doubled',
      tailBars: 'tail',
      oneBar: 'oneBar',
      click: 'click',
      layered: 'layered',
    };
    for (const mishap of standIn.mishaps) {
      for (const seed of [1, 2, 3]) {
        const settings: AnySettings = { ...standIn.defaults, seed };
        if (mishap === 'wrongThird' && 'chart' in settings) settings.chart = 'Asus2 | Dsus4 | A | E';
        if (mishap === 'wrongThird' && 'chord' in settings) settings.chord = 'Asus2';
        const clean = standIn.play(settings);
        const { findings } = accountOf(
          { ...standIn.play(settings, [mishap]), bars: clean.bars },
          settings.chart ?? settings.chord,
          clean.parts.length,
        );
        const codes = findings.map(({ code }) => code);
        assert.ok(
          codes.includes(CODES[mishap] as (typeof codes)[number]),
          `${mishap}, seed ${seed}: ${codes.join() || 'none'}`,
        );
      }
    }
  });
}

test('what a stand-in sends live is what it exports, note by note', () => {
  for (const standIn of STAND_INS) {
    const performance = standIn.play(standIn.defaults);
    const messages = performanceMessages(performance);
    const begun = messages
      .filter(({ bytes }) => bytes[0]! >> 4 === 9)
      .map(({ ms, bytes }) => `${ms.toFixed(3)} ${bytes[1]} ${bytes[2]}`);
    const tickMs = 60_000 / performance.bpm / 480;
    const written = performance.parts.flatMap(({ notes }) =>
      notes.map((note) => `${(note.tick * tickMs).toFixed(3)} ${note.pitch} ${note.velocity}`),
    );
    assert.deepEqual(begun.sort(), written.sort());
    assert.ok(messages.every(({ ms }, i) => i === 0 || ms >= messages[i - 1]!.ms));
  }
});

test('the band has styles in 4/4, 3/4, 6/8 and swing, plays choruses, and leaves parts out', () => {
  const styles = Object.values(BAND_STYLES);
  assert.ok(styles.length >= 6);
  const meters = new Set(styles.map(({ meter }) => `${meter.numerator}/${meter.denominator}`));
  assert.deepEqual([...meters].sort(), ['3/4', '4/4', '6/8']);
  assert.ok(styles.some(({ swing }) => swing > 0.6));
  const settings = { ...band.defaults, chart: 'C | G', choruses: 3, parts: ['Bass', 'Kit'] };
  const performance = band.play(settings);
  assert.equal(performance.bars, 6);
  assert.deepEqual(
    performance.parts.map(({ name }) => name),
    ['Kit', 'Bass'],
  );
});

test('passes: one file an instrument, all from bar one', () => {
  const passes = passFiles(band.play(band.defaults));
  assert.equal(passes.length, 5);
  const together = passes.reduce((sum, { midi }) => sum + takeFrom(midi).notes.length, 0);
  assert.equal(together, takeFrom(performanceFile(band.play(band.defaults))).notes.length);
});

test('diatonic sevenths and ninths as harmony books give them (common practice)', () => {
  const c = { tonic: 0, mode: 'major' } as const;
  assert.deepEqual(diatonicChord(c, 5, 4), [7, 11, 2, 5]);
  assert.deepEqual(diatonicChord(c, 2, 5), [2, 5, 9, 0, 4]);
  assert.deepEqual(diatonicChord({ tonic: 9, mode: 'minor' }, 1, 3), [9, 0, 4]);
});

test('voices move least: C to F keeps C and moves two voices by a step or two', () => {
  const c = leastMovement([0, 4, 7], [], 60);
  const f = leastMovement([5, 9, 0], c, 60);
  const moved = f.map((pitch) => Math.min(...c.map((old) => Math.abs(old - pitch))));
  assert.ok(moved.reduce((sum, by) => sum + by, 0) <= 3, `${c} to ${f}`);
});

test('an A minor chord on guitar strings in first position (common practice: x02210)', () => {
  assert.deepEqual(onStrings({ tones: [9, 0, 4], bass: 9 }), [45, 52, 57, 60, 64]);
});

test('a strum sounds its strings one after the other, and its key switches lie apart from them', () => {
  const { notes } = strummer.play(strummer.defaults).parts[0]!;
  const switches = notes.filter(({ pitch }) => pitch < 36);
  assert.ok(switches.length > 8);
  assert.ok(
    Math.min(...notes.filter(({ pitch }) => pitch >= 36).map(({ pitch }) => pitch)) -
      Math.max(...switches.map(({ pitch }) => pitch)) >=
      12,
  );
});

const heldKeys: fc.Arbitrary<Held[]> = fc
  .array(
    fc.record({
      tick: fc.integer({ min: 0, max: 4000 }),
      length: fc.integer({ min: 1, max: 3000 }),
      pitch: fc.integer({ min: 48, max: 72 }),
      velocity: fc.integer({ min: 1, max: 127 }),
    }),
    { maxLength: 8 },
  )
  .map((list) =>
    list
      .map(({ tick, length, pitch, velocity }) => ({ tick, end: tick + length, pitch, velocity }))
      .sort((a, b) => a.tick - b.tick),
  );

for (const standIn of [arpeggiator, chordPlayer]) {
  test(`${standIn.title}: what it answers up to a moment depends on nothing that happens later`, () => {
    fc.assert(
      fc.property(heldKeys, fc.integer({ min: 0, max: 5000 }), (held, now) => {
        const known = held
          .filter(({ tick }) => tick < now)
          .map((note) => ({ ...note, end: note.end! < now ? note.end : null }));
        const respond = (keys: Held[], until: number) =>
          (standIn.respond as (keys: Held[], settings: unknown, until: number) => unknown[])(
            keys,
            standIn.defaults,
            until,
          );
        assert.deepEqual(respond(known, now), respond(held, now));
      }),
    );
  });
}

test('two held keys give many notes; letting go ends them', () => {
  const held = [60, 67].map((pitch) => ({ tick: 0, end: 1920, pitch, velocity: 90 }));
  const notes = arpeggiator.respond!(held, arpeggiator.defaults, 4000);
  assert.equal(notes.length, 16);
  assert.deepEqual(
    notes.slice(0, 5).map(({ pitch }) => pitch),
    [60, 67, 72, 79, 60],
  );
  const orders = (order: string) =>
    arpeggiator.respond!(held, { ...arpeggiator.defaults, order, octaves: 1 }, 480).map(({ pitch }) => pitch);
  assert.deepEqual(orders('down'), [67, 60, 67, 60]);
  assert.deepEqual(orders('random'), orders('random'));
});
