import { apiClient } from '../tests/support/api.ts';
import { startTestServer } from '../tests/support/server.ts';
import { bigFile, BIG_NOTES as NOTES } from './big-file.ts';
import { frameTimes, openBrowser } from './frames.ts';
import { middle, type BenchResult } from './measure.ts';

/**
 * Frame times in Chromium while strands of 20,000 notes in eight parts are zoomed and panned, on the built application.
 * The reference is the frame time of the same browser on an empty page.
 */
export async function bench(): Promise<BenchResult> {
  const server = await startTestServer();
  const browser = await openBrowser();
  try {
    const { body } = await apiClient(server.address).upload(bigFile(), 'big.mid');
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const blank = await frameTimes(page, async () => page.waitForTimeout(1500));
    await page.goto(`${server.address}/split/${body.takeIds[0]}`);
    await page.getByRole('region', { name: 'Tally' }).waitFor();
    await page.mouse.move(700, 400);
    // From the whole take to some bars, so that few and many notes are in sight.
    const frames = await frameTimes(page, async () => {
      for (let i = 0; i < 120; i++) {
        await page.keyboard.down('Control');
        await page.mouse.wheel(0, i % 3 === 2 ? 90 : -70);
        await page.keyboard.up('Control');
        await page.mouse.wheel(80, 0);
        await page.waitForTimeout(8);
      }
    });
    const slow = frames.toSorted((a, b) => a - b)[Math.floor(frames.length * 0.95)]!;
    console.log(
      `${NOTES} notes: ${frames.length} frames, median ${middle(frames).toFixed(1)} ms, 95 % within ${slow.toFixed(1)} ms`,
    );
    const [ours, reference] = [middle(frames), middle(blank)];
    return { bench: 'strands', ours, reference, ratio: ours / reference, unit: 'ms a frame' };
  } finally {
    await browser.close();
    await server.remove();
  }
}
