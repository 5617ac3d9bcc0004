import { readFileSync, rmSync } from 'node:fs';
import { execFileSync } from 'node:child_process';
import type { Page } from 'playwright-core';
import { apiClient } from '../tests/support/api.ts';
import { startTestServer } from '../tests/support/server.ts';
import { openBrowser } from './frames.ts';
import { LatencyProbe, percentileOf } from './latency.ts';
import { fillLibrary } from '../src/server/demo/fill.ts';
import { openLibrary } from '../src/server/db/client.ts';
import { databaseFor, demoLibrary } from '../tests/support/server.ts';
import { writeMidiFile } from '../src/core/midi/write.ts';
import { performanceFile } from '../src/core/standins/performance.ts';
import { inventedTake } from '../src/server/demo/invented.ts';
import { seedDemo } from '../src/server/demo/seed.ts';
import { startPostgres } from '../scripts/postgres.mjs';
import { BEGINNING } from '../src/sound/player.ts';
import { middle, type BenchResult } from './measure.ts';

const QUESTIONS = [
  '',
  'text=low',
  'role=bass',
  'role=drums&meter=4/4',
  'text=96',
  'tempo=90&key=2+minor',
  'sort=newest',
];

/** Words that more and fewer names hold: each is asked for once, since what was looked for before is remembered. */
const WORDS = ['a', 'er', 'st', 'low', 'ar', 'in', 'ou', 'un', 'be', '1', 'rs', 'lu'];

/** What the design asks for. `BENCH_PHRASES` sets another number of phrases. */
const PHRASES = Number(process.env.BENCH_PHRASES ?? 250_000);

async function largeLibrary(): Promise<string> {
  const dataDirectory = await demoLibrary();
  const { DATABASE_URL: databaseUrl } = await databaseFor(dataDirectory);
  const library = await openLibrary({ dataDirectory, databaseUrl });
  const start = performance.now();
  // A PostgreSQL server has no copy of the demo at hand.
  if (databaseUrl) await seedDemo(library);
  await fillLibrary(library, PHRASES).finally(() => library.close());
  console.error(`Made in ${Math.round((performance.now() - start) / 1000)} s.`);
  return dataDirectory;
}

/** A PostgreSQL server instead of PGlite: BENCH_POSTGRES=1. */
async function otherDatabase(): Promise<() => void> {
  if (!process.env.BENCH_POSTGRES) return () => {};
  const { url, stop } = await startPostgres();
  process.env.TEST_DATABASE_URL = url;
  return stop;
}

/**
 * A quarter of a million phrases in the built server and in Chromium: lists and facets, also while takes come in, sorted by fit, more like
 * one, an arrow to the next sound, how long the page takes, and how large server and folder are. References: the page with the demo's
 * few; the same phrases as objects, gone through one by one for one question.
 */
export async function bench(): Promise<BenchResult> {
  const stop = await otherDatabase();
  try {
    return await measured();
  } finally {
    stop();
  }
}

async function measured(): Promise<BenchResult> {
  const reference = await usableOfDemo();
  const dataDirectory = process.env.BENCH_LIBRARY ?? (await largeLibrary());
  const server = await startTestServer({ dataDirectory });
  const browser = await openBrowser();
  try {
    const api = apiClient(server.address);
    const warm = performance.now();
    await api.get('/api/phrases/facets');
    console.error(`The catalog is read after ${Math.round(performance.now() - warm)} ms.`);
    const lists: number[] = [];
    const facets: number[] = [];
    for (const [round, word] of WORDS.entries())
      for (const question of QUESTIONS) {
        const asked = new URLSearchParams(question);
        asked.set('text', `${asked.get('text') ?? ''} ${word}`);
        facets.push(await timed(() => api.get(`/api/phrases/facets?${asked}`)));
        asked.set('offset', String(round * 200));
        lists.push(await timed(() => api.get(`/api/phrases?${asked}`)));
      }
    const project = (await api.get('/api/projects')).body.projects[0] as { id: string };
    const first = await timed(() => api.get(`/api/phrases?sort=fit&suits=${project.id}`));
    console.error(`Sorted by fit for the first time: ${Math.round(first)} ms.`);
    const fits: number[] = [];
    for (let round = 0; round < 12; round++)
      fits.push(
        await timed(() => api.get(`/api/phrases?sort=fit&suits=${project.id}&offset=${round * 200}`)),
      );
    const { phrases } = (await api.get('/api/phrases?role=bass')).body as { phrases: { id: string }[] };
    const alike: number[] = [];
    for (const { id } of phrases.slice(0, 20))
      alike.push(await timed(() => api.get(`/api/phrases/${id}/like`)));
    const beside = await besideFacets(server.address);
    const besideIntake = await listsWhileTakesComeIn(server.address);
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const usableMs = await usableAfter(page, server.address);
    const soundMs = await arrowToSound(page);
    const figures = {
      phrases: PHRASES,
      listP95Ms: percentileOf(lists, 0.95),
      facetsMs: middle(facets),
      facetsP95Ms: percentileOf(facets, 0.95),
      fitSortMs: middle(fits),
      alikeMs: middle(alike),
      besideP95Ms: beside,
      listBesideIntakeP95Ms: besideIntake,
      arrayScanMs: arrayScan(),
      soundMs,
      usableMs,
      serverMb: memoryOf(server.process.pid!),
      dataMb: Number(execFileSync('du', ['-sm', dataDirectory], { encoding: 'utf8' }).split('\t')[0]),
    };
    return { bench: 'library', ours: usableMs, reference, ratio: usableMs / reference, unit: 'ms', figures };
  } finally {
    await browser.close();
    await server.stop();
    if (!process.env.BENCH_LIBRARY) rmSync(dataDirectory, { recursive: true, force: true });
  }
}

async function usableOfDemo(): Promise<number> {
  const server = await startTestServer({ demo: true });
  const browser = await openBrowser();
  try {
    return await usableAfter(
      await browser.newPage({ viewport: { width: 1280, height: 800 } }),
      server.address,
    );
  } finally {
    await browser.close();
    await server.remove();
  }
}

async function timed(run: () => Promise<unknown>): Promise<number> {
  const start = performance.now();
  await run();
  return performance.now() - start;
}

/** How long another request takes, at the 95th percentile, while facets are counted without a pause. */
async function besideFacets(address: string): Promise<number> {
  const probe = new LatencyProbe(`${address}/api/projects`);
  const end = performance.now() + 3000;
  const api = apiClient(address);
  for (let k = 0; performance.now() < end; k++) await api.get(`/api/phrases/facets?text=${k % 100}a`);
  const taken = await probe.taken();
  await probe.end();
  return percentileOf(taken, 0.95);
}

/** A page of a list, at the 95th percentile, while one take after the other is taken in. */
async function listsWhileTakesComeIn(address: string): Promise<number> {
  const api = apiClient(address);
  const end = performance.now() + 5000;
  const coming = (async () => {
    for (let seed = 900_001; performance.now() < end; seed++)
      await api.upload(writeMidiFile(performanceFile(inventedTake(seed).performance)), `${seed}.mid`);
  })();
  const times: number[] = [];
  for (let k = 0; performance.now() < end; k++)
    times.push(await timed(() => api.get(`/api/phrases?role=bass&offset=${(k % 100) * 60}`)));
  await coming;
  return percentileOf(times, 0.95);
}

/** How long it takes to find and count the same among plain objects, which no facet but three is counted of. */
function arrayScan(): number {
  const roles = ['bass', 'drums', 'keys', 'guitar'];
  const all = Array.from({ length: PHRASES }, (_, k) => ({
    text: `${roles[k % 4]} of take ${k % 50_000}, bars 1 to 4`,
    role: roles[k % 4]!,
    meter: k % 3 === 0 ? '3/4' : '4/4',
    tempo: 60 + (k % 110),
  }));
  const times = Array.from({ length: 9 }, () => {
    const start = performance.now();
    const found = all.filter(({ text, role }) => role === 'bass' && text.includes('a'));
    const counts = new Map<string, number>();
    for (const one of found)
      for (const value of [one.role, one.meter, String(one.tempo)])
        counts.set(value, (counts.get(value) ?? 0) + 1);
    return performance.now() - start;
  });
  return middle(times);
}

async function usableAfter(page: Page, address: string): Promise<number> {
  const start = performance.now();
  await page.goto(`${address}/library`);
  await page.getByRole('listbox').getByRole('option').nth(10).waitFor();
  return performance.now() - start;
}

/**
 * From an arrow key to the beginning of the next phrase, at the median, by the page's own clock: from the key's event to the moment for which its
 * first bar is given to the synthesizer. (How long it takes the test to press a key is not the page's, nor what the sound takes from there to the ear.)
 */
async function arrowToSound(page: Page): Promise<number> {
  await page.keyboard.press('Space');
  await page.locator('[data-sounding="true"]').waitFor();
  await page.evaluate((beginning) => {
    const noted = window as unknown as { pressed: number; took: number[] };
    noted.took = [];
    addEventListener('keydown', ({ timeStamp }) => (noted.pressed = timeStamp), true);
    new PerformanceObserver((marks) => {
      for (const { startTime } of marks.getEntriesByName(beginning))
        noted.took.push(startTime - noted.pressed);
    }).observe({ type: 'mark' });
  }, BEGINNING);
  for (let k = 0; k < 12; k++) {
    const before = await page.locator('[data-sounding="true"]').getAttribute('id');
    await page.keyboard.press('ArrowDown');
    await page.waitForFunction((id) => {
      const row = document.querySelector('[data-sounding="true"]');
      return row !== null && row.id !== id;
    }, before);
    await page.waitForTimeout(400);
  }
  return middle(await page.evaluate(() => (window as unknown as { took: number[] }).took));
}

/** Megabytes of a process that are in memory (proc(5)). */
function memoryOf(pid: number): number {
  const line = /VmRSS:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))!;
  return Math.round(Number(line[1]) / 1024);
}
