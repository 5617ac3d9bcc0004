import assert from 'node:assert/strict';
import { test } from 'node:test';
import {
  appendMessage,
  createLog,
  encodeLog,
  STREAM,
  type MessageLog,
} from '../../src/core/capture/message-log.ts';
import { readTakes } from '../../src/core/capture/take.ts';
import { performanceMessages } from '../../src/core/standins/performance.ts';
import { standInById } from '../../src/core/standins/stand-ins.ts';
import { assertProblem } from '../support/api.ts';
import { serverForTests } from '../support/suite.ts';

const { api } = await serverForTests();

const START = 4000;

const plan = (name: string) => ({
  name,
  recordedAt: '2026-02-04T10:31:00.000Z',
  clock: 'click',
  bpm: 112,
  meter: { numerator: 4, denominator: 4 },
  startMs: START,
  countInBars: 1,
  bars: 4,
  sources: [{ name: 'Arpeggiator', kind: 'stand-in' }],
  markBars: 2,
});

/** What the arpeggiator sends, with the keys that set it off. */
function arpeggio(): MessageLog {
  const arpeggiator = standInById('arpeggiator');
  const performance = arpeggiator.play(arpeggiator.defaults);
  const log = createLog();
  for (const { ms, bytes } of performanceMessages(performance))
    appendMessage(log, { ms: ms + START, bytes }, 0, STREAM.played);
  for (const { ms, bytes } of performanceMessages(performance, [performance.input!]))
    appendMessage(log, { ms: ms + START, bytes }, 0, STREAM.input);
  appendMessage(log, { ms: START + (4 * 4 * 60_000) / 112, bytes: [0] }, 0, STREAM.mark);
  return log;
}

async function begin(name: string): Promise<string> {
  const { status, body } = await api.post('/api/captures', plan(name));
  assert.equal(status, 201, JSON.stringify(body));
  return body.id;
}

const keep = (id: string, piece: number | string, bytes: Uint8Array) =>
  api.send('PUT', `/api/captures/${id}/pieces/${piece}`, { body: bytes as Uint8Array<ArrayBuffer> });

test('pieces become a take: all that was played, none of the keys, which are kept beside it; marks are stars', async () => {
  const log = arpeggio();
  const id = await begin('Glass');
  const half = log.length >> 1;
  await keep(id, 0, encodeLog(log, 0, half));
  // A page that got no answer sends its piece again.
  await keep(id, 0, encodeLog(log, 0, half));
  await keep(id, 1, encodeLog(log, half));
  const { body } = await api.post(`/api/captures/${id}/finish`, { endMs: START + 9000 });
  assert.deepEqual(body.account.findings, []);
  const take = (await api.get(`/api/takes/${body.takeId}`)).body;
  const played = Array.from(log.stream.subarray(0, log.length)).filter(
    (stream, i) => stream === STREAM.played && log.status[i]! >> 4 === 9,
  );
  assert.equal(take.facts.notes, played.length);
  assert.deepEqual(take.capture.stars, [{ bar: 3, bars: 2 }]);
  assert.equal(take.source, 'Arpeggiator');
  const input = (await api.get(`/api/takes/${body.takeId}/input`)).body;
  const keys = readTakes(input)[0]!;
  assert.equal(keys.notes.length, 12, 'four chords of three keys');
  assertProblem(await keep(id, 2, new Uint8Array()), 404, /no such recording/);
});

test('a recording whose page went away is offered, and becomes a take of what was kept; one of silence leaves none', async () => {
  const log = arpeggio();
  const id = await begin('Left alone');
  await keep(id, 0, encodeLog(log, 0, 60));
  const { captures } = (await api.get('/api/captures')).body;
  const offered = captures.find((capture: { id: string }) => capture.id === id);
  assert.equal(offered.alive, true, 'it may still run');
  assert.ok(offered.notes > 0 && offered.seconds > 0);
  const { body } = await api.post(`/api/captures/${id}/finish`, {});
  assert.equal((await api.get(`/api/takes/${body.takeId}`)).body.facts.notes, offered.notes);

  const silent = await begin('Silence');
  const end = (await api.post(`/api/captures/${silent}/finish`, { endMs: START })).body;
  assert.equal(end.takeId, null);
  assert.deepEqual(
    end.account.findings.map(({ code }: { code: string }) => code),
    ['nothing'],
  );
  assert.deepEqual((await api.get('/api/captures')).body.captures, []);
});

test('two recordings that sound the same are two takes: a new one never lands on an old one', async () => {
  const log = arpeggio();
  const ids = [];
  for (const minute of ['10:00', '10:01']) {
    const { body } = await api.post('/api/captures', {
      ...plan('Twice'),
      recordedAt: `2026-02-05T${minute}:00.000Z`,
    });
    await keep(body.id, 0, encodeLog(log));
    ids.push((await api.post(`/api/captures/${body.id}/finish`, { endMs: START + 9000 })).body.takeId);
  }
  assert.notEqual(ids[0], ids[1]);
});

test('nonsense is refused with a sentence', async () => {
  assertProblem(await api.post('/api/captures', { ...plan('x'), bpm: 3 }), 400, /bpm/);
  assertProblem(await api.post('/api/captures', { ...plan('x'), sources: [] }), 400, /needs a source/);
  const id = await begin('Numbers');
  assertProblem(await keep(id, 'one', new Uint8Array()), 400, /numbered from 0/);
  assertProblem(
    await api.post('/api/captures/00000000-0000-4000-8000-000000000000/finish', {}),
    404,
    /no such recording/,
  );
});
