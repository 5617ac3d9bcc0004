import assert from 'node:assert/strict';
import { before, describe, it } from 'node:test';
import { readTakes } from '../../src/core/capture/take.ts';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { performanceFile } from '../../src/core/standins/performance.ts';
import type { Mishap } from '../../src/core/standins/mishaps.ts';
import { standInById } from '../../src/core/standins/stand-ins.ts';
import { assertProblem } from '../support/api.ts';
import { serverForTests } from '../support/suite.ts';

/** A comp over HTTP: begun, decided by two at once, kept as a take. */

const { api } = await serverForTests();
const CHART = 'Dm | Bb | Gm | A7';
const takes: string[] = [];

before(async () => {
  for (const [seed, who, rights] of [
    [1, 'Ines', 'own work'],
    [2, 'Bo', 'licensed'],
    [3, 'Ines', 'own work'],
  ] as const) {
    // prettier-ignore
    const { body } = await api.upload(bandFile(seed), `Pass ${seed}.mid`, { contributor: who, rights });
    takes.push(body.takeIds[0]);
  }
});

function bandFile(seed: number, mishaps: Mishap[] = []): Uint8Array {
  const band = standInById('band');
  return writeMidiFile(performanceFile(band.play({ ...band.defaults, chart: CHART, choruses: 1, seed }, mishaps))); // prettier-ignore
}

const begun = async (title = 'Market, the best bars') =>
  (await api.post('/api/comps', { title, chart: CHART, takes })).body;

/** A comp with all bars of one pass, in all rows that its first take has. */
async function allOf(comp: { takes: unknown[] }, id: string, pass: string) {
  const { body: take } = await api.get(`/api/takes/${takes[0]}/base`);
  const rows = take.parts.map((part: { role: string; name: string }) => `${part.role}: ${part.name}`);
  const bars = Object.fromEntries([1, 2, 3, 4].map((bar) => [String(bar), pass]));
  const taken = Object.fromEntries(rows.map((row: string) => [row, bars]));
  return api.put(`/api/comps/${id}`, { base: comp, comp: { ...comp, taken } });
}

describe('comps', () => {
  it('are begun with the takes as they stand, and say what cannot be', async () => {
    const comp = await begun();
    assert.deepEqual(comp.takes.map(({ name }: { name: string }) => name), ['Pass 1', 'Pass 2', 'Pass 3']); // prettier-ignore
    assertProblem(await api.post('/api/comps', { title: 'x', chart: CHART, takes: takes.slice(0, 1) }), 422, /two takes/); // prettier-ignore
    assertProblem(await api.post('/api/comps', { title: 'x', chart: ' ', takes }), 422, /needs the chart/);
    assertProblem(await api.post('/api/comps', { title: 'x', chart: 'Dm | Hx', takes }), 422, /"Hx" is not a chord symbol/); // prettier-ignore
    assertProblem(await api.post(`/api/comps/${comp.id}/keep`, {}), 422, /No bar with notes is taken yet/);
  });

  it('keep what two decide about different bars, and tell the later where it is the same bar', async () => {
    const { id, comp } = await begun();
    const [one, two] = [`${takes[0]} 1`, `${takes[1]} 1`];
    const with1 = { ...comp, taken: { 'bass: Bass': { 1: one } } };
    const with2 = { ...comp, taken: { 'bass: Bass': { 2: two } } };
    const { status, body: first } = await api.put(`/api/comps/${id}`, { base: comp, comp: with1 });
    assert.equal(status, 200, JSON.stringify(first));
    const { body } = await api.put(`/api/comps/${id}`, { base: comp, comp: with2 });
    assert.deepEqual(body.comp.taken, { 'bass: Bass': { 1: one, 2: two } });
    const other = { ...comp, taken: { 'bass: Bass': { 1: two } } };
    assertProblem(await api.put(`/api/comps/${id}`, { base: comp, comp: other }), 409, /decided the same bars/); // prettier-ignore
  });

  it('become a take: the notes of the pass, its chart asked, the strictest rights, all who contributed', async () => {
    const { id, comp } = await begun();
    await allOf(comp, id, `${takes[1]} 1`);
    const { status, body } = await api.post(`/api/comps/${id}/keep`, {});
    assert.equal(status, 201, JSON.stringify(body));
    assert.deepEqual(body.tally.bars, { in: 12, used: 4, notUsed: 8 });
    assert.ok(body.tally.balanced);
    const { body: made } = await api.get(`/api/takes/${body.takeId}`);
    assert.equal(made.rights, 'licensed');
    assert.equal(made.contributor, 'Bo');
    assert.equal(made.source, 'Made here');
    assert.equal(made.asked.chart, CHART);
    const { body: bytes } = await api.get(`/api/takes/${body.takeId}/file`);
    const [again, source] = [readTakes(bytes)[0]!, readTakes(bandFile(2))[0]!];
    const rows = ({ notes }: typeof again) =>
      [...notes.tick].map((tick, i) => `${tick} ${notes.pitch[i]} ${notes.velocity[i]} ${notes.duration[i]}`).sort(); // prettier-ignore
    assert.deepEqual(rows(again), rows(source));
    assert.equal(again.timing.markers[0]!.text, 'Pass 2', 'each bar says whence');
    const { body: kept } = await api.get(`/api/comps/${id}`);
    assert.equal(kept.takeId, body.takeId);
  });

  it('bind by all who contributed where several were used', async () => {
    const { id, comp } = await begun('Both');
    const { body: half } = await allOf(comp, id, `${takes[0]} 1`);
    const taken = { ...half.comp.taken, 'bass: Bass': { 1: `${takes[1]} 1` } };
    await api.put(`/api/comps/${id}`, { base: half.comp, comp: { ...half.comp, taken } });
    const { body } = await api.post(`/api/comps/${id}/keep`, {});
    const { body: made } = await api.get(`/api/takes/${body.takeId}`);
    assert.equal(made.contributor, 'Ines and Bo');
    assert.equal(made.rights, 'licensed');
  });

  it('are set aside and brought back', async () => {
    const { id } = await begun('Gone');
    const titles = async () => (await api.get('/api/comps')).body.comps.map(({ title }: { title: string }) => title); // prettier-ignore
    await api.patch(`/api/comps/${id}`, { aside: true });
    assert.ok(!(await titles()).includes('Gone'));
    await api.patch(`/api/comps/${id}`, { aside: false });
    assert.ok((await titles()).includes('Gone'));
  });
});
