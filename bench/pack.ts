import { writeMidiFile } from '../src/core/midi/write.ts';
import { bandFile } from '../src/core/standins/band.ts';
import { apiClient } from '../tests/support/api.ts';
import { startTestServer } from '../tests/support/server.ts';
import { percentile } from '../src/core/numbers.ts';
import type { BenchResult } from './measure.ts';

const PHRASES = 100;

/**
 * A basket of 100 phrases packed with previews on the built application, while the library's list is asked for ten times a second. The reference is
 * the same pack without previews.
 */
export async function bench(): Promise<BenchResult> {
  const server = await startTestServer();
  try {
    const api = apiClient(server.address);
    const ids: string[] = [];
    for (let seed = 1; ids.length < PHRASES; seed++) {
      const band = bandFile({ chart: 'Dm | Gm | A7 | Dm', style: 'river', bpm: 80 + seed, seed, title: `Take ${seed}`, mishaps: [], looseness: 15 }); // prettier-ignore
      const { takeIds } = (await api.upload(writeMidiFile(band), `take ${seed}.mid`)).body;
      const { phraseIds } = (await api.post(`/api/takes/${takeIds[0]}/make`, {})).body;
      ids.push(...(phraseIds as string[]));
    }
    const phraseIds = ids.slice(0, PHRASES);
    await api.post('/api/phrases/state', { phraseIds, state: 'kept' });
    const { id } = (await api.post('/api/baskets', { name: 'Hundred' })).body;
    await api.post(`/api/baskets/${id}/items`, { phraseIds });
    const packed = async () => {
      const started = performance.now();
      const { status } = await api.get(`/api/baskets/${id}/pack`);
      if (status !== 200) throw new Error(`The pack was answered with ${status}.`);
      return (performance.now() - started) / 1000;
    };
    const reference = await packed();
    await api.patch(`/api/baskets/${id}`, { previews: true });
    const answers: number[] = [];
    let isPacking = true;
    const asking = (async () => {
      while (isPacking) {
        const started = performance.now();
        await api.get('/api/phrases?sort=name');
        answers.push(performance.now() - started);
        await new Promise((resolve) => setTimeout(resolve, 100));
      }
    })();
    const ours = await packed();
    isPacking = false;
    await asking;
    const figures = { secondsFor100: ours, listP95Ms: percentile(answers, 0.95) };
    console.log(
      `${PHRASES} phrases: ${ours.toFixed(1)} s, a list meanwhile ${figures.listP95Ms.toFixed(0)} ms (95 %)`,
    );
    return { bench: 'pack', ours, reference, ratio: ours / reference, unit: 's', figures };
  } finally {
    await server.remove();
  }
}
