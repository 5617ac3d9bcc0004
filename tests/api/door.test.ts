import assert from 'node:assert/strict';
import { request } from 'node:http';
import { test } from 'node:test';
import { unzipSync } from 'fflate';
import { assertProblem } from '../support/api.ts';
import { midiBytes, trackOf } from '../support/midi.ts';
import { serverForTests } from '../support/suite.ts';

const { api, server } = await serverForTests();

/** A request with headers that fetch does not let one set. */
function raw(
  method: string,
  path: string,
  headers: Record<string, string>,
  body?: string | Buffer[],
): Promise<{ status: number; headers: Record<string, unknown>; text: string }> {
  return new Promise((resolve, reject) => {
    const { hostname, port } = new URL(server.address);
    const sent = request({ hostname, port, path, method, headers }, (answer) => {
      let text = '';
      answer.on('data', (chunk) => (text += chunk));
      answer.on('end', () => resolve({ status: answer.statusCode!, headers: answer.headers, text }));
    });
    sent.on('error', reject);
    if (Array.isArray(body)) body.forEach((chunk) => sent.write(chunk));
    else if (body) sent.write(body);
    sent.end();
  });
}

const ownHost = () => new URL(server.address).host;

test('the server listens on loopback only', () => {
  assert.equal(new URL(server.address).hostname, '127.0.0.1');
});

for (const [what, origin] of [
  ['a foreign origin', 'http://evil.example'],
  ['another port of this machine', 'http://127.0.0.1:1'],
  ['the origin "null" of a sandboxed page', 'null'],
  ['no origin', undefined],
] as const) {
  test(`writes with ${what} are refused, whatever their type`, async () => {
    for (const type of ['application/json', 'text/plain', 'application/x-www-form-urlencoded']) {
      const headers = { 'content-type': type, 'content-length': '17', ...(origin ? { origin } : {}) };
      const answer = await raw('POST', '/api/baskets', headers, '{"name":"stolen"}');
      assert.equal(answer.status, 403, type);
    }
    for (const method of ['PUT', 'PATCH', 'DELETE']) {
      const answer = await raw(method, '/api/baskets', origin ? { origin } : {});
      assert.equal(answer.status, 403, method);
    }
    assert.deepEqual((await api.get('/api/baskets')).body.baskets, []);
  });
}

test('a foreign name that points here is not answered, not even reads', async () => {
  for (const host of ['evil.example', 'evil.example:4321', '127.0.0.1.evil.example']) {
    const answer = await raw('GET', '/api/takes', { host });
    assert.equal(answer.status, 403);
    assert.match(answer.text, /does not go by the name/);
  }
  assert.equal(
    (await raw('GET', '/api/takes', { host: `localhost:${new URL(server.address).port}` })).status,
    200,
  );
});

test('bodies have limits that hold before they are read', async () => {
  const big = JSON.stringify({ name: 'x'.repeat(2_000_000) });
  assertProblem(
    await api.send('POST', '/api/baskets', { headers: { 'content-type': 'application/json' }, body: big }),
    413,
    /larger than 1 MB/,
  );
  const chunked = await raw(
    'POST',
    '/api/takes',
    {
      origin: server.address,
      'content-type': 'multipart/form-data; boundary=x',
      'transfer-encoding': 'chunked',
    },
    [Buffer.from('--x\r\n')],
  );
  assert.equal(chunked.status, 411);
});

test('pages carry a Content-Security-Policy without exceptions for scripts, and have no script inside', async () => {
  for (const path of ['/', '/library', '/capture', '/split/x', '/nowhere']) {
    const { headers, text } = await raw('GET', path, { host: ownHost() });
    const policy = String(headers['content-security-policy']);
    assert.match(policy, /default-src 'none'/);
    assert.match(policy, /script-src 'self' 'wasm-unsafe-eval'(;|$)/);
    assert.match(policy, /frame-ancestors 'none'/);
    assert.equal(headers['x-content-type-options'], 'nosniff');
    for (const [tag, inside] of [...text.matchAll(/<script[^>]*>([^]*?)<\/script>/g)]) {
      assert.equal(inside, '', tag);
    }
    assert.doesNotMatch(text, /\son\w+=|javascript:/i);
  }
});

test('what is nowhere is a 404, on pages and on the API', async () => {
  assert.equal((await raw('GET', '/nowhere', { host: ownHost() })).status, 404);
  assertProblem(await api.get('/api/nowhere'), 404, /nothing at this address/);
  assertProblem(await api.post('/api/nowhere', {}), 404, /nothing at this address/);
});

test('problems say nothing of the inside', async () => {
  const answers = [
    await api.get('/api/takes/%00'),
    await api.get('/api/phrases?suits=not-an-id'),
    await api.get('/api/phrases?beside=drums.12'),
    await api.post('/api/baskets', { name: { $gt: '' } }),
    await api.post('/api/phrases', {
      takeId: "'; drop table takes; --",
      parts: ['p1'],
      startBar: 1,
      bars: 1,
    }),
  ];
  for (const { status, body } of answers) {
    assert.ok(status >= 400, String(status));
    assert.doesNotMatch(JSON.stringify(body), /\.ts|\.mjs|node_modules|at \w+ \(|select |insert /i);
  }
  assert.equal((await api.get('/api/takes')).status, 200);
});

const HOSTILE = '../../<img src=x onerror=alert(1)>"\u0000\u202e%2e%2e/C:\\x';

test('hostile names stay text, and become harmless where they are files', async () => {
  const { body } = await api.upload(
    midiBytes([
      trackOf([
        [0, 480, 60],
        [480, 480, 64],
      ]),
    ]),
    'x.mid',
  );
  const takeId = body.takeIds[0];
  const name = HOSTILE.replace('\u0000', '');
  assert.equal(
    (await api.post(`/api/takes/${takeId}/moves`, { move: { move: 'nameTake', name } })).body.name,
    name,
  );
  const made = (await api.post('/api/phrases', { takeId, parts: ['p1'], startBar: 1, bars: 1 })).body;
  const { role, takeKey, recipe } = (await api.get(`/api/phrases/${made.phraseIds[0]}`)).body;
  const change = {
    name,
    role,
    takeKey,
    recipe,
    tags: [name.slice(0, 40)],
    projectId: null,
    rights: name,
    state: 'kept',
  };
  assert.equal((await api.put(`/api/phrases/${made.phraseIds[0]}`, change)).status, 200);
  const basket = (await api.post('/api/baskets', { name })).body;
  await api.post(`/api/baskets/${basket.id}/items`, { phraseIds: made.phraseIds });
  await api.patch(`/api/baskets/${basket.id}`, { pattern: '../{name}/{source}/{key}' });
  const pack = await fetch(`${server.address}/api/baskets/${basket.id}/pack`);
  assert.doesNotMatch(pack.headers.get('content-disposition')!, /[\r\n<>\\]|\.\.\//);
  for (const entry of Object.keys(unzipSync(new Uint8Array(await pack.arrayBuffer())))) {
    // Folders are of our own making: the basket's, meter and role. Each name in the way is harmless by itself.
    const steps = entry.split('/');
    assert.ok(steps.length <= 4, entry);
    for (const step of steps) assert.match(step, /^[\p{L}\p{N}][\p{L}\p{N}._-]*$/u);
  }
});

test('a name with a zero byte is refused, not stored', async () => {
  const answer = await api.post('/api/baskets', { name: 'a\u0000b' });
  assertProblem(answer, 400, /character/);
});

const NOISE = Uint8Array.from({ length: 20 * 1024 * 1024 }, (_, i) => (i * 2654435761) >>> 24);

test('bad uploads: noise, a ZIP by another name, a cut file, each with its sentence', async () => {
  assertProblem(await api.upload(NOISE, 'noise.mid'), 413, /larger than 16 MB/);
  assertProblem(
    await api.upload(NOISE.subarray(0, 4_000_000), 'noise.mid'),
    422,
    /^This is not a Standard MIDI File/,
  );
  const zip = Uint8Array.from([0x50, 0x4b, 3, 4, ...Array(60).fill(0)]);
  assertProblem(await api.upload(zip, 'song.mid'), 422, /ZIP archive/);
  const cut = midiBytes([
    trackOf([
      [0, 480, 60],
      [480, 480, 64],
    ]),
  ]).subarray(0, 32);
  const taken = await api.upload(cut, 'cut.mid');
  assert.equal(taken.status, 201);
  const { facts } = (await api.get(`/api/takes/${taken.body.takeIds[0]}`)).body;
  assert.ok(facts.repairs.some((repair: { code: string }) => repair.code === 'chunk-truncated'));
});
