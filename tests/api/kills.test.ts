import assert from 'node:assert/strict';
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import { unzipSync } from 'fflate';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { bandFile } from '../../src/core/standins/band.ts';
import { seededRandom } from '../../src/core/random.ts';
import { apiClient, type Api } from '../support/api.ts';
import { tune } from '../support/midi.ts';
import { startTestServer } from '../support/server.ts';

const onPostgres = process.env.TEST_DATABASE_URL !== undefined;

const song = (seed: number) =>
  writeMidiFile(bandFile({ chart: 'Dm | Gm | A7 | Dm', style: 'river', bpm: 96, seed, title: 'Ferry' }));

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Kills: fewer on PostgreSQL, whose own durability is not ours to show. */
const KILLS = onPostgres ? 4 : 20;

/** Files of an intake that goes on over all the kills; every fiftieth is no music. */
const FILES = 1000;
const LETTERS = FILES / 50;

/** Files an intake has taken in; 0 from a server that does not answer. */
async function takenSoFar(address: string, id: string): Promise<number> {
  try {
    const answer = await fetch(`${address}/api/jobs/${id}`);
    return ((await answer.json()) as { counts: { taken: number } }).counts.taken;
  } catch {
    return 0;
  }
}

test(`${KILLS} kills during an intake of ${FILES} files, saving and packing: nothing is lost, nothing is half, nothing is there twice`, async () => {
  const random = seededRandom(4);
  const acknowledged = { takes: new Map<string, number>(), names: new Map<string, string>() };
  let server = await startTestServer();
  let seed = 0;
  try {
    const letter = new TextEncoder().encode('a letter');
    const intake = await apiClient(server.address).sendFiles(
      Array.from({ length: FILES }, (_, i) => ({
        name: `file ${i}.mid`,
        bytes: i % 50 === 49 ? letter : tune(i),
      })),
    );
    for (let kill = 0; kill < KILLS; kill++) {
      const api = apiClient(server.address);
      let tellFirst = () => {};
      const first = new Promise<void>((resolve) => (tellFirst = resolve));
      const work = (async () => {
        for (;;) {
          const mine = ++seed;
          const { status, body } = await api.upload(song(mine), `${mine}.mid`);
          if (status === 201) acknowledged.takes.set(body.takeIds[0], mine);
          const made = await api.post('/api/phrases', {
            takeId: body.takeIds[0],
            parts: ['p2', 'p5'],
            startBar: 1,
            bars: 4,
          });
          const [id] = made.body.phraseIds;
          const { role, takeKey, recipe } = (await api.get(`/api/phrases/${id}`)).body;
          const change = {
            name: `kept ${mine}`,
            role,
            takeKey,
            recipe,
            tags: ['a', 'b'],
            projectId: null,
            rights: '',
            state: 'kept',
          };
          const saved = await api.put(`/api/phrases/${id}`, change);
          if (saved.status === 200) acknowledged.names.set(id, `kept ${mine}`);
          tellFirst();
          const basket = (await api.post('/api/baskets', { name: `basket ${mine}` })).body;
          await api.post(`/api/baskets/${basket.id}/items`, { phraseIds: [id] });
          await api.get(`/api/baskets/${basket.id}/pack`);
        }
      })().catch(() => 'ended with the server');
      // Every other life lasts until something has been saved, however slow the machine.
      if (kill % 2) await Promise.race([first, pause(30_000)]);
      const until = Date.now() + 100 + random() * 400;
      // A fast machine is stopped where its share of the intake is done: there is work left at every kill.
      const share = (FILES * (kill + 1)) / (KILLS + 2);
      while (Date.now() < until && (await takenSoFar(server.address, intake)) < share) await pause(30);
      server.process.kill('SIGKILL');
      await work;
      server = await startTestServer({ dataDirectory: server.dataDirectory });
    }
    const api = apiClient(server.address);
    const resumed = (await api.get(`/api/jobs/${intake}`)).body;
    assert.ok(resumed.counts.waiting > 0, 'the intake was running at every kill');
    const { state, counts } = await api.intakeEnd(intake);
    assert.deepEqual(
      [state, counts],
      ['done', { waiting: 0, taken: FILES - LETTERS, known: 0, refused: LETTERS, opened: 0 }],
    );
    const takes = await allTakes(api);
    const fromIntake = takes.filter(({ fileName }) => fileName.startsWith('file '));
    assert.equal(fromIntake.length, FILES - LETTERS);
    assert.equal(new Set(fromIntake.map(({ fileName }) => fileName)).size, fromIntake.length);
    const known = new Map(takes.map((take) => [take.id, take]));
    for (const [id, mine] of acknowledged.takes) {
      assert.ok(known.has(id), `take ${mine} is there`);
      assert.deepEqual((await api.get(`/api/takes/${id}/file`)).body, song(mine));
    }
    for (const [id, name] of acknowledged.names) {
      const phrase = (await api.get(`/api/phrases/${id}`)).body;
      assert.deepEqual(
        [phrase.name, phrase.tags, phrase.state, phrase.siblings.length],
        [name, ['a', 'b'], 'kept', 1],
      );
    }
    // Nothing half: every take has its parts and all its notes in them, every sheaf both its phrases.
    for (const take of takes) {
      const notes = take.parts.reduce((sum, part) => sum + part.notes, 0);
      assert.equal(notes, take.facts.notes);
      assert.ok(take.phrases === 0 || take.phrases === 2, `${take.phrases} phrases`);
    }
    for (const basket of (await api.get('/api/baskets')).body.baskets) {
      if (basket.phrases === 0) continue;
      const files = unzipSync((await api.get(`/api/baskets/${basket.id}/pack`)).body);
      const manifest = Object.entries(files).find(([name]) => name.endsWith('manifest.json'))![1];
      const { phrases } = JSON.parse(new TextDecoder().decode(manifest));
      assert.equal(phrases.length, basket.phrases);
      assert.equal(Object.keys(files).filter((name) => name.includes('/together/')).length, 1);
    }
    assert.ok(acknowledged.names.size > 0);
    assert.deepEqual(
      readdirSync(join(server.dataDirectory, 'originals')).filter(
        (name) => name.endsWith('.part') && takes.some((take) => name.startsWith(`${take.sha256}.part`)),
      ),
      [],
    );
  } finally {
    await server.remove();
  }
});

interface TakeLine {
  id: string;
  sha256: string;
  fileName: string;
  phrases: number;
  facts: { notes: number };
  parts: { notes: number }[];
}

async function allTakes(api: Api): Promise<TakeLine[]> {
  const takes: TakeLine[] = [];
  for (;;) {
    const { body } = await api.get(`/api/takes?limit=1000&offset=${takes.length}`);
    takes.push(...body.takes);
    if (takes.length >= body.total) return takes;
  }
}
