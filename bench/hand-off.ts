import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { writeMidiFile } from '../src/core/midi/write.ts';
import { percentile } from '../src/core/numbers.ts';
import { bandFile } from '../src/core/standins/band.ts';
import { apiClient } from '../tests/support/api.ts';
import { startTestServer } from '../tests/support/server.ts';
import { until } from '../tests/support/until.ts';
import type { BenchResult } from './measure.ts';

/** Phrases of a basket, and files of a mirrored folder. */
const [BASKET, MIRROR] = [500, Number(process.env.MIRRORED ?? 5000)];

/**
 * Handing off at volume, on the built application: names of a basket of 500, the file of a drag, a folder of 5,000 mirrored files, and that
 * basket's pack held against the library and taken in again. The reference is the list of all baskets.
 */
export async function bench(): Promise<BenchResult> {
  const server = await startTestServer();
  try {
    const api = apiClient(server.address);
    const ids = await phrasesIn(api, MIRROR);
    const timed = async (path: string) => {
      const started = performance.now();
      const { status } = await api.get(path);
      if (status !== 200) throw new Error(`${path} was answered with ${status}.`);
      return performance.now() - started;
    };
    const basketOf = async (name: string, phraseIds: string[]) => {
      const { id } = (await api.post('/api/baskets', { name })).body;
      await api.post(`/api/baskets/${id}/items`, { phraseIds });
      return id as string;
    };
    const many = async (path: (k: number) => string, times: number) => {
      const all: number[] = [];
      for (let k = 0; k < times; k++) all.push(await timed(path(k)));
      return percentile(all, 0.95);
    };
    const basket = await basketOf('Five hundred', ids.slice(0, BASKET));
    const reference = await many(() => '/api/baskets', 20);
    const namesMs = await many(() => `/api/baskets/${basket}`, 20);
    const dragMs = await many((k) => `/api/leaving/phrase/${ids[k]}`, 40);

    const zip = (await api.get(`/api/baskets/${basket}/pack`)).body as Uint8Array;
    const form = new FormData();
    form.set('file', new File([zip as Uint8Array<ArrayBuffer>], 'pack.zip'));
    const { id: pack } = (await api.send('POST', '/api/merge', { body: form })).body;
    const mergeMs = await timed(`/api/merge/${pack}`);

    const mirrored = await basketOf('Mirrored', ids);
    const started = performance.now();
    await api.patch(`/api/baskets/${mirrored}`, { mirror: 'five-thousand' });
    const folder = join(server.dataDirectory, 'mirror', 'five-thousand');
    const files = () => (existsSync(folder) ? readdirSync(folder, { recursive: true }).filter((name) => String(name).endsWith('.mid')).length : 0); // prettier-ignore
    await until('the mirror is in step', () => Promise.resolve(files() >= ids.length), { within: 900_000, every: 250 }); // prettier-ignore
    const mirrorSeconds = (performance.now() - started) / 1000;
    const figures = { namesMs, dragMs, mergeMs, mirrorSeconds, mirrored: ids.length };
    console.log(
      `names of ${BASKET}: ${namesMs.toFixed(0)} ms, a drag ${dragMs.toFixed(0)} ms (95 %); pack of ${BASKET} held against the library in ${(mergeMs / 1000).toFixed(1)} s; ${ids.length} files mirrored in ${mirrorSeconds.toFixed(0)} s`,
    );
    return { bench: 'hand-off', ours: namesMs, reference, ratio: namesMs / reference, unit: 'ms', figures };
  } finally {
    await server.remove();
  }
}

/** So many kept phrases of four bars. */
async function phrasesIn(api: ReturnType<typeof apiClient>, count: number): Promise<string[]> {
  const ids: string[] = [];
  for (let seed = 1; ids.length < count; seed++) {
    const band = bandFile({ chart: 'Dm | Gm | A7 | Dm | Bb | C | A7 | Dm', style: 'river', bpm: 80 + (seed % 60), seed, title: `Take ${seed}`, mishaps: [], looseness: 15 }); // prettier-ignore
    const { takeIds } = (await api.upload(writeMidiFile(band), `take ${seed}.mid`)).body;
    const { phraseIds } = (await api.post(`/api/takes/${takeIds[0]}/make`, {})).body;
    ids.push(...(phraseIds as string[]));
  }
  for (let at = 0; at < count; at += 500)
    await api.post('/api/phrases/state', { phraseIds: ids.slice(at, at + 500), state: 'kept' });
  return ids.slice(0, count);
}
