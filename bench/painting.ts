import type { Page } from 'playwright-core';
import { apiClient } from '../tests/support/api.ts';
import { startTestServer } from '../tests/support/server.ts';
import { bigFile, BIG_NOTES } from './big-file.ts';
import { openBrowser } from './frames.ts';
import { middle, type BenchResult } from './measure.ts';

/** Notes how long keys take until what they do is painted (Event Timing, W3C). A text, because it runs in the page as it stands. */
const OBSERVE = `
  window.painted_ = [];
  new PerformanceObserver((list) => {
    for (const { name, duration } of list.getEntries()) if (name === 'keydown') window.painted_.push(duration);
  }).observe({ type: 'event', durationThreshold: 16, buffered: true });`;

/** What the interface reports as 16 ms at least is not told apart from less. */
const LEAST = 16;

/**
 * From the key to the painted picture: moves of a take of 20,000 notes and their taking back, on the built application. The
 * reference is a key of the same view that changes no note: mute.
 */
export async function bench(): Promise<BenchResult> {
  const server = await startTestServer();
  const browser = await openBrowser();
  try {
    const { body } = await apiClient(server.address).upload(bigFile(), 'big.mid');
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.addInitScript(OBSERVE);
    await page.goto(`${server.address}/split/${body.takeIds[0]}`);
    await page.getByRole('region', { name: 'Tally' }).waitFor();
    const part = page.getByRole('list', { name: 'Parts' }).getByRole('listitem').nth(1);
    await part.getByRole('button').first().click();
    await page.waitForTimeout(3000);
    const moves = await paintedAfter(page, ['a', 'Control+z', 'Control+Shift+z', 'Control+z']);
    const mute = await paintedAfter(page, ['m', 'm']);
    const slowest = Math.max(...moves);
    console.log(`${BIG_NOTES} notes: ${moves.length} moves, slowest ${slowest} ms, mute ${middle(mute)} ms`);
    const [ours, reference] = [middle(moves), middle(mute)];
    return {
      bench: 'painting',
      ours,
      reference,
      ratio: ours / reference,
      unit: 'ms to the paint',
      figures: { slowest },
    };
  } finally {
    await browser.close();
    await server.remove();
  }
}

/** Milliseconds to the paint after each of some keys, pressed six times over. */
async function paintedAfter(page: Page, keys: readonly string[]): Promise<number[]> {
  const times: number[] = [];
  for (const key of Array.from({ length: 6 }, () => keys).flat()) {
    await page.evaluate('window.painted_ = []');
    await page.keyboard.press(key);
    await page.waitForTimeout(700);
    const seen = await page.evaluate<number[]>('window.painted_');
    times.push(Math.max(LEAST, ...seen));
  }
  return times;
}
