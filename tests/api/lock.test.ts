import assert from 'node:assert/strict';
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { test } from 'node:test';
import { sql } from 'drizzle-orm';
import { openLibrary } from '../../src/server/db/client.ts';
import { LibraryLockedError } from '../../src/server/db/lock.ts';
import { slowly } from '../support/slow.ts';
import { apiClient } from '../support/api.ts';
import { midiBytes, trackOf } from '../support/midi.ts';
import { startTestServer } from '../support/server.ts';
import { freePort } from '../../scripts/serve.mjs';

/** The lock guards PGlite's files; a PostgreSQL server does that by itself. */
const skip = process.env.TEST_DATABASE_URL ? 'only for the built-in database' : false;

test(
  'a second process on one library is refused with a sentence that names the first, or joins it',
  { skip },
  async () => {
    const server = await startTestServer();
    try {
      const { dataDirectory, address } = server;
      await assert.rejects(openLibrary({ dataDirectory }), (error) => {
        assert.ok(error instanceof LibraryLockedError);
        assert.match(
          error.message,
          new RegExp(`open in another process \\(${server.process.pid}, ${address}\\)`),
        );
        return true;
      });

      const port = String(await freePort());
      const second = spawn(process.execPath, ['dist/server/entry.mjs'], {
        env: { ...process.env, HOST: '127.0.0.1', PORT: port, DATA_DIR: dataDirectory },
        stdio: ['ignore', 'ignore', 'pipe'],
      });
      let said = '';
      second.stderr.on('data', (text) => (said += text));
      // A server opens its library with the first request.
      const asking = setInterval(
        () => void fetch(`http://127.0.0.1:${port}/api/status`).catch(() => {}),
        100,
      );
      const code = await new Promise((resolve) => second.once('exit', resolve));
      clearInterval(asking);
      assert.equal(code, 1);
      assert.match(said, /is open in another process/);

      await apiClient(address).upload(midiBytes([trackOf([[0, 480, 60]])]), 'one.mid');
      const joined = await openLibrary({ dataDirectory, join: true });
      const { rows } = (await joined.db.execute(sql`select count(*)::int as n from takes`)) as unknown as {
        rows: { n: number }[];
      };
      assert.equal(rows[0]!.n, 1);
      await joined.close();
    } finally {
      await server.remove();
    }
  },
);

test(
  'a killed process leaves no lock behind, and nothing it acknowledged is lost',
  slowly(skip),
  async () => {
    const server = await startTestServer();
    const api = apiClient(server.address);
    const { body } = await api.upload(midiBytes([trackOf([[0, 480, 60]])]), 'one.mid');
    server.process.kill('SIGKILL');
    await new Promise((resolve) => server.process.once('exit', resolve));
    const again = await startTestServer({ dataDirectory: server.dataDirectory });
    try {
      const take = await apiClient(again.address).get(`/api/takes/${body.takeIds[0]}`);
      assert.equal(take.status, 200);
    } finally {
      await again.remove();
    }
  },
);

test('a library whose path is too long for a socket opens all the same', { skip }, async () => {
  const base = mkdtempSync(join(tmpdir(), 'basket-test-'));
  const library = await openLibrary({ dataDirectory: join(base, 'a'.repeat(120)) });
  await library.db.execute(sql`select 1`);
  await library.close();
  rmSync(base, { recursive: true });
});
