import { readFileSync } from 'node:fs';
import { setTimeout as delay } from 'node:timers/promises';
import { writeMidiFile } from '../src/core/midi/write.ts';
import type { Move } from '../src/core/split/moves.ts';
import { bandFile } from '../src/core/standins/band.ts';
import { startTestServer, type TestServer } from '../tests/support/server.ts';
import { apiClient } from '../tests/support/api.ts';
import { LatencyProbe, percentileOf } from './latency.ts';
import { middle, type BenchResult } from './measure.ts';

type Api = ReturnType<typeof apiClient>;

/** Choruses of four bars that make about so many notes. */
const SMALL = 17;
const LARGE = 101;

/** People who make moves beside each other, each on a take of their own, for so long (ms). */
const PEOPLE = 10;
const LASTS = 8000;

/**
 * What a move costs in the built server: of fifty moves on one take the last against the first, the CPU time of one that touches no
 * harmony and of one that does, and how long a list takes to be answered while ten people make moves.
 */
export async function bench(): Promise<BenchResult> {
  const server = await startTestServer();
  try {
    const api = apiClient(server.address);
    // What a server that has just started takes to get warm is no part of a move.
    await fiftyMoves(server, api, SMALL, 0);
    const small = await fiftyMoves(server, api, SMALL, 1);
    const large = await fiftyMoves(server, api, LARGE, 2);
    const { getP95Ms, restP95Ms } = await besideMoves(server, api);
    return {
      bench: 'move',
      ours: small.fiftieth,
      reference: small.first,
      ratio: small.fiftieth / small.first,
      unit: 'ms',
      figures: {
        notes: small.notes,
        fiftiethToFirst: small.fiftieth / small.first,
        renameMs: small.renameCpu,
        harmonyMs: small.harmonyCpu,
        notesLarge: large.notes,
        fiftiethToFirstLarge: large.fiftieth / large.first,
        renameMsLarge: large.renameCpu,
        harmonyMsLarge: large.harmonyCpu,
        getP95Ms,
        restP95Ms,
      },
    };
  } finally {
    await server.remove();
  }
}

async function fiftyMoves(server: TestServer, api: Api, choruses: number, seed: number) {
  const { id, notes } = await takenIn(api, choruses, seed);
  // The first opens the take: what is kept at hand is there for the others.
  await move(api, id, rename(0));
  const renames = await timed(server, 25, (k) => move(api, id, rename(k + 1)));
  const harmony = await timed(server, 24, (k) => move(api, id, weigh(k)));
  const rest = await timed(server, 24, (k) => move(api, id, rename(k + 100)));
  return {
    notes,
    // Neighbors are told together: one alone is a matter of chance.
    first: middle(renames.times.slice(0, 5)),
    fiftieth: middle(rest.times.slice(-5)),
    renameCpu: renames.cpu,
    harmonyCpu: harmony.cpu,
  };
}

async function takenIn(api: Api, choruses: number, seed: number): Promise<{ id: string; notes: number }> {
  const chart = Array(choruses).fill('Dm | Gm | A7 | Dm').join(' | ');
  const file = writeMidiFile(bandFile({ chart, style: 'river', bpm: 100, seed, title: `Take ${seed}` }));
  const { body } = await api.upload(file, `take ${seed}.mid`);
  const id = (body.takeIds as string[])[0]!;
  return { id, notes: (await api.get(`/api/takes/${id}`)).body.facts.notes as number };
}

const rename = (k: number): Move => ({ move: 'rename', part: 'p2', name: `Name ${k}` });
const weigh = (k: number): Move => ({ move: 'weigh', part: 'p3', weight: k % 2 });

async function move(api: Api, id: string, one: Move): Promise<void> {
  const answer = await api.post(`/api/takes/${id}/moves`, { move: one });
  if (answer.status !== 200) throw new Error(`A move was answered ${answer.status}.`);
}

/** Milliseconds of each, and the CPU milliseconds of one that all threads of the server took. */
async function timed(server: TestServer, count: number, run: (k: number) => Promise<void>) {
  const times: number[] = [];
  const before = cpuOf(server);
  for (let k = 0; k < count; k++) {
    const start = performance.now();
    await run(k);
    times.push(performance.now() - start);
  }
  return { times, cpu: (cpuOf(server) - before) / count };
}

/** Milliseconds that a process and its threads have computed (proc(5): utime and stime, in hundredths of a second). */
function cpuOf({ process: { pid } }: TestServer): number {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]!.split(' ');
  return (Number(fields[11]) + Number(fields[12])) * 10;
}

/** The same list beside ten people who make moves, and beside nobody, at the 95th percentile. */
async function besideMoves(server: TestServer, api: Api) {
  const ids: string[] = [];
  for (let k = 0; k < PEOPLE; k++) ids.push((await takenIn(api, SMALL, 100 + k)).id);
  const probe = new LatencyProbe(`${server.address}/api/takes?limit=50`);
  await delay(LASTS / 2);
  const restP95Ms = percentileOf(await probe.taken(), 0.95);
  const end = performance.now() + LASTS;
  await Promise.all(
    ids.map(async (id) => {
      // A move a second each, as somebody works who does not stop to listen.
      for (let k = 0; performance.now() < end; k++) {
        await move(api, id, k % 3 === 0 ? weigh(k) : rename(k));
        await delay(1000 * (0.5 + ((k * 7) % 10) / 10));
      }
    }),
  );
  const times = await probe.taken();
  await probe.end();
  return { getP95Ms: percentileOf(times, 0.95), restP95Ms };
}
