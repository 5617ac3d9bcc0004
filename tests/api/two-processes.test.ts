import assert from 'node:assert/strict';
import { test } from 'node:test';
import { apiClient } from '../support/api.ts';
import { midiBytes, trackOf } from '../support/midi.ts';
import { startTestServer } from '../support/server.ts';

const onPostgres = process.env.TEST_DATABASE_URL !== undefined;

test(
  "two application processes on one PostgreSQL server see each other's work",
  { skip: onPostgres ? false : 'needs a PostgreSQL server' },
  async () => {
    const one = await startTestServer();
    const two = await startTestServer({ dataDirectory: one.dataDirectory }).catch(async (error: unknown) => {
      await one.remove();
      throw error;
    });
    try {
      const [first, second] = [apiClient(one.address), apiClient(two.address)];
      const bytes = midiBytes([
        trackOf([
          [0, 480, 60],
          [480, 480, 64],
        ]),
      ]);
      const [a, b] = await Promise.all([first.upload(bytes, 'a.mid'), second.upload(bytes, 'b.mid')]);
      assert.deepEqual(a.body.takeIds, b.body.takeIds);
      assert.deepEqual([a.body.isNew, b.body.isNew].sort(), [false, true]);
      const takeId = a.body.takeIds[0];
      await first.post(`/api/takes/${takeId}/moves`, {
        move: { move: 'rename', part: 'p1', name: 'From the first' },
      });
      const seen = (await second.get(`/api/takes/${takeId}`)).body;
      assert.deepEqual([seen.movesDone, seen.moves[0].name], [1, 'From the first']);
      const moves = Array.from({ length: 10 }, (_, i) =>
        (i % 2 ? first : second).post(`/api/takes/${takeId}/moves`, {
          move: { move: 'rename', part: 'p1', name: `n${i}` },
        }),
      );
      await Promise.all(moves);
      assert.equal((await first.get(`/api/takes/${takeId}`)).body.movesDone, 11);
    } finally {
      await two.stop();
      await one.remove();
    }
  },
);
