import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as delay } from 'node:timers/promises';
import { startPostgres } from '../scripts/postgres.mjs';
import { writeMidiFile } from '../src/core/midi/write.ts';
import { percentile } from '../src/core/numbers.ts';
import { seededRandom } from '../src/core/random.ts';
import { bandFile } from '../src/core/standins/band.ts';
import { openLibrary, type Library } from '../src/server/db/client.ts';
import { listenTo } from '../tests/support/news.ts';
import { newcomer, personClient } from '../tests/support/people.ts';
import { startTestServer, type TestServer } from '../tests/support/server.ts';
import type { BenchResult } from './measure.ts';

/** How many work, how many of them are guests, and for how long in seconds. */
const PEOPLE = 20;
const GUESTS = 4;
const SECONDS = Number(process.env.GROUP_SECONDS ?? 300);

/** Between two things somebody does, in milliseconds: shortest and longest. */
const THINKS = [400, 1600] as const;

/** What was answered with success, and has to be there at the end. */
interface Acknowledged {
  tags: { phrase: string; tag: string }[];
  moves: { take: string; name: string }[];
  items: { basket: string; phrase: string }[];
}

interface Group {
  takes: string[];
  phrases: string[];
  basket: string;
  answers: number[];
  acknowledged: Acknowledged;
  /** Answers that somebody's role should not have got. */
  leaked: string[];
  refused: number;
}

type Client = ReturnType<typeof personClient>;

/**
 * Twenty people, four of them guests, on two processes and one PostgreSQL server: they look, save tags, name parts and fill a basket, with accounts on and
 * news heard by all; one process is killed in the middle and its people go on at the other. Goals: 95 % of the answers within 100 ms, nothing
 * acknowledged lost, nothing seen that a role forbids. The reference is one person alone in the same run.
 */
export async function bench(): Promise<BenchResult> {
  const postgres = await startPostgres();
  const dataDirectory = mkdtempSync(join(tmpdir(), 'basket-group-'));
  const environment = { DATABASE_URL: postgres.url, ACCOUNTS: 'on' };
  const servers = [await startTestServer({ dataDirectory, environment })];
  servers.push(await startTestServer({ dataDirectory, environment }));
  const library = await openLibrary({ dataDirectory, databaseUrl: postgres.url });
  try {
    const group = await filled(servers[0]!, library);
    const clients = await Promise.all(
      Array.from({ length: PEOPLE }, (_, k) => comesIn(servers[k % 2]!, library, k, group)),
    );
    const alone = await working([clients[0]!], group, 15, servers);
    const reference = percentile(alone, 0.95);
    const news = await Promise.all(
      clients.map(({ client }) => listenTo(servers[0]!.address, { cookie: client.cookie() })),
    );
    const [victim] = servers.slice(1);
    const killing = delay((SECONDS / 2) * 1000).then(() => victim!.process.kill('SIGKILL'));
    const answers = await working(clients, group, SECONDS, servers);
    await killing;
    const heard = news.reduce((sum, one) => sum + one.heard.length, 0);
    await Promise.all(news.map((one) => one.end()));
    const lost = await countLost(clients[0]!.client, group);
    const answerP95Ms = percentile(answers, 0.95);
    const { tags, moves, items } = group.acknowledged;
    const acknowledged = tags.length + moves.length + items.length;
    const figures = { answerP95Ms, answerMedianMs: percentile(answers, 0.5), answers: answers.length, acknowledged, lost, leaked: group.leaked.length, told: group.refused, heard }; // prettier-ignore
    console.log(JSON.stringify(figures));
    for (const what of group.leaked.slice(0, 5)) console.log(`leaked: ${what}`);
    return { bench: 'group', ours: answerP95Ms, reference, ratio: answerP95Ms / reference, unit: 'ms', figures }; // prettier-ignore
  } finally {
    await library.close();
    await Promise.all(servers.map((server) => server.stop()));
    postgres.stop();
    rmSync(dataDirectory, { recursive: true, force: true });
  }
}

/** Eight takes, the phrases that are made of them, and a basket. */
async function filled(server: TestServer, library: Library): Promise<Group> {
  const owner = await newcomer(server, library, { name: 'Owner', role: 'owner' });
  const [takes, phrases]: [string[], string[]] = [[], []];
  for (let seed = 1; seed <= 8; seed++) {
    const band = bandFile({ chart: 'Dm | Gm | A7 | Dm', style: 'river', bpm: 80 + seed, seed, title: `Take ${seed}` }); // prettier-ignore
    const { takeIds } = (await owner.upload(writeMidiFile(band), `take ${seed}.mid`)).body;
    const { phraseIds } = (await owner.post(`/api/takes/${takeIds[0]}/make`, {})).body;
    takes.push(takeIds[0]);
    phrases.push(...phraseIds);
  }
  await owner.post('/api/phrases/state', { phraseIds: phrases, state: 'kept' });
  const { body } = await owner.post('/api/baskets', { name: 'For everybody' });
  const acknowledged = { tags: [], moves: [], items: [] };
  return { takes, phrases, basket: body.id, answers: [], acknowledged, leaked: [], refused: 0 };
}

interface Person {
  k: number;
  isGuest: boolean;
  /** At the process they are at. */
  client: Client;
}

async function comesIn(server: TestServer, library: Library, k: number, group: Group): Promise<Person> {
  const isGuest = k >= PEOPLE - GUESTS;
  const client = await newcomer(server, library, {
    name: `Person ${k}`,
    ...(isGuest ? { role: 'guest', baskets: [group.basket] } : { role: 'member' }),
  });
  return { k, isGuest, client };
}

/** Lets people work for so many seconds; answers how long each of their answers took, in milliseconds. */
async function working(
  people: Person[],
  group: Group,
  seconds: number,
  servers: TestServer[],
): Promise<number[]> {
  group.answers = [];
  const until = Date.now() + seconds * 1000;
  await Promise.all(people.map((person) => workOf(person, group, until, servers)));
  return group.answers;
}

async function workOf(person: Person, group: Group, until: number, servers: TestServer[]): Promise<void> {
  const random = seededRandom(person.k + 1);
  const timed: Timed = async (ask) => {
    const began = performance.now();
    const answer = await ask(person.client);
    group.answers.push(performance.now() - began);
    if (answer.status >= 500) throw new Error(`${answer.status}: ${JSON.stringify(answer.body)}`);
    return answer;
  };
  for (let n = 0; Date.now() < until; n++) {
    await delay(THINKS[0] + random() * (THINKS[1] - THINKS[0]));
    const act = person.isGuest ? guestActs : MEMBER_ACTS[Math.floor(random() * MEMBER_ACTS.length)]!;
    try {
      await act(timed, group, { random, mark: `${person.k}-${n}-${until}` });
    } catch (error) {
      if (!(error instanceof TypeError)) throw error;
      // Their process is gone: they go on at the other, signed in as they are.
      person.client = atOther(person.client, servers[0]!);
    }
  }
}

/** The same session at another process. */
function atOther(client: Client, { address }: TestServer): Client {
  return personClient(address, client.cookie());
}

type Timed = (ask: (client: Client) => ReturnType<Client['get']>) => ReturnType<Client['get']>;

interface Turn {
  random: () => number;
  mark: string;
}

type Act = (timed: Timed, group: Group, turn: Turn) => Promise<void>;

const oneOf = <Item>(list: readonly Item[], random: () => number) =>
  list[Math.floor(random() * list.length)]!;

const MEMBER_ACTS: readonly Act[] = [
  async (timed) => void (await timed((client) => client.get('/api/phrases?sort=name'))),
  async (timed) => void (await timed((client) => client.get('/api/phrases/facets'))),
  async (timed, { takes }, { random }) =>
    void (await timed((client) => client.get(`/api/takes/${oneOf(takes, random)}`))),
  saveTag,
  saveTag,
  nameAPart,
  fillBasket,
];

async function saveTag(timed: Timed, group: Group, { random, mark }: Turn): Promise<void> {
  const phrase = oneOf(group.phrases, random);
  const { body } = await timed((client) => client.get(`/api/phrases/${phrase}`));
  const { name, role, takeKey, recipe, fitting, tags, projectId, rights, updatedAt, state } = body;
  const base = { name, role, takeKey, recipe, fitting, tags, projectId, rights };
  const change = { ...base, tags: [...tags, mark], state, basedOn: updatedAt, base };
  const { status } = await timed((client) => client.put(`/api/phrases/${phrase}`, change));
  if (status === 200) group.acknowledged.tags.push({ phrase, tag: mark });
  else group.refused++;
}

async function nameAPart(timed: Timed, group: Group, { random, mark }: Turn): Promise<void> {
  const take = oneOf(group.takes, random);
  const { body } = await timed((client) => client.get(`/api/takes/${take}`));
  const part = `p${1 + Math.floor(random() * 3)}`;
  const move = { move: { move: 'rename', part, name: mark }, revision: body.revision };
  const { status } = await timed((client) => client.post(`/api/takes/${take}/moves`, move));
  if (status === 200) group.acknowledged.moves.push({ take, name: mark });
  else group.refused++;
}

async function fillBasket(timed: Timed, group: Group, { random }: Turn): Promise<void> {
  const phrase = oneOf(group.phrases, random);
  const { basket } = group;
  const { status } = await timed((client) =>
    client.post(`/api/baskets/${basket}/items`, { phraseIds: [phrase] }),
  );
  if (status === 200) group.acknowledged.items.push({ basket, phrase });
  else group.refused++;
}

/** A guest looks at what is theirs, and tries what is not. */
async function guestActs(timed: Timed, group: Group, { random }: Turn): Promise<void> {
  await timed((client) => client.get('/api/shared'));
  const tried = oneOf(['/api/takes', '/api/phrases', '/api/people', `/api/phrases/${group.phrases[0]}`, '/api/deeds'], random); // prettier-ignore
  const { status } = await timed((client) => client.get(tried));
  if (status !== 403) group.leaked.push(`${tried} answered ${status}`);
}

/** How much of what was acknowledged is not there. */
async function countLost(client: Client, { acknowledged, basket }: Group): Promise<number> {
  const { tags, moves, items } = acknowledged;
  const all = async <Value>(ids: readonly string[], path: string, pick: (body: never) => Value) =>
    new Map(
      await Promise.all(
        [...new Set(ids)].map(
          async (id) => [id, pick((await client.get(`${path}/${id}`)).body as never)] as const,
        ),
      ),
    );
  const tagsOf = await all(tags.map((one) => one.phrase), '/api/phrases', (body: { tags: string[] }) => new Set(body.tags)); // prettier-ignore
  const namesOf = await all(moves.map((one) => one.take), '/api/takes', (body: { moves: { name: string }[] }) => new Set(body.moves.map(({ name }) => name))); // prettier-ignore
  const { body } = await client.get(`/api/baskets/${basket}`);
  const inBasket = new Set(body.items.map(({ id }: { id: string }) => id));
  return (
    tags.filter(({ phrase, tag }) => !tagsOf.get(phrase)!.has(tag)).length +
    moves.filter(({ take, name }) => !namesOf.get(take)!.has(name)).length +
    items.filter(({ phrase }) => !inBasket.has(phrase)).length
  );
}
