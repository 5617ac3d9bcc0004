import assert from 'node:assert/strict';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, utimesSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { after, test } from 'node:test';
import { gunzipSync, gzipSync } from 'node:zlib';
import { openLibrary } from '../../src/server/db/client.ts';
import { originals } from '../../src/server/db/schema.ts';
import { LibraryError } from '../../src/server/library/errors.ts';
import { restore } from '../../src/server/library/keeping/backup.ts';
import { slowly } from '../support/slow.ts';
import { apiClient } from '../support/api.ts';
import { cli } from '../support/cli.ts';
import { tune } from '../support/midi.ts';
import { databaseFor, emptyLibrary, startTestServer } from '../support/server.ts';
import { until } from '../support/until.ts';

/** Backups of other versions, and backups made to hurt: what is restored is checked before anything is written. */

const OLDER = 'tests/fixtures/library-of-schema-6.backup';

interface Line {
  table?: string;
  row?: Record<string, unknown>;
  [key: string]: unknown;
}

const lines = gunzipSync(readFileSync(OLDER))
  .toString()
  .trim()
  .split('\n')
  .map((line) => JSON.parse(line) as Line);

/** A backup with its lines changed, written to a file beside a library. */
function written(folder: string, change: (lines: Line[]) => (Line | string)[]): string {
  const path = join(folder, 'changed.backup');
  const text = change(structuredClone(lines)).map((line) =>
    typeof line === 'string' ? line : JSON.stringify(line),
  );
  writeFileSync(path, gzipSync(`${text.join('\n')}\n`));
  return path;
}

const rowOf = (all: Line[], table: string) => all.find((line) => line.table === table)!.row!;

/** One empty library that every one of these backups is refused by: opening it takes longer than refusing. */
const folder = await emptyLibrary();
const library = await openLibrary({
  dataDirectory: folder,
  databaseUrl: (await databaseFor(folder)).DATABASE_URL,
});
after(async () => {
  await library.close();
  rmSync(folder, { recursive: true, force: true });
});

async function refused(change: (lines: Line[]) => (Line | string)[], sentence: RegExp): Promise<void> {
  await assert.rejects(restore(library, written(folder, change)), (error) => {
    assert.ok(error instanceof LibraryError, String(error));
    assert.match(error.message, sentence);
    return true;
  });
  // All or nothing: the next is told that it is no backup, not that the library holds something.
  assert.equal(await library.db.$count(originals), 0);
}

test(
  'a backup of an older version is restored whole: nothing is lost, and what it did not say is said by its meaning',
  slowly(),
  async () => {
    const folder = await emptyLibrary();
    const restored = await cli(folder, 'restore', OLDER);
    const count = (table: string) => lines.filter((line) => line.table === table).length;
    // A phrase is three rows now: what it is found by, what it is made of, what it is compared by.
    const rows = lines.length - 1 + 2 * count('phrases');
    assert.deepEqual([restored.status, restored.answer?.rows], [0, rows], restored.stderr);
    const server = await startTestServer({ dataDirectory: folder });
    try {
      const api = apiClient(server.address);
      assert.equal((await api.get('/api/takes?limit=1000')).body.total, count('takes'));
      const { baskets } = (await api.get('/api/baskets')).body;
      assert.equal(baskets.length, count('baskets'));
      for (const { id } of baskets as { id: string }[]) {
        const was = lines.find((line) => line.table === 'baskets' && line.row!.id === id)!.row!;
        const { out } = (await api.get(`/api/baskets/${id}`)).body;
        assert.equal(out.key, was.in_project_key ? 'project' : 'captured');
        assert.equal((await api.get(`/api/baskets/${id}/pack`)).status, 200);
      }
      const kept = lines.filter((line) => line.table === 'phrases' && line.row!.state === 'kept');
      const found = (await api.get('/api/phrases')).body;
      assert.equal(found.total, kept.length);
      for (const { id } of found.phrases as { id: string }[]) {
        const was = kept.find((line) => line.row!.id === id)!.row!;
        const { clip, recipe } = (await api.get(`/api/phrases/${id}`)).body;
        assert.deepEqual([clip.notes.length, recipe], [was.note_count, was.recipe]);
      }
      // What it did not know is found in time, phrase by phrase.
      await until(
        'every phrase is read anew',
        async () => (await api.get('/api/status')).body.unmarked === 0,
      );
      for (const { id } of found.phrases as { id: string }[])
        assert.ok(Array.isArray((await api.get(`/api/phrases/${id}`)).body.changes));
      const [take] = (await api.get('/api/takes?limit=1')).body.takes;
      assert.equal((await api.get(`/api/takes/${take.id}`)).body.revision, 0);
    } finally {
      await server.remove();
    }
  },
);

test('a checksum in it is not a path: nothing is written outside the library', async () => {
  const evil = '../../../../../../../../tmp/basket-was-here';
  await refused((all) => {
    const original = rowOf(all, 'originals');
    for (const line of all)
      if (line.row && line.row.sha256 === original.sha256 && line.table === 'takes') line.row.sha256 = evil;
    original.sha256 = evil;
    return all;
  }, /a checksum is not that of its bytes/);
  assert.ok(!existsSync('/tmp/basket-was-here'));
});

test('bytes that are not those of their checksum are refused', () =>
  refused((all) => {
    rowOf(all, 'originals').bytes = `\\x${Buffer.from('other bytes').toString('hex')}`;
    return all;
  }, /a checksum is not that of its bytes/));

test("a take's input that is no checksum is refused", () =>
  refused((all) => {
    rowOf(all, 'takes').capture = { input: '../../etc/passwd' };
    return all;
  }, /a checksum is none/));

test('an id that is none, a table that is none, a column that is none, and a number that is text are refused with their line', async () => {
  await refused((all) => {
    rowOf(all, 'takes').id = '../x';
    return all;
  }, /Line \d+ of the backup: "id" of "takes" is not what it should be\. Nothing was restored/);
  await refused(
    (all) => [...all, { table: 'pg_authid', row: {} }],
    /Line \d+ of the backup: there is no table "pg_authid"/,
  );
  await refused((all) => {
    rowOf(all, 'takes')['name"; drop table takes; --'] = 1;
    return all;
  }, /"takes" has no "name/);
  await refused((all) => {
    rowOf(all, 'phrases').bars = 'many';
    return all;
  }, /"bars" of "phrases" is not what it should be/);
  await refused((all) => {
    delete rowOf(all, 'takes').name;
    return all;
  }, /"name" of "takes" is missing/);
});

test('a newer version says so, a version that is none is no backup, and half a line restores nothing', async () => {
  await refused(
    (all) => [{ ...all[0]!, schema: 999 }, ...all.slice(1)],
    /written by a newer version .*schema 999/,
  );
  await refused((all) => [{ ...all[0]!, schema: 2 }, ...all.slice(1)], /written by an older version/);
  await refused((all) => [{ ...all[0]!, version: 7 }, ...all.slice(1)], /is not a backup/);
  await refused((all) => [...all.slice(0, 40), '{"table":"takes","row":{"id'], /is not a backup/);
});

test('the command line says it in a sentence; the library takes the next backup as if nothing had been', async () => {
  const folder = await emptyLibrary();
  try {
    const half = written(folder, (all) => [...all.slice(0, 40), '{"table":"takes","row":{"id']);
    const result = await cli(folder, 'restore', half);
    assert.equal(result.status, 1, `restored: ${JSON.stringify(result.answer)}`);
    assert.match(result.stderr, /is not a backup/);
    assert.doesNotMatch(result.stderr, /\n\s+at /);
    assert.equal((await cli(folder, 'restore', OLDER)).status, 0);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
});

test(
  "files that wait elsewhere stay their owners': their rows come back without them",
  slowly(),
  async () => {
    const folder = await emptyLibrary();
    try {
      const path = written(folder, (all) => {
        for (const line of all)
          if (line.table === 'job_items') Object.assign(line.row!, { path: '/etc/passwd', state: 'waiting' });
        for (const line of all) if (line.table === 'jobs') line.row!.state = 'running';
        return all;
      });
      assert.equal((await cli(folder, 'restore', path)).status, 0);
      const server = await startTestServer({ dataDirectory: folder });
      try {
        const api = apiClient(server.address);
        const [intake] = (await api.get('/api/jobs')).body.intakes;
        const { state, items } = await api.intakeEnd(intake.id);
        assert.equal(state, 'done');
        assert.deepEqual(
          [
            ...new Set(
              items.map((item: { state: string; reason: string }) => `${item.state}: ${item.reason}`),
            ),
          ],
          ['refused: It was not in the backup.'],
        );
      } finally {
        await server.stop();
      }
    } finally {
      rmSync(folder, { recursive: true, force: true });
    }
  },
);

test(
  'what a killed process left behind is gone at the next start; what is known and what others have put there stays',
  slowly(),
  async () => {
    const server = await startTestServer();
    const api = apiClient(server.address);
    const bytes = tune(1);
    await api.upload(bytes, 'kept.mid');
    await server.stop();
    const originals = join(server.dataDirectory, 'originals');
    const spool = join(server.dataDirectory, 'intake');
    const kept = createHash('sha256').update(bytes).digest('hex');
    const left = [
      join(originals, `${'a'.repeat(64)}.1234.part`),
      join(spool, '00000000-0000-4000-8000-000000000001', 'b0', 'file.mid'),
    ];
    mkdirSync(join(spool, '00000000-0000-4000-8000-000000000001', 'b0'), { recursive: true });
    for (const path of left) writeFileSync(path, 'half');
    const longAgo = new Date(Date.now() - 3_600_000);
    for (const path of [...left, join(spool, '00000000-0000-4000-8000-000000000001')])
      utimesSync(path, longAgo, longAgo);
    writeFileSync(join(originals, 'read me.txt'), 'a note of somebody');
    const again = await startTestServer({ dataDirectory: server.dataDirectory });
    try {
      for (const path of left) assert.ok(!existsSync(path), path);
      assert.ok(existsSync(join(originals, kept)), 'an original');
      assert.ok(existsSync(join(originals, 'read me.txt')), 'what is not ours');
      assert.deepEqual(readFileSync(join(originals, kept)), Buffer.from(bytes));
      assert.deepEqual(existsSync(spool) ? readdirSync(spool) : [], []);
    } finally {
      await again.remove();
    }
  },
);

test('notes beside originals that are no notes are passed by when a library is rebuilt; its bytes come back', async () => {
  const server = await startTestServer();
  await apiClient(server.address).upload(tune(2), 'kept.mid', { source: 'Quay box' });
  await server.stop();
  const folder = await emptyLibrary();
  try {
    const from = join(server.dataDirectory, 'originals');
    const to = join(folder, 'originals');
    mkdirSync(to, { recursive: true });
    for (const name of readdirSync(from)) {
      const isNote = !/^[0-9a-f]{64}$/.test(name);
      const hurt = JSON.stringify({
        fileName: '../../../../tmp/x',
        name: 5,
        inputOf: '../..',
        asked: 'many',
      });
      writeFileSync(join(to, name), isNote ? hurt : readFileSync(join(from, name)));
    }
    const rebuilt = await cli(folder, 'rebuild');
    assert.deepEqual([rebuilt.status, rebuilt.answer.taken], [0, 1], rebuilt.stderr);
  } finally {
    await server.remove();
    rmSync(folder, { recursive: true, force: true });
  }
});
