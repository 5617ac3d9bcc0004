import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { STREAM } from '../../src/core/capture/message-log.ts';
import { countLateness, createLateness, latenessFacts } from '../../src/devices/lateness.ts';
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
