import type { Page } from '@playwright/test';
import { expect, phraseRows, test } from './fixtures.ts';

/** Listens to what the page sends to the loudspeakers: the last two thirds of a second of it. */
async function withEar(page: Page) {
  await page.addInitScript(() => {
    const connect = AudioNode.prototype.connect as (this: AudioNode, ...to: unknown[]) => AudioNode;
    (AudioNode.prototype as unknown as { connect: typeof connect }).connect = function (...to) {
      if (to[0] instanceof AudioDestinationNode) {
        const ear = new AnalyserNode(this.context, { fftSize: 32768 });
        connect.call(this, ear);
        Object.assign(window, { ear });
      }
      return connect.apply(this, to);
    };
  });
  return {
    /** The root of the mean square of the samples; 0 before the first sound. */
    loudness: () =>
      page.evaluate(() => {
        const { ear } = window as unknown as { ear?: AnalyserNode };
        if (!ear) return 0;
        const samples = new Float32Array(ear.fftSize);
        ear.getFloatTimeDomainData(samples);
        return Math.sqrt(samples.reduce((sum, one) => sum + one * one, 0) / samples.length);
      }),
  };
}

test('every phrase that the arrows come to is heard, however fast they come, and nothing rings on afterward', async ({
  page,
}) => {
  const { loudness } = await withEar(page);
  // Grooves begin on their first beat.
  await page.goto('/library?role=drums');
  await expect(phraseRows(page).nth(6)).toBeVisible();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Space');
  await expect.poll(loudness, { timeout: 20_000 }).toBeGreaterThan(0.003);
  for (let k = 0; k < 5; k++) {
    await page.keyboard.press('ArrowDown');
    await page.waitForTimeout(750);
    expect(await loudness(), `phrase ${k + 2}`).toBeGreaterThan(0.003);
  }
  // Faster than what was scheduled before has passed: there are three sets of channels.
  for (let k = 0; k < 12; k++) {
    await page.keyboard.press(k % 2 ? 'ArrowDown' : 'ArrowUp');
    await page.waitForTimeout(20);
  }
  await expect.poll(loudness).toBeGreaterThan(0.003);
  await page.keyboard.press('Space');
  await page.waitForTimeout(1000);
  expect(await loudness()).toBeLessThan(0.0001);
});
