import assert from 'node:assert/strict';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import { zipSync } from 'fflate';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { passFiles, performanceFile } from '../../src/core/standins/performance.ts';
import { standInById } from '../../src/core/standins/stand-ins.ts';
import { assertProblem } from '../support/api.ts';
import { tune } from '../support/midi.ts';
import { serverForTests } from '../support/suite.ts';
import { until } from '../support/until.ts';

const { api } = await serverForTests();

const letter = new TextEncoder().encode('a letter');

/** [file, state] of each file of an intake, in order of their names. */
const states = (job: { items: { file: string; state: string }[] }) =>
  job.items.map(({ file, state }) => [file, state]).sort();

test('an intake tells of each file: taken, known, refused; what is said once holds for all', async () => {
  const id = await api.sendFiles(
    [
      { name: 'Quay/first 96bpm Dm verse.mid', bytes: tune(1) },
      { name: 'Quay/again.mid', bytes: tune(1) },
      { name: 'Quay/letter.mid', bytes: letter },
      { name: 'second.mid', bytes: tune(2) },
    ],
    { source: 'Quay box', contributor: 'Composer', rights: 'own work', asked: { bars: 2 } },
  );
  const job = await api.intakeEnd(id);
  assert.deepEqual(job.counts, { waiting: 0, taken: 2, known: 1, refused: 1, opened: 0 });
  assert.deepEqual(states(job), [
    ['Quay/again.mid', 'known'],
    ['Quay/first 96bpm Dm verse.mid', 'taken'],
    ['Quay/letter.mid', 'refused'],
    ['second.mid', 'taken'],
  ]);
  const [refused] = job.items;
  assert.match(refused.reason, /not a Standard MIDI File/);
  const first = job.takes.find(({ name }: { name: string }) => name === 'first 96bpm Dm verse');
  assert.deepEqual(first.guesses, {
    bpm: 96,
    key: { tonic: 2, mode: 'minor' },
    section: 'verse',
    folder: 'Quay',
  });
  const take = (await api.get(`/api/takes/${first.id}`)).body;
  assert.deepEqual(
    [take.source, take.contributor, take.rights, take.asked, take.account.barsAsked],
    ['Quay box', 'Composer', 'own work', { bars: 2 }, 2],
  );
  const csv = new TextDecoder().decode((await api.get(`/api/jobs/${id}/refused`)).body);
  const [head, line] = csv.split('\r\n');
  assert.equal(head, '"file","reason"');
  assert.match(line!, /^"Quay\/letter\.mid","This is not/);
});

test('archives are opened, also within archives; names that climb out stay names; what is no MIDI is refused', async () => {
  const inner = zipSync({ 'deep.mid': tune(11), '=cmd.txt': letter });
  const bytes = zipSync({
    '../../../etc/passwd.mid': tune(12),
    'C:\\evil\\dos.mid': tune(13),
    'folder/inner.zip': inner,
    '__MACOSX/._x.mid': letter,
    'cover.png': letter,
  });
  const job = await api.intakeEnd(await api.sendFiles([{ name: 'pack.zip', bytes }]));
  assert.deepEqual(states(job), [
    ['pack.zip/C:/evil/dos.mid', 'taken'],
    ['pack.zip/cover.png', 'refused'],
    ['pack.zip/etc/passwd.mid', 'taken'],
    ['pack.zip/folder/inner.zip/=cmd.txt', 'refused'],
    ['pack.zip/folder/inner.zip/deep.mid', 'taken'],
  ]);
});

test('an archive that unpacks to far more than it is, one nested too deep and a broken one are refused by name', async () => {
  const bomb = zipSync({ 'zeros.mid': new Uint8Array(40 * 1024 * 1024) }, { level: 9 });
  assert.ok(bomb.length < 100_000);
  let nested: Uint8Array = zipSync({ 'core.mid': tune(21) });
  for (let depth = 0; depth < 4; depth++) nested = zipSync({ [`level${depth}.zip`]: nested });
  const whole = zipSync({ 'one.mid': tune(22), 'two.mid': tune(23) }, { level: 0 });
  const job = await api.intakeEnd(
    await api.sendFiles([
      { name: 'bomb.zip', bytes: bomb },
      { name: 'nested.zip', bytes: nested },
      { name: 'broken.zip', bytes: whole.subarray(0, whole.length >> 1) },
      { name: 'empty.zip', bytes: zipSync({}) },
    ]),
  );
  const reasons = new Map(
    job.items.map(({ file, reason }: { file: string; reason: string }) => [file.split('/')[0], reason]),
  );
  assert.match(String(reasons.get('bomb.zip')), /larger than 16 MB/);
  assert.match(String(reasons.get('nested.zip')), /opened 3 deep at most/);
  assert.match(String(reasons.get('empty.zip')), /holds no files/);
  assert.equal(job.counts.waiting, 0);
  assert.equal(job.state, 'done');
});

test('an intake is stopped: what was taken in stays, the rest is left out; more files are refused', async () => {
  const { body: job } = await api.post('/api/jobs', {});
  await api.post(`/api/jobs/${job.id}/stop`, {});
  const form = new FormData();
  form.set('batch', 'late');
  form.append('file', new File([tune(31) as Uint8Array<ArrayBuffer>], 'late.mid'));
  assertProblem(await api.send('POST', `/api/jobs/${job.id}/files`, { body: form }), 409, /has ended/);
  assert.equal((await api.get(`/api/jobs/${job.id}`)).body.state, 'stopped');
  assertProblem(await api.get('/api/jobs/00000000-0000-4000-8000-000000000000'), 404, /no such job/);
  assertProblem(await api.post('/api/jobs', { source: 'x'.repeat(201) }), 400, /at most 200/);
});

test('what lands in the inbox is taken in when it has finished growing, once', async () => {
  const { inbox } = (await api.get('/api/jobs')).body;
  mkdirSync(join(inbox, 'device'), { recursive: true });
  const bytes = tune(41);
  const path = join(inbox, 'device', 'growing.mid');
  writeFileSync(path, bytes.subarray(0, 20));
  await new Promise((resolve) => setTimeout(resolve, 500));
  writeFileSync(path, bytes);
  const done = await until<{ id: string }>('the inbox is looked into', async () => {
    const { intakes } = (await api.get('/api/jobs')).body;
    return intakes.find(
      ({ origin, state }: { origin: string; state: string }) => origin === 'inbox' && state === 'done',
    );
  });
  const job = (await api.get(`/api/jobs/${done.id}`)).body;
  assert.deepEqual(states(job), [['device/growing.mid', 'taken']]);
});

test('files that are passes of one performance are offered as one, and joined: every note, each pass a track', async () => {
  const band = standInById('band');
  const files = passFiles({ ...band.play({ ...band.defaults, seed: 51 }), title: 'Quay' }).map(
    ({ name, midi }) => ({ name: `${name}.mid`, bytes: writeMidiFile(midi) }),
  );
  const job = await api.intakeEnd(await api.sendFiles([...files, { name: 'other.mid', bytes: tune(51) }]));
  assert.equal(job.passes.length, 1);
  const [{ name, takeIds }] = job.passes;
  assert.equal(takeIds.length, files.length);
  const { status, body } = await api.post('/api/takes/join', { ids: takeIds, name });
  assert.equal(status, 201);
  const joined = (await api.get(`/api/takes/${body.takeIds[0]}`)).body;
  const notes = await Promise.all(
    takeIds.map(async (id: string) => (await api.get(`/api/takes/${id}`)).body.facts.notes),
  );
  assert.equal(
    joined.facts.notes,
    notes.reduce((sum, count) => sum + count, 0),
  );
  const aside = (await api.get('/api/takes?filter=aside')).body;
  assert.deepEqual(aside.takes.map(({ id }: { id: string }) => id).sort(), [...takeIds].sort());
  assertProblem(await api.post('/api/takes/join', { ids: [takeIds[0]], name }), 400, /At least two/);
});

test('blocks are joined one after another in the order they are named; a pattern of one bar fills eight', async () => {
  const grid = standInById('step-grid');
  const bars = (count: number, seed: number) =>
    writeMidiFile(performanceFile(grid.play({ ...grid.defaults, bars: count, seed, kick: seed === 7 ? 'X.......X.......' : 'X...X...X...X...' }))); // prettier-ignore
  const { body: long } = await api.upload(bars(4, 7), 'zz four bars.mid', { rights: 'own work' });
  const { body: short } = await api.upload(bars(1, 8), 'aa one bar.mid', { rights: 'not to leave' });
  const ids = [long.takeIds[0], short.takeIds[0]];
  const { status, body } = await api.post('/api/takes/join', { ids, name: 'In a row', way: 'after' });
  assert.equal(status, 201, JSON.stringify(body));
  const { body: joined } = await api.get(`/api/takes/${body.takeIds[0]}`);
  assert.equal(joined.facts.bars, 5);
  assert.equal(joined.rights, 'not to leave', 'as free as the strictest');
  assert.deepEqual(joined.facts.markers.map(({ text }: { text: string }) => text), ['zz four bars', 'aa one bar']); // prettier-ignore
  const { body: filled } = await api.post(`/api/takes/${ids[1]}/fill`, { bars: 8 });
  const { body: eight } = await api.get(`/api/takes/${filled.takeIds[0]}`);
  assert.equal(eight.facts.bars, 8);
  const { body: one } = await api.get(`/api/takes/${ids[1]}`);
  assert.equal(eight.facts.notes, 8 * one.facts.notes);
  assert.equal(one.aside, true, 'set aside, not deleted');
  assert.equal(eight.account.findings.length, 0);
  // The last round by its last bars: another take, as long.
  const turned = await api.post(`/api/takes/${ids[1]}/fill`, { bars: 7, last: 'ending' });
  assert.equal(turned.status, 201, JSON.stringify(turned.body));
  assert.equal((await api.get(`/api/takes/${turned.body.takeIds[0]}`)).body.asked.bars, 7);
  assertProblem(await api.post(`/api/takes/${ids[1]}/fill`, { bars: 7, last: 'louder' }), 400, /last/);
  assertProblem(await api.post(`/api/takes/${ids[1]}/fill`, { bars: 1000 }), 400, /At most 512 bars/);
});
