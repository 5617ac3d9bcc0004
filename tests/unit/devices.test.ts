import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { STREAM } from '../../src/core/capture/message-log.ts';
import { countLateness, createLateness, latenessFacts } from '../../src/devices/lateness.ts';
import { echoShare } from '../../src/core/capture/echo.ts';
import { steadyBpm } from '../../src/devices/incoming-tempo.ts';
import { createMemory, lastPlayed, MEMORY_MS, remember } from '../../src/devices/memory.ts';

test('lateness: median, 95th percentile and most, within half a millisecond of the sorted list', () => {
  fc.assert(
    fc.property(
      fc.array(fc.double({ min: 0, max: 900, noNaN: true }), { minLength: 1, maxLength: 300 }),
      (list) => {
        const lateness = createLateness();
        for (const ms of list) countLateness(lateness, ms);
        const sorted = [...list].sort((a, b) => a - b);
        const { median, p95, most } = latenessFacts(lateness)!;
        const at = (share: number) => sorted[Math.ceil(share * sorted.length) - 1]!;
        assert.ok(Math.abs(median - at(0.5)) <= 0.56, `${median} ${at(0.5)}`);
        assert.ok(Math.abs(p95 - at(0.95)) <= 0.56);
        assert.ok(Math.abs(most - sorted.at(-1)!) <= 0.06);
      },
    ),
  );
  assert.equal(latenessFacts(createLateness()), undefined);
});

const note = (ms: number) => [
  { ms, bytes: [0x90, 60, 90] },
  { ms: ms + 100, bytes: [0x80, 60, 64] },
];

test('the memory gives what was played since the last pause, whether a clock ran or not', () => {
  const memory = createMemory();
  const play = (ms: number) => note(ms).forEach((message) => remember(memory, message, 0, STREAM.played));
  play(0);
  play(500);
  for (let ms = 600; ms < 9000; ms += 20) remember(memory, { ms, bytes: [0xf8] }, 0, STREAM.played);
  play(9000);
  play(9500);
  const last = lastPlayed(memory)!;
  assert.deepEqual([last.notes, last.fromMs], [2, 9000]);
});

test('what is older than five minutes is forgotten, what is younger is not', () => {
  const memory = createMemory();
  for (let ms = 0; ms <= MEMORY_MS * 2; ms += 1000)
    note(ms).forEach((message) => remember(memory, message, 0, STREAM.played));
  const last = lastPlayed(memory)!;
  assert.ok(last.fromMs <= MEMORY_MS, String(last.fromMs));
  assert.ok(last.fromMs >= MEMORY_MS - 25_000, String(last.fromMs));
});

test('a memory of a clock alone, or of nothing, holds nothing to take', () => {
  const memory = createMemory();
  assert.equal(lastPlayed(memory), null);
  for (let ms = 0; ms < 1000; ms += 20) remember(memory, { ms, bytes: [0xf8] }, 0, STREAM.played);
  assert.equal(lastPlayed(memory), null);
});

test('what was played under a running clock comes with it, from its start on, so that its bars are known', () => {
  const memory = createMemory();
  const put = (ms: number, ...bytes: number[]) => remember(memory, { ms, bytes }, 0, STREAM.played);
  note(0).forEach((message) => remember(memory, message, 0, STREAM.played));
  put(9000, 0xfa);
  for (let n = 0; n < 200; n++) put(9000 + n * 20, 0xf8);
  note(9000.5).forEach((message) => remember(memory, message, 0, STREAM.played));
  note(9960).forEach((message) => remember(memory, message, 0, STREAM.played));
  const last = lastPlayed(memory)!;
  assert.equal(last.hasClock, true);
  assert.equal(last.notes, 2);
  const statuses = [...last.log.status.subarray(0, last.log.length)];
  assert.equal(statuses.filter((status) => status === 0x90).length, 2, 'not what came before the pause');
  assert.equal(statuses.filter((status) => status === 0xf8).length, 200);
});

test('the tempo of a clock: 24 a quarter note (MIDI 1.0), steady or none', () => {
  const even = (bpm: number, count = 193) => Array.from({ length: count }, (_, n) => (n * 60_000) / bpm / 24);
  fc.assert(
    fc.property(fc.double({ min: 30, max: 300, noNaN: true }), (bpm) =>
      assert.ok(Math.abs(steadyBpm(even(bpm))! - bpm) < 0.01),
    ),
  );
  const jump = [...even(120, 97), ...even(90, 97).map((ms) => ms + 2000)];
  assert.equal(steadyBpm(jump), null, 'a clock that jumps has no tempo');
  assert.equal(steadyBpm([0, 20]), null);
});

test('an echo is what comes back at once with the same pitch and velocity; an answer is none', () => {
  const sent = Array.from({ length: 16 }, (_, k) => ({ ms: k * 200, pitch: 60 + (k % 5), velocity: 80 }));
  const late = (ms: number, change = {}) => sent.map((note) => ({ ...note, ms: note.ms + ms, ...change }));
  assert.equal(echoShare(sent, late(4)), 1);
  assert.equal(echoShare(sent, late(60)), 0);
  assert.equal(echoShare(sent, late(4, { velocity: 81 })), 0);
  assert.equal(echoShare(sent, late(4).slice(0, 8)), 0.5);
  assert.equal(echoShare([], []), 0);
});
