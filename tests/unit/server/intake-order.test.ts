import assert from 'node:assert/strict';
import { test } from 'node:test';
import { takeRead } from '../../../src/server/jobs/intake.ts';

type Window = Parameters<typeof takeRead>[0];

/** Files in a row, by when each was read, in milliseconds; null for one that is still being read. */
const windowOf = (readAt: readonly (number | null)[]) =>
  readAt.map((at, position) => ({
    item: { position },
    ...(at === null ? {} : { answer: { kind: 'refused', reason: '' }, readAt: at }),
  })) as unknown as Window;

const positions = (taken: ReturnType<typeof takeRead>) => taken.map(({ item }) => item.position);

test('files are stored in their order: what was read waits for what stands before it', () => {
  const window = windowOf([10_000, null, 9_000]);
  assert.deepEqual(positions(takeRead(window, 10_500)), [0]);
  assert.deepEqual(
    window.map(({ item }) => item.position),
    [1, 2],
  );
});

test('however long a thread takes to start, nothing is passed over before something has waited for it', () => {
  assert.deepEqual(positions(takeRead(windowOf([null, null]), 60_000)), []);
  assert.deepEqual(positions(takeRead(windowOf([null, 59_500]), 60_000)), []);
});

test('a slow one is passed over by those it keeps waiting, and by those before the last of them', () => {
  const window = windowOf([null, 9_900, null, 5_000, null, 9_900]);
  assert.deepEqual(positions(takeRead(window, 10_000)), [1, 3]);
  assert.deepEqual(positions(takeRead(window, 12_000)), [5]);
});
