import { Worker } from 'node:worker_threads';

/** Asks an address again and again from a thread of its own, and keeps how long each answer took. */
export class LatencyProbe {
  private readonly worker: Worker;

  constructor(url: string, everyMs = 20) {
    this.worker = new Worker(PROBE, { eval: true, workerData: { url, everyMs } });
  }

  /** Milliseconds of the answers since the last call. */
  async taken(): Promise<number[]> {
    const answer = new Promise<number[]>((resolve) => this.worker.once('message', resolve));
    this.worker.postMessage('take');
    return answer;
  }

  async end(): Promise<void> {
    await this.worker.terminate();
  }
}

const PROBE = `
const { parentPort, workerData } = require('node:worker_threads');
let times = [];
parentPort.on('message', () => { parentPort.postMessage(times); times = []; });
(async () => {
  for (;;) {
    const start = performance.now();
    await fetch(workerData.url).then((answer) => answer.arrayBuffer()).catch(() => {});
    times.push(performance.now() - start);
    await new Promise((resolve) => setTimeout(resolve, workerData.everyMs));
  }
})();
`;

/** The value below which a share (0..1) of the times lies; 0 of none. */
export function percentileOf(times: readonly number[], share: number): number {
  const sorted = [...times].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))] ?? 0;
}
