import assert from 'node:assert/strict';
import { once } from 'node:events';
import { describe, it } from 'node:test';
import { slowly } from '../support/slow.ts';
import { assertProblem, type Api, apiClient } from '../support/api.ts';
import { startTestServer } from '../support/server.ts';
import { serverForTests } from '../support/suite.ts';
import { until } from '../support/until.ts';

/** Sweeps over HTTP: gone through on the server, stopped, gone on with after a kill, looked through, kept. */

const { api } = await serverForTests();

const PLAN = {
  name: 'Three stacks',
  source: { kind: 'stand-in', id: 'chord-player' },
  trigger: { kind: 'own' },
  ...{ bpm: 100, bars: 4, settings: { key: 'Dm' }, waits: false },
  vary: [
    { name: 'stack', values: ['triads', 'sevenths', 'ninths'] },
    { name: 'rhythm', values: ['held', 'halves', 'eighths', 'stabs'] },
    { name: 'seed', values: [1, 2, 3] },
  ],
};

async function done(client: Api, id: string) {
  const ended = async () => {
    const { body } = await client.get(`/api/sweeps/${id}`);
    return body.state === 'done' && body;
  };
  return until('a sweep is through', ended, { within: 60_000, every: 100 });
}

describe('sweeps', () => {
  it(
    'go through 3 x 4 x 3 runs of a stand-in (the check of the specification asks 60 s), each a take named by what was set',
    slowly(),
    async () => {
      const began = performance.now();
      const { status, body } = await api.post('/api/sweeps', PLAN);
      assert.equal(status, 201, JSON.stringify(body));
      const sweep = await done(api, body.id);
      const seconds = (performance.now() - began) / 1000;
      assert.ok(seconds < 60, `${seconds} s`);
      assert.equal(sweep.runs.length, 36);
      assert.ok(sweep.runs.every(({ state, takeId, heard }: never) => state === 'done' && takeId && heard));
      const { body: take } = await api.get(`/api/takes/${sweep.runs[5].takeId}`);
      assert.equal(take.name, 'Three stacks: triads, halves, seed 3');
      assert.equal(take.source, 'Chord player');
      assert.equal(take.asked.bars, 4);
      assert.ok(take.account, 'its account is made');
      const { body: list } = await api.get('/api/sweeps');
      assert.deepEqual([list.sweeps[0].runs, list.sweeps[0].waiting], [36, 0]);
    },
  );

  it('set aside what is there twice, with the reason, and keep the best as phrases with their settings as tags', async () => {
    const plan = { ...PLAN, name: 'Twice', vary: [PLAN.vary[0], PLAN.vary[2]] };
    const { body } = await api.post('/api/sweeps', plan);
    const { runs } = await done(api, body.id);
    const { body: same } = await api.post(`/api/sweeps/${body.id}/same`, {});
    // Seeds change the hand; where they change a note too, they are not the same.
    assert.ok(same.aside.length >= 4, `${same.aside.length} of 9`);
    const { body: take } = await api.get(`/api/takes/${runs[4].takeId}`);
    assert.equal(take.aside, true);
    const { body: after } = await api.get(`/api/sweeps/${body.id}`);
    assert.equal(after.runs[4].reason, 'The same as run 4: set aside.');
    const { status, body: kept } = await api.post(`/api/sweeps/${body.id}/keep`, { runs: [3] });
    assert.equal(status, 201, JSON.stringify(kept));
    const { body: phrase } = await api.get(`/api/phrases/${kept.phraseIds[0]}`);
    assert.equal(phrase.state, 'kept');
    for (const tag of ['sevenths', 'seed 1']) assert.ok(phrase.tags.includes(tag), phrase.tags.join(', '));
  });

  it('say what a plan cannot be, and what a source cannot do', async () => {
    assertProblem(await api.post('/api/sweeps', { ...PLAN, vary: [] }), 422, /Nothing is gone through/);
    assertProblem(await api.post('/api/sweeps', { ...PLAN, vary: [{ name: 'stack', values: ['fifths'] }] }), 422, /cannot be fifths/); // prettier-ignore
    const drums = { ...PLAN, source: { kind: 'stand-in', id: 'drum-player' }, trigger: { kind: 'chart', chart: 'Dm | A7' }, settings: {}, vary: [{ name: 'seed', values: [1] }] }; // prettier-ignore
    const { body } = await api.post('/api/sweeps', drums);
    const { runs } = await done(api, body.id);
    assert.equal(runs[0].state, 'failed');
    assert.match(runs[0].reason, /plays no chart/);
  });

  it('of a device wait for the page that has it, run by run, and note what is silent', async () => {
    const plan = { ...PLAN, name: 'Keys', source: { kind: 'device', name: 'Keys' }, settings: {}, vary: [{ name: 'program', values: [1, 2] }] }; // prettier-ignore
    const { body } = await api.post('/api/sweeps', plan);
    const { body: takes } = await api.get('/api/takes');
    await api.put(`/api/sweeps/${body.id}/runs/0`, { takeId: takes.takes[0].id, reason: '' });
    const { body: half } = await api.get(`/api/sweeps/${body.id}`);
    assert.deepEqual(half.runs.map(({ state }: { state: string }) => state), ['done', 'waiting']); // prettier-ignore
    await api.put(`/api/sweeps/${body.id}/runs/1`, { takeId: null, reason: 'Nothing for four seconds, twice.' }); // prettier-ignore
    const { body: all } = await api.get(`/api/sweeps/${body.id}`);
    assert.equal(all.state, 'done');
    assert.deepEqual([all.runs[1].state, all.runs[1].reason], ['silent', 'Nothing for four seconds, twice.']); // prettier-ignore
    assertProblem(await api.put(`/api/sweeps/${body.id}/runs/9`, { takeId: null, reason: '' }), 404, /run/);
  });

  it('stop, and go on after kill -9 with nothing there twice', slowly(), async () => {
    let server = await startTestServer();
    try {
      const first = apiClient(server.address);
      const { body } = await first.post('/api/sweeps', PLAN);
      await until('some runs are through', async () => (await first.get(`/api/sweeps/${body.id}`)).body.runs.filter(({ state }: { state: string }) => state === 'done').length >= 5, { within: 30_000, every: 20 }); // prettier-ignore
      await first.patch(`/api/sweeps/${body.id}`, { state: 'stopped' });
      await until('it rests', async () => {
        const count = async () => (await first.get('/api/takes')).body.total;
        const before = await count();
        await new Promise((resolve) => setTimeout(resolve, 400));
        return before === (await count());
      }, { within: 10_000, every: 50 }); // prettier-ignore
      const { body: stopped } = await first.get(`/api/sweeps/${body.id}`);
      assert.ok(stopped.runs.some(({ state }: { state: string }) => state === 'waiting'));
      await first.patch(`/api/sweeps/${body.id}`, { state: 'running' });
      const ended = once(server.process, 'exit');
      server.process.kill('SIGKILL');
      await ended;
      server = await startTestServer({ dataDirectory: server.dataDirectory });
      const again = apiClient(server.address);
      const sweep = await done(again, body.id);
      const ids = sweep.runs.map(({ takeId }: { takeId: string }) => takeId);
      assert.equal(new Set(ids).size, 36);
      assert.equal((await again.get('/api/takes')).body.total, 36, 'nothing twice');
    } finally {
      await server.remove();
    }
  });
});
