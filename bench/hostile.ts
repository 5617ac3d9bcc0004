import { readFileSync } from 'node:fs';
import { setTimeout as delay } from 'node:timers/promises';
import { apiClient } from '../tests/support/api.ts';
import { HOSTILE, type HostileFamily } from '../tests/support/hostile.ts';
import { startTestServer } from '../tests/support/server.ts';
import { LatencyProbe, percentileOf } from './latency.ts';
import type { BenchResult } from './measure.ts';

/** The same work in less than this is too short to tell how it grows, in seconds. */
const TOO_SHORT = 0.2;

interface Measured {
  size: number;
  /** Seconds to take in, make a phrase and export. */
  seconds: number;
  p95: number;
  megabytes: number;
  said: string;
}

/**
 * Files made to hurt, in three sizes each, sent to the built server: taken in, a phrase made, exported. Told are the time, the
 * server's memory, how long others waited meanwhile at the 95th percentile (ours; the reference is the same question to the
 * server at rest), and how the time grows with the size (1 is linear). HOSTILE sets which families, by a part of their names.
 */
export async function bench(): Promise<BenchResult> {
  const server = await startTestServer();
  const probe = new LatencyProbe(`${server.address}/api/phrases/facets`);
  const api = apiClient(server.address);
  try {
    await delay(2000);
    const reference = percentileOf(await probe.taken(), 0.95);
    const figures: Record<string, number> = {};
    const all: number[] = [];
    let worst = 0;
    for (const family of HOSTILE.filter(({ name }) => name.includes(process.env.HOSTILE ?? ''))) {
      const measured: Measured[] = [];
      for (const size of family.sizes)
        measured.push(await measure(api, probe, family, size, server.process.pid!, all));
      const growth = growthOf(measured);
      worst = Math.max(worst, growth);
      const line = measured.map(
        ({ size, seconds, p95, megabytes, said }) =>
          `${size.toLocaleString('en')}: ${seconds.toFixed(1)} s, ${p95.toFixed(0)} ms, ${megabytes} MB${said}`,
      );
      console.log(`${family.name}\n  ${line.join('\n  ')}\n  growth ${growth.toFixed(2)}`);
    }
    const ours = percentileOf(all, 0.95);
    figures.othersP95Ms = ours;
    figures.worstGrowth = worst;
    return {
      bench: 'hostile',
      ours,
      reference,
      ratio: ours / reference,
      unit: 'ms others wait, p95',
      figures,
    };
  } finally {
    await probe.end();
    await server.remove();
  }
}

async function measure(
  api: ReturnType<typeof apiClient>,
  probe: LatencyProbe,
  family: HostileFamily,
  size: number,
  pid: number,
  all: number[],
): Promise<Measured> {
  const bytes = family.bytes(size);
  await probe.taken();
  const start = performance.now();
  const taken = await api.upload(bytes, `${size}.mid`);
  let said = '';
  if (taken.status >= 400) said = ` (${taken.body.detail})`;
  else {
    const id = taken.body.takeIds[0];
    const made = await api.post('/api/phrases', {
      takeId: id,
      parts: ['p1'],
      startBar: 1,
      bars: 4,
    });
    if (made.status >= 400) said = ` (${made.body.detail})`;
    const exported = await api.get(`/api/takes/${id}/parts?as=file`);
    if (exported.status >= 400) said += ` (export: ${exported.status})`;
  }
  const seconds = (performance.now() - start) / 1000;
  const times = await probe.taken();
  all.push(...times);
  return { size, seconds, p95: percentileOf(times, 0.95), megabytes: residentMegabytes(pid), said };
}

function residentMegabytes(pid: number): number {
  const kilobytes = /VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? '0';
  return Math.round(Number(kilobytes) / 1024);
}

/** The exponent with which time grows from size to size, the largest; 0 where all is too short to tell. */
function growthOf(measured: readonly Measured[]): number {
  let most = 0;
  measured.forEach((now, k) => {
    const before = measured[k - 1];
    if (!before || before.seconds < TOO_SHORT) return;
    most = Math.max(most, Math.log(now.seconds / before.seconds) / Math.log(now.size / before.size));
  });
  return most;
}
