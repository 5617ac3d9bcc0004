import assert from 'node:assert/strict';
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, test } from 'node:test';
import { zipSync } from 'fflate';
import { openLibrary } from '../../../src/server/db/client.ts';
import { listTakes } from '../../../src/server/library/takes/take-list.ts';
import { tune } from '../../support/midi.ts';
import { emptyLibrary } from '../../support/server.ts';
import { until } from '../../support/until.ts';

const folder = mkdtempSync(join(tmpdir(), 'basket-cli-'));
after(() => rmSync(folder, { recursive: true }));

const COMMAND = ['bin/hollow-basket.mjs', 'intake'];

function intake(...args: string[]) {
  const { stdout, stderr, status } = spawnSync(process.execPath, [...COMMAND, ...args], { encoding: 'utf8' });
  return { stdout, stderr, status };
}

/** Files that have reached the disk of a library. */
function originalsIn(data: string): number {
  const kept = join(data, 'originals');
  return existsSync(kept)
    ? readdirSync(kept, { recursive: true, withFileTypes: true }).filter((entry) => entry.isFile()).length
    : 0;
}

test('intake: folders and archives, the promised fields; broken off, it goes on; known files are told', async () => {
  const files = join(folder, 'Market');
  mkdirSync(join(files, 'deep'), { recursive: true });
  const count = 120;
  for (let n = 0; n < count; n++) writeFileSync(join(files, n % 2 ? 'deep' : '', `${n}.mid`), tune(n));
  writeFileSync(join(files, 'letter.mid'), 'a letter');
  writeFileSync(join(files, 'cover.png'), 'no music, and not looked at');
  writeFileSync(join(files, 'pack.zip'), zipSync({ 'inside.mid': tune(count) }));
  const data = await emptyLibrary();

  const broken = spawn(process.execPath, [...COMMAND, files, '--data', data], { stdio: 'ignore' });
  const ended = new Promise((resolve) => broken.once('exit', resolve));
  await until('the intake has begun', () => originalsIn(data) >= 5, { every: 5 });
  broken.kill('SIGKILL');
  await ended;
  const before = originalsIn(data);
  assert.ok(
    before >= 5 && before < count,
    `${before} of ${count} files had reached the disk when it was killed`,
  );

  const { status, stdout } = intake(files, '--data', data, '--source', 'Old tape', '--json');
  assert.equal(status, 1, 'a file was refused');
  const answer = JSON.parse(stdout);
  assert.deepEqual(Object.keys(answer).sort(), ['known', 'parts', 'phrases', 'refused', 'seconds', 'taken']);
  assert.equal(answer.taken + answer.known, count + 1);
  assert.equal(answer.refused.length, 1);
  assert.equal(answer.refused[0].file, join('Market', 'letter.mid'));
  assert.match(answer.refused[0].reason, /not a Standard MIDI File/);

  const library = await openLibrary({ dataDirectory: data });
  const { takes, total } = await listTakes(library.db, { limit: 1000 });
  await library.close();
  assert.equal(total, count + 1);
  assert.ok(takes.some(({ fileName }) => fileName === 'Market/pack.zip/inside.mid'));

  const again = intake(join(files, 'pack.zip'), join(files, '0.mid'), '--data', data);
  assert.equal(again.status, 0);
  assert.match(again.stdout, /0 taken in, 2 known, 0 refused/);
  rmSync(data, { recursive: true });
});

test('intake: what is not there is named, and nothing is written', () => {
  const data = join(folder, 'untouched');
  const { status, stderr } = intake(join(folder, 'nowhere'), '--data', data);
  assert.equal(status, 1);
  assert.match(stderr, /there is no such file or folder/);
  assert.doesNotMatch(stderr, /\n\s+at /);
});
