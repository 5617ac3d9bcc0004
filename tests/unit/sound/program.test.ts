import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { messagesDue, passSeconds, soundProgram, tickAt } from '../../../src/sound/program.ts';
import { barOf } from '../../support/clips.ts';

const play = { speed: 1, loop: true, fromTick: 0 };

const isProgram = ([status]: readonly number[]) => status! >> 4 === 0xc;

test('in a loop, the last note ends and the first begins at the same moment, in that order', () => {
  const program = soundProgram([
    {
      id: 'a',
      clip: barOf([
        [0, 480, 60],
        [1440, 480, 60],
      ]),
    },
  ]);
  const due = messagesDue(program, play, 1.9, 2.1);
  assert.deepEqual(
    due.map(({ seconds, bytes }) => [seconds, bytes[0]! & 0xf0]),
    [
      [2, 0x80],
      [2, 0x90],
    ],
  );
});

test('a note that outlasts the loop ends with it', () => {
  const program = soundProgram([{ id: 'a', clip: barOf([[1800, 5000, 60]]) }]);
  assert.equal(program.messages.at(-1)!.tick, 1920);
});

test('drums go to the tenth channel whatever channel they came on, others get their own', () => {
  const lanes = [
    { id: 'kit', clip: barOf([[0, 10, 36]], { role: 'drums', channel: 0 }) },
    ...Array.from({ length: 12 }, (_, i) => ({ id: `k${i}`, clip: barOf([[0, 10, 60]], { program: i }) })),
  ];
  const channels = soundProgram(lanes)
    .setUp.filter(isProgram)
    .map((bytes) => bytes[0]! & 15);
  assert.deepEqual(channels, [9, 0, 1, 2, 3, 4, 5, 6, 7, 8, 10, 11, 12]);
});

test('a sound of choice replaces every pitched program, not the kit', () => {
  const lanes = [
    { id: 'kit', clip: barOf([[0, 10, 36]], { role: 'drums' }) },
    { id: 'keys', clip: barOf([[0, 10, 60]]) },
  ];
  assert.deepEqual(
    soundProgram(lanes, 73)
      .setUp.filter(isProgram)
      .map((bytes) => bytes[1]),
    [0, 73],
  );
});

test('twice the speed is half the time; the position follows', () => {
  const program = soundProgram([{ id: 'a', clip: barOf([[960, 10, 60]]) }]);
  assert.equal(passSeconds(program, 2), 1);
  assert.equal(messagesDue(program, { ...play, speed: 2 }, 0, 1)[0]!.seconds, 0.5);
  assert.equal(tickAt(program, { ...play, speed: 2 }, 1.25), 480);
  assert.equal(tickAt(program, { ...play, loop: false }, 5), 1920);
});

test('starting in the middle leaves out what came before, once', () => {
  const program = soundProgram([
    {
      id: 'a',
      clip: barOf([
        [0, 10, 60],
        [960, 10, 62],
      ]),
    },
  ]);
  const on = messagesDue(program, { ...play, fromTick: 480 }, 0, 3).filter(
    ({ bytes }) => (bytes[0]! & 0xf0) === 0x90,
  );
  assert.deepEqual(
    on.map(({ seconds, bytes }) => [seconds, bytes[1]]),
    [
      [0.5, 62],
      [1.5, 60],
      [2.5, 62],
    ],
  );
});

test('however time is cut into windows, every message is due exactly once, at its time', () => {
  const notes = fc.array(fc.tuple(fc.nat(1919), fc.nat(3000), fc.nat(127)), { minLength: 1, maxLength: 20 });
  const cuts = fc.array(fc.double({ min: 0, max: 9, noNaN: true }), { maxLength: 30 });
  fc.assert(
    fc.property(notes, cuts, fc.constantFrom(0.5, 1, 1.37), fc.boolean(), (list, raw, speed, loop) => {
      const program = soundProgram([{ id: 'a', clip: barOf(list as [number, number, number][]) }]);
      const playing = { speed, loop, fromTick: 0 };
      const edges = [0, ...raw.sort((a, b) => a - b), 9];
      const pieces = edges.slice(1).flatMap((to, i) => messagesDue(program, playing, edges[i]!, to));
      assert.deepEqual(pieces, messagesDue(program, playing, 0, 9));
      assert.ok(pieces.every((message, i) => i === 0 || message.seconds >= pieces[i - 1]!.seconds));
    }),
  );
});

test('parts of other ticks, and with a pickup, begin bar one together', () => {
  const led = barOf([[1680, 240, 55], [1920, 480, 60]], { pickup: 1920, length: 3840 }); // prettier-ignore
  const fine = barOf([[0, 960, 64]], { timeline: { ...led.timeline, ppq: 960 }, length: 3840 });
  const program = soundProgram([
    { id: 'led', clip: led },
    { id: 'fine', clip: fine },
  ]);
  const begins = program.messages
    .filter(({ bytes }) => bytes[0]! >> 4 === 9)
    .map(({ tick, lane }) => [tick, lane]);
  assert.deepEqual(begins, [
    [1680, 'led'],
    [1920, 'led'],
    [1920, 'fine'],
  ]);
  assert.equal(program.length, 3840);
});
