import assert from 'node:assert/strict';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, test } from 'node:test';
import { copyPreparedDatabase, prepareDatabase } from '../../../src/server/db/new-database.ts';

const folder = mkdtempSync(join(tmpdir(), 'basket-new-'));
after(() => rmSync(folder, { recursive: true }));
await prepareDatabase();

test('what a killed process left of a copy is thrown away: a database is there whole or not at all', async () => {
  const database = join(folder, 'killed');
  mkdirSync(`${database}.making`);
  writeFileSync(join(`${database}.making`, 'half'), '');
  await copyPreparedDatabase(database);
  assert.ok(existsSync(join(database, 'PG_VERSION')));
  assert.ok(!existsSync(join(database, 'half')));
  assert.deepEqual(readdirSync(folder), ['killed']);
});

test('a database that is there is never touched', async () => {
  const database = join(folder, 'own');
  mkdirSync(database);
  await copyPreparedDatabase(database);
  assert.deepEqual(readdirSync(database), []);
});
