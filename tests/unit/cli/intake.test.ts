import assert from 'node:assert/strict';
import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, test } from 'node:test';
import { zipSync } from 'fflate';
import { openLibrary } from '../../../src/server/db/client.ts';
import { listTakes } from '../../../src/server/library/take-list.ts';
import { tune } from '../../support/midi.ts';
import { emptyLibrary } from '../../support/server.ts';

const folder = mkdtempSync(join(tmpdir(), 'basket-cli-'));
after(() => rmSync(folder, { recursive: true }));

const COMMAND = ['bin/hollow-basket.mjs', 'intake'];

function intake(...args: string[]) {
  const { stdout, stderr, status } = spawnSync(process.execPath, [...COMMAND, ...args], { encoding: 'utf8' });
  return { stdout, stderr, status };
}

test('intake: folders and archives, the promised fields; broken off, it goes on; known files are told', async () => {
  const files = join(folder, 'Market');
  mkdirSync(join(files, 'deep'), { recursive: true });
  const count = 60;
  for (let n = 0; n < count; n++) writeFileSync(join(files, n % 2 ? 'deep' : '', `${n}.mid`), tune(n));
  writeFileSync(join(files, 'letter.mid'), 'a letter');
  writeFileSync(join(files, 'cover.png'), 'no music, and not looked at');
  writeFileSync(join(files, 'pack.zip'), zipSync({ 'inside.mid': tune(count) }));
  const data = await emptyLibrary();

  const broken = spawn(process.execPath, [...COMMAND, files, '--data', data], { stdio: 'ignore' });
  await new Promise((resolve) => setTimeout(resolve, 2500));
  broken.kill('SIGKILL');
  await new Promise((resolve) => broken.once('exit', resolve));

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
