import assert from 'node:assert/strict';
import { after, test } from 'node:test';
import { randomUUID } from 'node:crypto';
import { bandFile } from '../../src/core/standins/band.ts';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import { isEnough, RULES } from '../../src/server/people/permissions.ts';
import { assertProblem } from '../support/api.ts';
import { besideServer, newcomer, PASSWORD, personClient, tokenFor } from '../support/people.ts';
import { serverForTests } from '../support/suite.ts';

/** Who may come in, and what they may do: every endpoint as nobody, guest, member and owner. */

const { server } = await serverForTests({ environment: { ACCOUNTS: 'on' } });
const library = await besideServer(server);
after(() => library.close());

const owner = await newcomer(server, library, { name: 'Ida', role: 'owner' });
const member = await newcomer(server, library, { name: 'Jonas', role: 'member' });
const { body: shown } = await member.post('/api/baskets', { name: 'For the copyist' });
const { body: hidden } = await member.post('/api/baskets', { name: 'Not for the copyist' });
const guest = await newcomer(server, library, { name: 'Kaja', role: 'guest', baskets: [shown.id] });
const nobody = personClient(server.address);

/** What would end what the other tests need, is a stream, or fills the library. */
const LEFT_OUT = ['DELETE /api/session', 'POST /api/session', 'GET /api/events', 'POST /api/demo'];

for (const [who, role, client] of [
  ['nobody', null, nobody],
  ['a guest', 'guest', guest],
  ['a member', 'member', member],
  ['an owner', 'owner', owner],
] as const) {
  test(`every endpoint as ${who}: what is not for them is refused, and nothing else is`, async () => {
    for (const [pattern, rules] of Object.entries(RULES))
      for (const [method, rule] of Object.entries(rules)) {
        if (LEFT_OUT.includes(`${method} ${pattern}`)) continue;
        const id = rule.basket ? shown.id : randomUUID();
        const path = pattern
          .replace('[...rest]', 'nowhere')
          .replace('[id]', id)
          .replace(/\[\w+\]/g, '1');
        const init = method === 'GET' ? {} : { headers: { 'content-type': 'application/json' }, body: '{}' };
        const { status } = await client.send(method, path, init);
        const what = `${method} ${pattern} answered ${status}`;
        if (isEnough(role, rule)) assert.ok(status !== 401 && status !== 403 && status < 500, what);
        else assert.equal(status, role === null ? 401 : 403, what);
      }
  });
}

test('a guest sees the baskets that were chosen, and no other; what they send back waits under their name', async () => {
  const bytes = writeMidiFile(bandFile({ chart: 'Em | Am | B7 | Em', style: 'river', bpm: 96, seed: 7, title: 'Ferry' })); // prettier-ignore
  const { body: taken } = await member.upload(bytes, 'ferry.mid');
  const { body: made } = await member.post('/api/phrases', { takeId: taken.takeIds[0], parts: ['p1', 'p2'], startBar: 1, bars: 2, keep: true }); // prettier-ignore
  await member.post(`/api/baskets/${shown.id}/items`, { phraseIds: [made.phraseIds[0]] });
  await member.post(`/api/baskets/${hidden.id}/items`, { phraseIds: [made.phraseIds[1]] });
  const { baskets } = (await guest.get('/api/shared')).body;
  assert.deepEqual(baskets.map((one: { name: string }) => one.name), ['For the copyist']); // prettier-ignore
  assert.equal((await guest.get(`/api/baskets/${shown.id}/heard?phrase=${made.phraseIds[0]}`)).status, 200);
  assertProblem(await guest.get(`/api/baskets/${shown.id}/heard?phrase=${made.phraseIds[1]}`), 404, /no such phrase/); // prettier-ignore
  assertProblem(await guest.get(`/api/baskets/${hidden.id}/heard?phrase=${made.phraseIds[1]}`), 403, /not for you/); // prettier-ignore
  assertProblem(await guest.get(`/api/baskets/${hidden.id}/pack`), 403, /not for you/);
  assertProblem(await guest.get(`/api/phrases/${made.phraseIds[0]}`), 403, /not for you/);
  const pack = await guest.get(`/api/baskets/${shown.id}/pack`);
  assert.equal(pack.type, 'application/zip');
  const sent = await guest.sendFile(`/api/baskets/${shown.id}/answer`, pack.body, 'back.zip');
  assert.deepEqual([sent.status, sent.body], [200, {}], 'what becomes of it is not theirs to see');
  const { packs } = (await member.get('/api/merge')).body;
  assert.deepEqual(packs.map((one: { sentBy: string }) => one.sentBy), ['Kaja']); // prettier-ignore
  const { deeds } = (await member.get(`/api/deeds/${shown.id}`)).body;
  const told = deeds.map((one: { by: string; did: string }) => `${one.by} ${one.did}`);
  for (const one of [
    'Kaja sent a pack back',
    'Kaja took it as a pack',
    'Jonas put phrases into it',
    'Jonas made it',
  ])
    assert.ok(told.includes(one), `${one} is not among ${told.join(', ')}`);
});

test('whose it is who brings it, where nobody says otherwise', async () => {
  const bytes = writeMidiFile(
    bandFile({ chart: 'Dm | Gm', style: 'river', bpm: 90, seed: 3, title: 'Mill' }),
  );
  const { body } = await member.upload(bytes, 'mill.mid');
  assert.equal((await member.get(`/api/takes/${body.takeIds[0]}`)).body.contributor, 'Jonas');
});

test('the link that the start has shown lets nobody in once there is an owner', async () => {
  const { invitations } = (await owner.get('/api/invitations')).body;
  assert.deepEqual(invitations.filter(({ role }: { role: string }) => role === 'owner'), []); // prettier-ignore
});

test('a link lets one person in, once; two at one moment are one', async () => {
  const token = await tokenFor(library, 'member');
  const [one, two] = [personClient(server.address), personClient(server.address)];
  assert.deepEqual((await one.put('/api/join', { token })).body, { role: 'member', note: '', name: null });
  const answers = await Promise.all([
    one.post('/api/join', { token, name: 'Lea', password: PASSWORD }),
    two.post('/api/join', { token, name: 'Mats', password: PASSWORD }),
  ]);
  assert.deepEqual(answers.map(({ status }) => status).sort(), [200, 409]);
  assertProblem(await nobody.put('/api/join', { token }), 409, /used already/);
  assertProblem(await nobody.put('/api/join', { token: 'none' }), 404, /none of this library/);
  const mine = await tokenFor(library, 'member');
  assertProblem(await nobody.post('/api/join', { token: mine, name: 'ida', password: PASSWORD }), 409, /called "ida" already/); // prettier-ignore
  assertProblem(await nobody.post('/api/join', { token: mine, name: 'Nils', password: 'password1234' }), 422, /easily guessed/); // prettier-ignore
  assert.equal((await nobody.put('/api/join', { token: mine })).status, 200, 'a link is not used up by what was refused'); // prettier-ignore
});

test('signing in: the cookie is no script’s and no other page’s; what is wrong is not told; tries are counted', async () => {
  const client = personClient(server.address);
  const answer = await fetch(`${server.address}/api/session`, {
    method: 'POST',
    headers: { origin: server.address, 'content-type': 'application/json' },
    body: JSON.stringify({ name: 'JONAS', password: PASSWORD }),
  });
  const [cookie] = answer.headers.getSetCookie();
  assert.match(cookie!, /^basket=[\w-]{43};/);
  for (const wanted of [/HttpOnly/i, /SameSite=Strict/i, /Path=\//i, /Max-Age=43200/i]) assert.match(cookie!, wanted); // prettier-ignore
  const wrong = await client.post('/api/session', { name: 'Jonas', password: 'another password' });
  const unknown = await client.post('/api/session', { name: 'Nobody', password: 'another password' });
  assertProblem(wrong, 401, /do not belong together/);
  assert.deepEqual(unknown.body, wrong.body);
  for (let k = 0; k < 5; k++) await client.post('/api/session', { name: 'Nobody', password: 'another password' }); // prettier-ignore
  assertProblem(
    await client.post('/api/session', { name: 'nobody', password: PASSWORD }),
    429,
    /Too many tries/,
  );
  assert.equal((await client.post('/api/session', { name: 'Jonas', password: PASSWORD })).status, 200, 'others are not shut out by it'); // prettier-ignore
  const { body: me } = await client.get('/api/me');
  assert.deepEqual([me.accounts, me.person.name, me.person.role], [true, 'Jonas', 'member']);
  const before = client.cookie();
  await client.send('DELETE', '/api/session');
  const replayed = await fetch(`${server.address}/api/takes`, { headers: { cookie: before } });
  assert.equal(replayed.status, 401, 'a session that has ended is none, whoever kept its cookie');
});

test('another password ends what was signed in elsewhere; a new link does so too', async () => {
  const here = await newcomer(server, library, { name: 'Oda', role: 'member' });
  const there = personClient(server.address);
  await there.post('/api/session', { name: 'Oda', password: PASSWORD });
  assert.equal((await here.get('/api/me/sessions')).body.sessions.length, 2);
  const fresh = 'market clock heron seven';
  assertProblem(await here.patch('/api/me', { old: 'wrong', password: fresh }), 401, /old password/);
  assert.equal((await here.patch('/api/me', { old: PASSWORD, password: fresh })).status, 200);
  assert.equal((await there.get('/api/takes')).status, 401);
  assert.equal((await here.get('/api/takes')).status, 200);
  const { body } = await owner.get('/api/people');
  const oda = body.people.find((one: { name: string }) => one.name === 'Oda');
  const { body: made } = await owner.post('/api/invitations', {
    note: 'Oda',
    role: 'member',
    personId: oda.id,
  });
  const token = made.link.split('#')[1];
  assert.equal((await there.put('/api/join', { token })).body.name, 'Oda');
  await there.post('/api/join', { token, name: 'whatever', password: 'yet another lamp of hers' });
  assert.equal((await here.get('/api/takes')).status, 401);
  assert.equal((await there.get('/api/me')).body.person.name, 'Oda');
});

test('one owner stays; who may no longer come in is out at once, and what they did stands', async () => {
  const { people } = (await owner.get('/api/people')).body;
  const idOf = (name: string) => people.find((one: { name: string }) => one.name === name).id;
  assertProblem(
    await owner.patch(`/api/people/${idOf('Ida')}`, { role: 'member' }),
    409,
    /One owner has to stay/,
  );
  assertProblem(
    await owner.patch(`/api/people/${idOf('Ida')}`, { closed: true }),
    409,
    /One owner has to stay/,
  );
  const leaver = await newcomer(server, library, { name: 'Per', role: 'member' });
  await leaver.post('/api/baskets', { name: 'Last one' });
  const { people: now } = (await owner.get('/api/people')).body;
  const per = now.find((one: { name: string }) => one.name === 'Per').id;
  assert.equal((await owner.patch(`/api/people/${per}`, { closed: true })).status, 200);
  assert.equal((await leaver.get('/api/baskets')).status, 401);
  assertProblem(await leaver.post('/api/session', { name: 'Per', password: PASSWORD }), 401, /do not belong/);
  const { deeds } = (await owner.get('/api/deeds')).body;
  assert.ok(deeds.some((one: { by: string; did: string }) => one.by === 'Per' && one.did === 'made it'));
});

test('nothing that is kept lets anybody in: no password and no token stands in the database', async () => {
  const { rows } = (await library.db.execute("select (select string_agg(people::text, ' ') from people) || (select string_agg(sessions::text, ' ') from sessions) || (select string_agg(invitations::text, ' ') from invitations) as all")) as unknown as { rows: { all: string }[] }; // prettier-ignore
  assert.ok(!rows[0]!.all.includes(PASSWORD));
  assert.ok(!rows[0]!.all.includes(owner.cookie().split('=')[1]!));
});
