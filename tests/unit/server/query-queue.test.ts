import assert from 'node:assert/strict';
import { rmSync } from 'node:fs';
import { test } from 'node:test';
import fc from 'fast-check';
import pg from 'pg';
import { openLibrary } from '../../../src/server/db/client.ts';
import { readHolder } from '../../../src/server/db/lock.ts';
import { QueryQueue } from '../../../src/server/db/query-queue.ts';
import { emptyLibrary } from '../../support/server.ts';

const message = (type: string, client: number) => Uint8Array.of(type.charCodeAt(0), client);

test("no client's message comes between another's parse and sync, or begin and commit", async () => {
  const script = fc.array(fc.constantFrom('PBES', 'Q', 'PBDES', 'TPBESQU'), { minLength: 1, maxLength: 4 });
  await fc.assert(
    fc.asyncProperty(fc.array(script, { minLength: 2, maxLength: 4 }), fc.scheduler(), async (clients, s) => {
      let transaction = false;
      const ran: { client: number; type: string }[] = [];
      const queue = new QueryQueue({
        isInTransaction: () => transaction,
        runExclusive: (work) => work(),
        execProtocolRawStream: async (messages) => {
          await s.schedule(Promise.resolve());
          for (let at = 0; at < messages.length; at += 2) {
            const letter = String.fromCharCode(messages[at]!);
            // "T" stands for BEGIN and "U" for COMMIT, simple queries both.
            if (letter === 'T') transaction = true;
            if (letter === 'U') transaction = false;
            ran.push({ client: messages[at + 1]!, type: letter });
          }
        },
      });
      const work = clients.map(async (series, client) => {
        for (const letter of series.join('')) await queue.enqueue(client, message(letter, client), () => {});
      });
      await s.waitFor(Promise.all(work));
      let holder: number | null = null;
      let inTransaction = false;
      for (const { client, type } of ran) {
        assert.ok(holder === null || holder === client, JSON.stringify(ran));
        if (type === 'T') inTransaction = true;
        if (type === 'U') inTransaction = false;
        holder = 'PBDE'.includes(type) || inTransaction ? client : null;
      }
      assert.equal(ran.length, clients.flat().join('').length);
    }),
    { numRuns: 200 },
  );
});

test('what belongs to one answer is run as one, and answered at once', async () => {
  const ran: string[] = [];
  const queue = new QueryQueue({
    isInTransaction: () => false,
    runExclusive: (work) => work(),
    execProtocolRawStream: async (messages, { onRawData }) => {
      ran.push(String.fromCharCode(...messages.filter((_, k) => k % 2 === 0)));
      for (const letter of [1, 2, 3]) onRawData(Uint8Array.of(letter));
    },
  });
  const answers: number[][] = [];
  for (const letter of 'PBDES') await queue.enqueue(1, message(letter, 1), (data) => answers.push([...data]));
  assert.deepEqual(ran, ['PBDES']);
  assert.deepEqual(answers, [[1, 2, 3]]);
  // Who goes in the middle leaves nothing behind.
  await queue.enqueue(2, message('P', 2), () => {});
  queue.clearQueueForHandler(2);
  await queue.enqueue(2, message('S', 2), () => {});
  assert.deepEqual(ran, ['PBDES', 'S']);
});

test('sixteen clients at once, large values and small, each get their own answers', async () => {
  const folder = await emptyLibrary();
  const library = await openLibrary({ dataDirectory: folder });
  try {
    const { socketDirectory } = readHolder(folder)!;
    const pool = new pg.Pool({
      host: socketDirectory,
      port: 5432,
      user: 'postgres',
      database: 'postgres',
      max: 16,
    });
    await Promise.all(
      [...Array(200).keys()].map(async (n) => {
        // Large parameters come in pieces: that is when another client's message finds its way in between.
        const filler = Buffer.alloc(n % 4 === 0 ? 200_000 : 10, n);
        const few = await pool.query('select $1::int as one', [n]);
        const many = await pool.query('select $1::int as one, length($2::bytea) as size, $3::text as name', [
          n,
          filler,
          `n${n}`,
        ]);
        assert.deepEqual(
          [few.rows[0].one, many.rows[0]],
          [n, { one: n, size: filler.length, name: `n${n}` }],
        );
      }),
    );
    const gone = await pool.connect();
    await gone.query('begin');
    await gone.query('create table half (n int)');
    gone.release(new Error('gone in the middle of a transaction'));
    const after = await pool.query(`select to_regclass('half') as half`);
    assert.equal(after.rows[0].half, null);
    await pool.end();
  } finally {
    await library.close();
    rmSync(folder, { recursive: true, force: true });
  }
});
