import assert from 'node:assert/strict';
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { test } from 'node:test';
import { sql } from 'drizzle-orm';
import { openLibrary } from '../../src/server/db/client.ts';
import { fillLibrary } from '../../src/server/demo/fill.ts';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { bandFile } from '../../src/core/standins/band.ts';
import { slowly } from '../support/slow.ts';
import { apiClient, assertProblem } from '../support/api.ts';
import { cli } from '../support/cli.ts';
import { databaseFor, demoLibrary, emptyLibrary, startTestServer } from '../support/server.ts';

const onPostgres = process.env.TEST_DATABASE_URL !== undefined;

const song = (seed: number) =>
  writeMidiFile(bandFile({ chart: 'Dm | Gm | A7 | Dm', style: 'river', bpm: 96, seed, title: 'Ferry' }));

test(
  'backed up while it is open, restored into an empty library: all the same; rebuilt from originals where the database is gone',
  slowly(),
  async () => {
    const server = await startTestServer({ demo: true });
    const restoredDirectory = await emptyLibrary();
    const rebuiltDirectory = await emptyLibrary();
    try {
      const file = join(restoredDirectory, 'library.backup');
      const backup = await cli(server.dataDirectory, 'backup', file);
      assert.equal(backup.status, 0, backup.stderr);
      const restored = await cli(restoredDirectory, 'restore', file);
      assert.deepEqual([restored.status, restored.answer.rows], [0, backup.answer.rows]);
      const again = await cli(restoredDirectory, 'restore', file);
      assert.equal(again.status, 1);
      assert.match(again.stderr, /into an empty library only/);

      const copy = await startTestServer({ dataDirectory: restoredDirectory });
      const [one, two] = [apiClient(server.address), apiClient(copy.address)];
      for (const path of [
        '/api/takes',
        '/api/phrases',
        '/api/phrases/facets',
        '/api/baskets',
        '/api/projects',
        '/api/phrases/drafts',
        '/api/comps',
        '/api/sweeps',
      ]) {
        assert.deepEqual((await two.get(path)).body, (await one.get(path)).body, path);
      }
      const { total, takes } = (await one.get('/api/takes?limit=1000')).body;
      const { total: aside } = (await one.get('/api/takes?filter=aside')).body;
      const [take] = takes;
      assert.deepEqual(
        (await two.get(`/api/takes/${take.id}/file`)).body,
        (await one.get(`/api/takes/${take.id}/file`)).body,
      );
      await copy.stop();

      execFileSync('cp', ['-r', join(server.dataDirectory, 'originals'), rebuiltDirectory]);
      writeFileSync(join(rebuiltDirectory, 'originals', 'f'.repeat(64)), 'not what it is named by');
      const rebuilt = await cli(rebuiltDirectory, 'rebuild');
      assert.equal(rebuilt.status, 1);
      assert.match(rebuilt.stderr, /f{64} is damaged/);
      assert.equal(rebuilt.answer.taken, total + aside);
      const fresh = await startTestServer({ dataDirectory: rebuiltDirectory });
      // What was set aside is known to the database alone.
      const names = async (api: ReturnType<typeof apiClient>) => {
        const lists = [
          await api.get('/api/takes?limit=1000'),
          await api.get('/api/takes?limit=1000&filter=aside'),
        ];
        return lists
          .flatMap(({ body }) => body.takes)
          .map((row: { name: string; source: string }) => `${row.name}, ${row.source}`)
          .sort();
      };
      assert.deepEqual(await names(apiClient(fresh.address)), await names(one));
      await fresh.stop();
    } finally {
      await server.remove();
      for (const folder of [restoredDirectory, rebuiltDirectory])
        rmSync(folder, { recursive: true, force: true });
    }
  },
);

test('a file that is no backup is refused with a sentence and leaves the library empty', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'basket-test-'));
  const file = join(folder, 'letter.txt');
  writeFileSync(file, 'a letter');
  const refused = await cli(folder, 'restore', file);
  assert.equal(refused.status, 1);
  assert.match(refused.stderr, /is not a backup/);
  assert.doesNotMatch(refused.stderr, /\n\s+at /);
  rmSync(folder, { recursive: true, force: true });
});

/** A file system of its own, so small that it fills up; null where mounting is not allowed. */
function smallDisk(
  megabytes: number,
): { folder: string; mount: (options: string) => void; remove: () => void } | null {
  const folder = mkdtempSync(join(tmpdir(), 'basket-test-'));
  const mounted = spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${megabytes}m`, 'tmpfs', folder]);
  if (mounted.status !== 0) return null;
  return {
    folder,
    mount: (options) => execFileSync('mount', ['-o', `remount,${options}`, folder]),
    remove: () => {
      spawnSync('umount', ['-l', folder]);
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

test('a full disk and a read-only folder are told, nothing crashes, and what was there stays', async (context) => {
  const disk = smallDisk(120);
  if (!disk) return context.skip('mounting a small disk is not allowed here');
  const server = await startTestServer({ dataDirectory: join(disk.folder, 'library') });
  try {
    const api = apiClient(server.address);
    const first = await api.upload(song(1), 'before.mid');
    assert.equal(first.status, 201);
    spawnSync('dd', ['if=/dev/zero', `of=${join(disk.folder, 'filler')}`, 'bs=64k']);
    assertProblem(await api.upload(song(2), 'full.mid'), 507, /The disk is full\. Nothing was changed/);
    assert.equal((await api.get(`/api/takes/${first.body.takeIds[0]}`)).status, 200);
    rmSync(join(disk.folder, 'filler'));
    assert.equal((await api.upload(song(2), 'after.mid')).status, 201);
    assert.equal((await api.get('/api/status')).body.capture, 2);
  } finally {
    await server.stop();
  }
  try {
    if (onPostgres) return;
    disk.mount('ro');
    const { status, stderr } = await cli(join(disk.folder, 'library'), 'rebuild');
    assert.equal(status, 1);
    assert.match(stderr, /folder is read-only/);
    assert.doesNotMatch(stderr, /\n\s+at /);
  } finally {
    disk.remove();
  }
});

test('a data folder that is a file is told', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'basket-test-'));
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, 'file'), '');
  const { status, stderr } = await cli(join(folder, 'file'), 'rebuild');
  assert.equal(status, 1);
  assert.match(stderr, /is a file/);
  rmSync(folder, { recursive: true, force: true });
});

test(
  'a large library to try: so many kept phrases more, each of a take and with its tags; into one that holds something nothing is filled',
  slowly(),
  async () => {
    const folder = await demoLibrary();
    const { DATABASE_URL: databaseUrl } = await databaseFor(folder);
    const refused = await cli(folder, 'fill', '10');
    assert.deepEqual([refused.status, refused.answer], [1, undefined]);
    assert.match(refused.stderr, /Only an empty library is filled/);
    const library = await openLibrary({ dataDirectory: folder, databaseUrl });
    try {
      const kept = async () => {
        const { rows } = (await library.db.execute(
          sql`select count(*)::int as phrases, count(distinct take_id)::int as takes, count(c.phrase_id)::int as contents, count(m.phrase_id)::int as marks
          from phrases p left join phrase_contents c on c.phrase_id = p.id left join phrase_marks m on m.phrase_id = p.id where state = 'kept'`,
        )) as unknown as { rows: Record<'phrases' | 'takes' | 'contents' | 'marks', number>[] };
        return rows[0]!;
      };
      const before = await kept();
      await fillLibrary(library, 123);
      const after = await kept();
      assert.equal(after.phrases, before.phrases + 123);
      assert.deepEqual([after.contents, after.marks], [after.phrases, after.phrases]);
      assert.ok(after.takes >= before.takes + 20, `${after.takes} takes`);
    } finally {
      await library.close();
      rmSync(folder, { recursive: true, force: true });
    }
  },
);
