import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { clockTimes } from '../../../src/core/capture/clock.ts';
import type { WireMessage } from '../../../src/core/midi/message.ts';
import {
  hearMessage,
  messagesUntil,
  startPlaying,
  stopPlaying,
  switchOn,
} from '../../../src/core/standins/live.ts';
import { performanceMessages } from '../../../src/core/standins/performance.ts';
import { STAND_INS, standInById } from '../../../src/core/standins/stand-ins.ts';

const notes = (messages: WireMessage[]) =>
  messages
    .filter(({ bytes }) => bytes[0]! < 0xf0)
    .map(({ ms, bytes }) => ({ ms, bytes: [...bytes].join(' ') }));

/** Asks at irregular moments, as a worker's timer does. */
function playedAtMoments(
  live: ReturnType<typeof switchOn>,
  steps: number[],
  from: number,
  to: number,
): WireMessage[] {
  const all: WireMessage[] = [];
  for (let now = from, i = 0; now < to; now += steps[i++ % steps.length]!)
    all.push(...messagesUntil(live, now).played);
  return all;
}

for (const standIn of STAND_INS) {
  test(`${standIn.title}: by its own clock it sends its schedule, whenever it is asked`, () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 40 }), { minLength: 1, maxLength: 5 }), (steps) => {
        const live = switchOn(standIn, standIn.defaults, [], false);
        startPlaying(live, 1000);
        const all = playedAtMoments(live, steps, 1000, 60_000);
        const schedule = performanceMessages(standIn.play(standIn.defaults)).map(({ ms, bytes }) => ({
          ms: ms + 1000,
          bytes: [...bytes].join(' '),
        }));
        const sent = notes(all);
        assert.equal(sent.length, schedule.length);
        const order = (a: { ms: number; bytes: string }, b: { ms: number; bytes: string }) =>
          a.ms - b.ms || a.bytes.localeCompare(b.bytes);
        sent.sort(order);
        schedule.sort(order).forEach((wanted, i) => assert.ok(Math.abs(sent[i]!.ms - wanted.ms) < 0.01));
        assert.equal(all[0]!.bytes[0], 0xfa);
        assert.equal(all.at(-1)!.bytes[0], 0xfc);
      }),
      { numRuns: 10 },
    );
  });

  test(`${standIn.title}: following another's clock it keeps its place in every beat`, () => {
    const bpm = standIn.defaults.bpm;
    const live = switchOn(standIn, standIn.defaults, [], false);
    hearMessage(live, { ms: 499, bytes: [0xfa] });
    // A tenth slower than it would play by itself.
    const slower = bpm * 0.9;
    const all: WireMessage[] = [];
    for (let now = 500; now < 70_000; now += 25) {
      for (const ms of clockTimes(500, slower, now === 500 ? 0 : now + 100, now + 125))
        hearMessage(live, { ms, bytes: [0xf8] });
      all.push(...messagesUntil(live, now).played);
    }
    const wanted = performanceMessages(standIn.play(standIn.defaults)).map(({ ms }) => 500 + ms / 0.9);
    const sent = notes(all)
      .map(({ ms }) => ms)
      .sort((a, b) => a - b);
    assert.equal(sent.length, wanted.length);
    wanted
      .sort((a, b) => a - b)
      .forEach((ms, i) => assert.ok(Math.abs(sent[i]! - ms) < 1, `${sent[i]} for ${ms}`));
  });
}

test('stopping ends what sounds', () => {
  const live = switchOn(standInById('band'), standInById('band').defaults, [], false);
  startPlaying(live, 0);
  const sent = [...messagesUntil(live, 3000).played, ...stopPlaying(live, 3000)];
  const sounding = new Map<string, number>();
  for (const { bytes } of sent) {
    const [status = 0, pitch, velocity = 0] = bytes;
    const key = `${status & 15} ${pitch}`;
    if (status >> 4 === 9 && velocity > 0) sounding.set(key, 1);
    else if (status >> 4 === 8) sounding.delete(key);
  }
  assert.equal(sounding.size, 0);
  assert.deepEqual(messagesUntil(live, 9000).played, []);
});

test('the arpeggiator answers held keys on the clock: two keys, many notes, all ended', () => {
  const arp = standInById('arpeggiator');
  const live = switchOn(arp, { ...arp.defaults, bpm: 120 }, [], true);
  for (const pitch of [60, 64]) hearMessage(live, { ms: 1000, bytes: [0x90, pitch, 90] });
  const all: WireMessage[] = [];
  for (let now = 1000; now < 3000; now += 5) {
    if (now === 2000) for (const pitch of [60, 64]) hearMessage(live, { ms: 2000, bytes: [0x80, pitch, 0] });
    all.push(...messagesUntil(live, now).played);
  }
  const begins = notes(all).filter(({ bytes }) => bytes.startsWith('144'));
  const ends = notes(all).filter(({ bytes }) => bytes.startsWith('128'));
  assert.deepEqual(
    begins.map(({ ms }) => Math.round(ms)),
    [1000, 1125, 1250, 1375, 1500, 1625, 1750, 1875],
  );
  assert.equal(ends.length, begins.length);
});
