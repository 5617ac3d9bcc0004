import assert from 'node:assert/strict';
import { test } from 'node:test';
import { assertProblem } from '../support/api.ts';
import { serverForTests } from '../support/suite.ts';

const { api } = await serverForTests({ demo: true });

interface Row {
  id: string;
  name: string;
  source: string | null;
  capture: unknown;
  createdAt: string;
  parts: unknown[];
  phrases: number;
  facts: { notes: number; bars: number; seconds: number; tempos: { bpm: number }[] };
  account: { findings: { code: string }[] };
}

const list = async (query: string): Promise<{ total: number; takes: Row[] }> =>
  (await api.get(`/api/takes?${query}`)).body;

test('the demo: at least twenty takes of all stand-ins, every mishap told, clean takes without a warning', async () => {
  const { takes, total } = await list('limit=1000');
  assert.ok(total >= 20, String(total));
  const sources = new Set(takes.map(({ source }) => source));
  for (const name of ['Chord player', 'Arpeggiator', 'Band', 'Drum player', 'Strummer', 'Step grid'])
    assert.ok(sources.has(name), name);
  const told = (name: string) =>
    takes.find((take) => take.name === name)!.account.findings.map(({ code }) => code);
  assert.deepEqual(
    Object.fromEntries(
      [
        'Frost on the glass',
        'Crates and barrels',
        'Clock steps',
        'Salt overture',
        'Tide turning',
        'Goose brushes',
        'Ferry band, with an ending nobody asked for',
        'Market opening',
        'Stall strum',
        'Oar song kit 96bpm',
        'Lantern arpeggio',
        'Storm on the crossing',
        'Riot among the baskets',
      ].map((name) => [name, told(name)]),
    ),
    {
      'Frost on the glass': ['doubled'],
      'Crates and barrels': ['drumChannel'],
      'Clock steps': ['oneBar'],
      'Salt overture': ['oneTrack'],
      'Tide turning': ['late', 'wrongChord'],
      'Goose brushes': ['hung'],
      'Ferry band, with an ending nobody asked for': ['tail'],
      'Market opening': ['drumChannel', 'pieces'],
      'Stall strum': [],
      'Oar song kit 96bpm': [],
      'Lantern arpeggio': [],
      'Storm on the crossing': ['doubled', 'tail', 'drumChannel', 'pieces', 'click', 'layered'],
      'Riot among the baskets': ['hung', 'tail', 'drumChannel', 'pieces', 'click', 'layered'],
    },
  );
});

test('found by words, source and kind; in the order that is asked; page by page', async () => {
  assert.deepEqual(
    (await list('search=goose%20STRUM')).takes.map(({ name }) => name),
    ['Goose strum 132bpm Em'],
  );
  const strummed = await list('source=Strummer');
  assert.equal(strummed.total, 2);
  const recorded = await list('filter=recorded');
  assert.ok(recorded.total > 0 && recorded.takes.every(({ capture }) => capture !== null));
  const warned = await list('filter=warned');
  assert.ok(warned.takes.every(({ account }) => account.findings.length > 0));
  const byNotes = (await list('sort=notes')).takes.map(({ facts }) => facts.notes);
  assert.deepEqual(
    byNotes,
    [...byNotes].sort((a, b) => b - a),
  );
  const all = (await list('sort=name')).takes.map(({ id }) => id);
  const pages = [];
  for (let offset = 0; offset < all.length; offset += 7)
    pages.push(...(await list(`sort=name&limit=7&offset=${offset}`)).takes.map(({ id }) => id));
  assert.deepEqual(pages, all);
  assertProblem(await api.get('/api/takes?sort=taste'), 400, /"sort" is one of newest/);
});

test('each order turned round is the other way, with what has no value last in both', async () => {
  const values: Record<string, (take: Row) => number | string | null> = {
    newest: ({ createdAt }) => createdAt,
    name: ({ name }) => name.toLowerCase(),
    parts: ({ parts }) => parts.length,
    notes: ({ facts: { notes } }) => notes,
    bars: ({ facts: { bars } }) => bars,
    length: ({ facts: { seconds } }) => seconds,
    tempo: ({ facts: { tempos } }) => tempos[0]?.bpm ?? null,
    phrases: ({ phrases }) => phrases,
    source: ({ source }) => source,
  };
  for (const [sort, value] of Object.entries(values)) {
    const there = (await list(`sort=${sort}&limit=1000`)).takes.map(value);
    const turned = (await list(`sort=${sort}&limit=1000&turned=1`)).takes.map(value);
    const said = (all: typeof there) => all.filter((one) => one !== null);
    // Equal values may stand in another order: the values themselves are what is turned.
    assert.deepEqual(said(turned), said(there).reverse(), sort);
    for (const all of [there, turned]) assert.deepEqual(all.slice(0, said(all).length), said(all), sort);
    assert.ok(new Set(said(there)).size > 1, `${sort} orders something`);
  }
});

test('several takes are changed at once and answer what they were; a chart is held against what sounded', async () => {
  const { takes } = await list('search=stall');
  const ids = takes.map(({ id }) => id);
  assert.ok(ids.length >= 2);
  const change = { ids, source: 'Old tape', contributor: 'Copyist', rights: 'lent' };
  const { body } = await api.patch('/api/takes', change);
  assert.deepEqual(
    new Set(body.before.map(({ source }: { source: string }) => source)),
    new Set(takes.map(({ source }) => source)),
  );
  for (const id of ids) {
    const take = (await api.get(`/api/takes/${id}`)).body;
    assert.deepEqual([take.source, take.contributor, take.rights], ['Old tape', 'Copyist', 'lent']);
  }
  const strum = takes.find(({ name }) => name === 'Stall strum')!;
  await api.patch('/api/takes', { ids: [strum.id], asked: { bars: 2 } });
  const { account } = (await api.get(`/api/takes/${strum.id}`)).body;
  assert.deepEqual(
    [account.barsAsked, account.findings.map(({ code }: { code: string }) => code)],
    [2, ['tail']],
  );
  assertProblem(await api.patch('/api/takes', { ids: [], aside: true }), 400, /ids/);
  assertProblem(
    await api.patch('/api/takes', { ids: ['00000000-0000-4000-8000-000000000000'], aside: true }),
    404,
    /no such take/,
  );
});

test('set aside, a take is out of the list and the counts, and comes back whole', async () => {
  const [take] = (await list('search=escapement')).takes;
  const before = (await api.get('/api/status')).body.capture;
  await api.patch('/api/takes', { ids: [take!.id], aside: true });
  assert.equal((await list('search=escapement')).total, 0);
  assert.equal((await list('search=escapement&filter=aside')).total, 1);
  assert.equal((await api.get('/api/status')).body.capture, before - 1);
  await api.patch('/api/takes', { ids: [take!.id], aside: false });
  assert.deepEqual((await list('search=escapement')).takes[0], take);
});

test('the bars beyond what was asked become an ending: phrases that say so', async () => {
  const [take] = (await list('search=ending')).takes;
  const { status, body } = await api.post('/api/phrases', {
    takeId: take!.id,
    parts: ['p1', 'p4'],
    startBar: 9,
    bars: 1,
    tags: ['Ending '],
  });
  assert.equal(status, 201, JSON.stringify(body));
  for (const id of body.phraseIds)
    assert.deepEqual((await api.get(`/api/phrases/${id}`)).body.tags, ['ending']);
});
