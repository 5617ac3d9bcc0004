import assert from 'node:assert/strict';
import { readdirSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import { setTimeout as delay } from 'node:timers/promises';
import { sql } from 'drizzle-orm';
import { openLibrary } from '../../../src/server/db/client.ts';
import { emptyLibrary } from '../../support/server.ts';

test("PGlite's log stays small however much is written while it runs, and small when it is closed", async () => {
  const dataDirectory = await emptyLibrary();
  const log = join(dataDirectory, 'database', 'pg_wal');
  const megabytes = () =>
    readdirSync(log).reduce((sum, name) => sum + statSync(join(log, name)).size, 0) / 2 ** 20;
  const library = await openLibrary({ dataDirectory });
  try {
    await library.db.execute(sql`create table filled (id int primary key, words text)`);
    // 240 MB of log: without checkpoints it is as large as that.
    for (let k = 0; k < 8; k++) {
      await library.db.execute(
        sql`insert into filled select g, repeat(md5(g::text), 20) from generate_series(${k * 30_000}::int, ${(k + 1) * 30_000 - 1}::int) g`,
      );
      await delay(200);
    }
    await delay(2500);
    assert.ok(megabytes() <= 144, `${megabytes()} MB`);
  } finally {
    await library.close();
  }
  assert.ok(megabytes() <= 96, `${megabytes()} MB`);
  rmSync(dataDirectory, { recursive: true, force: true });
});
