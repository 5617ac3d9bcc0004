import assert from 'node:assert/strict';
import { test } from 'node:test';
import { eq } from 'drizzle-orm';
import { parseMidi } from 'midi-file';
import { READING_METHOD, type KeptReading } from '../../src/core/analyze/reading.ts';
import { readTakes } from '../../src/core/capture/take.ts';
import { keyName, type Key } from '../../src/core/music/key.ts';
import { baseOf, splitOf, type Base } from '../../src/core/split/base.ts';
import { splitTake } from '../../src/core/split/split.ts';
import { openLibrary, type Db } from '../../src/server/db/client.ts';
import { parts, takeBases, takeReadings, takes } from '../../src/server/db/schema.ts';
import { assertProblem } from '../support/api.ts';
import { midiBytes, trackOf } from '../support/midi.ts';
import { databaseFor } from '../support/server.ts';
import { serverForTests } from '../support/suite.ts';

/** What moves stand on, and what was told of the music, is kept with the take: it opens as it was left, whatever the methods of today find. */

const { api, server } = await serverForTests();

/** Does something to the database beside the server, as another version of it would have. */
async function inDatabase(change: (db: Db) => Promise<unknown>): Promise<void> {
  const { dataDirectory } = server;
  const library = await openLibrary({
    dataDirectory,
    join: true,
    databaseUrl: (await databaseFor(dataDirectory)).DATABASE_URL,
  });
  try {
    await change(library.db);
  } finally {
    await library.close();
  }
}

/** Eight low notes in one track and eight high ones in another. */
const file = (at: number) =>
  midiBytes(
    [40, 76].map((pitch) =>
      trackOf(Array.from({ length: 8 }, (_, i) => [i * 480 + at, 400, pitch + (i % 3)] as const)),
    ),
  );

async function takenIn(at: number): Promise<{ id: string; base: Base }> {
  const [id] = (await api.upload(file(at), `two lines ${at}.mid`)).body.takeIds;
  return { id, base: (await api.get(`/api/takes/${id}/base`)).body };
}

const move = (id: string, one: object) => api.post(`/api/takes/${id}/moves`, { move: one });

const partRows = async (id: string): Promise<{ name: string; role: string; notes: number }[]> =>
  (await api.get('/api/takes?limit=100')).body.takes.find((take: { id: string }) => take.id === id).parts;

test('the first split is kept when a take comes in', async () => {
  const { base } = await takenIn(0);
  assert.deepEqual(base, baseOf(splitTake(readTakes(file(0))[0]!)));
  assert.equal(splitOf(base).owner.filter((part) => part === 0).length, 8);
});

test('a take that another method had split otherwise opens as it was left: moves, parts, files, phrases', async () => {
  const { id, base } = await takenIn(1);
  // Another method found an early and a late part, and called them something else.
  const order = splitOf(base).owner.length;
  const owner = Array.from({ length: order }, (_, note) => (note < order / 2 ? '00' : '01')).join('');
  const [first, second] = base.parts.map((part, i) => ({
    ...part,
    id: `p${i + 7}`,
    name: ['Early', 'Late'][i]!,
  }));
  const other: Base = { ...base, method: 0, owner, parts: [first!, second!] };
  await inDatabase((db) => db.update(takeBases).set({ base: other }).where(eq(takeBases.takeId, id)));

  assert.equal((await move(id, { move: 'rename', part: 'p8', name: 'Later' })).status, 200);
  assertProblem(await move(id, { move: 'rename', part: 'p1', name: 'x' }), 422, /p1/);
  assert.equal((await move(id, { move: 'role', part: 'p7', role: 'lead' })).status, 200);
  assert.deepEqual(
    (await partRows(id)).map(({ name, notes }) => [name, notes]),
    [
      ['Early', 8],
      ['Later', 8],
    ],
  );
  assert.deepEqual((await api.get(`/api/takes/${id}/base`)).body, other);

  const { body } = await api.get(`/api/takes/${id}/parts/p8`);
  const onsets = parseMidi(body as Uint8Array).tracks.flatMap((events) => {
    let tick = 0;
    return events.flatMap((event) => {
      tick += event.deltaTime;
      return event.type === 'noteOn' && event.velocity > 0 ? [tick] : [];
    });
  });
  assert.equal(onsets.length, 8);
  assert.ok(Math.min(...onsets) >= 4 * 480, 'the late half');

  const made = await api.post('/api/phrases', { takeId: id, parts: ['p8'], startBar: 2, bars: 1 });
  assert.equal((await api.get(`/api/phrases/${made.body.phraseIds[0]}`)).body.partName, 'Later');
  await api.send('POST', `/api/takes/${id}/undo`);
  await api.send('POST', `/api/takes/${id}/undo`);
  assert.deepEqual(
    (await partRows(id)).map(({ name }) => name),
    ['Early', 'Late'],
  );
});

test('a take of a library that kept no first split keeps the roles that it was told it has', async () => {
  const { id, base } = await takenIn(2);
  await inDatabase(async (db) => {
    await db.delete(takeBases).where(eq(takeBases.takeId, id));
    await db.update(parts).set({ role: 'pad', certainty: 0.25 }).where(eq(parts.takeId, id));
  });
  const kept: Base = (await api.get(`/api/takes/${id}/base`)).body;
  assert.deepEqual(
    kept.parts.map(({ id: part, role, certainty }) => [part, role, certainty]),
    base.parts.map(({ id: part }) => [part, 'pad', 0.25]),
  );
  assert.equal(kept.owner, base.owner);
  await move(id, { move: 'rename', part: 'p1', name: 'Low' });
  assert.deepEqual(
    (await partRows(id)).map(({ name, role }) => [name, role]),
    [
      ['Low', 'pad'],
      [base.parts[1]!.name, 'pad'],
    ],
  );
});

/** Four bars of held chords, twice: C F G7 C. */
const changes = (at: number) =>
  midiBytes([
    trackOf(
      Array.from({ length: 8 }, (_, bar) =>
        [
          [60, 64, 67],
          [60, 65, 69],
          [59, 62, 65, 67],
          [60, 64, 67],
        ][bar % 4]!.map((pitch) => [bar * 1920 + at, 1900, pitch] as const),
      ).flat(),
    ),
  ]);

const told = async (id: string): Promise<KeptReading[]> => (await api.get(`/api/takes/${id}/told`)).body;

const firstKey = async (id: string): Promise<string> =>
  keyName((await api.get(`/api/takes/${id}`)).body.keys[0] as Key);

test('what somebody was told of the music stays what the take says, until it is heard anew; that can be taken back', async () => {
  const [id] = (await api.upload(changes(0), 'changes.mid')).body.takeIds as string[];
  assert.equal(await firstKey(id!), 'C major');
  assert.deepEqual(await told(id!), [], 'what the methods of today said is found again');
  await api.post(`/api/takes/${id}/told`, {});
  await api.post(`/api/takes/${id}/told`, {});
  // An older method had heard it in F, and an F in every bar.
  await inDatabase(async (db) => {
    const kept = await db.select().from(takeReadings).where(eq(takeReadings.takeId, id!));
    assert.equal(kept.length, 1, 'kept once');
    const { reading } = kept[0]!;
    assert.equal(reading.method, READING_METHOD);
    const f = reading.chords.find(({ chord }) => chord?.root === 5)!.chord;
    const older = {
      ...reading,
      method: 0,
      keys: [{ tonic: 5, mode: 'major' as const, certainty: 0.5 }],
      chords: reading.chords.map((one) => ({ ...one, chord: f })),
    };
    await db.update(takeReadings).set({ method: 0, reading: older }).where(eq(takeReadings.takeId, id!));
    await db.update(takes).set({ keys: older.keys, keysMethod: 0, revision: 1 }).where(eq(takes.id, id!));
  });

  assert.equal((await told(id!))[0]!.told.keys[0]!.tonic, 5);
  await move(id!, { move: 'rename', part: 'p1', name: 'Chords' });
  assert.equal(await firstKey(id!), 'F major', 'a name changes nothing that is heard');
  const cut = async (startBar: number) => {
    const made = await api.post('/api/phrases', { takeId: id, parts: ['p1'], startBar, bars: 1 });
    return (await api.get(`/api/phrases/${made.body.phraseIds[0]}`)).body.numerals as string;
  };
  assert.equal((await cut(1)).trim(), 'I', 'phrases say what the take says');

  await move(id!, { move: 'hearAnew', method: READING_METHOD });
  assert.equal(await firstKey(id!), 'C major');
  assert.equal((await cut(2)).trim(), 'IV');
  await api.send('POST', `/api/takes/${id}/undo`);
  assert.equal(await firstKey(id!), 'F major');
  // A move of notes is heard as today; what was told before it is still there behind it.
  await move(id!, { move: 'setAside', part: 'p1', reason: 'x', fromTick: 1920 * 7, toTick: 1920 * 8 });
  assert.equal(await firstKey(id!), 'C major');
  await api.send('POST', `/api/takes/${id}/undo`);
  assert.equal(await firstKey(id!), 'F major');
});

test('of a take that nobody looked into the key that lists have shown is kept', async () => {
  const [id] = (await api.upload(changes(1), 'listed.mid')).body.takeIds as string[];
  await inDatabase((db) =>
    db
      .update(takes)
      .set({ keys: [{ tonic: 7, mode: 'major', certainty: 0.5 }], keysMethod: 0 })
      .where(eq(takes.id, id!)),
  );
  assert.deepEqual(
    (await told(id!)).map(({ moves, told: said }) => [moves, said.method, said.keys[0]!.tonic, said.chords]),
    [[[], 0, 7, undefined]],
  );
  await api.post(`/api/takes/${id}/told`, {});
  const [kept] = await told(id!);
  assert.equal(kept!.told.keys[0]!.tonic, 7);
  assert.equal(kept!.told.chords?.length, 7, 'with the chords that were told beside it');
});

test('what is told of no take is refused', async () => {
  const nobody = '00000000-0000-4000-8000-000000000000';
  assertProblem(await api.get(`/api/takes/${nobody}/told`), 404, /take/);
  assertProblem(await api.post(`/api/takes/${nobody}/told`, {}), 404, /take/);
});
