import type { Page } from 'playwright-core';
import { fakeMidi } from '../tests/support/fake-midi.ts';
import { openLive, recordFreely } from '../tests/support/live-page.ts';
import { recordedTake } from '../tests/support/recorded-take.ts';
import { startTestServer } from '../tests/support/server.ts';
import { openBrowser } from './frames.ts';
import type { BenchResult } from './measure.ts';

/** Messages a second that are tried, one after the other, until one is lost or the page falls behind. */
const RATES = [1_000, 5_000, 10_000, 20_000, 40_000, 80_000];

const SECONDS = 5;

/** A page that is later than this at the end has not kept up, in milliseconds. */
const BEHIND_MS = 500;

/**
 * What a MIDI 1.0 DIN cable can carry: 31,250 baud, ten bits a byte, three bytes a message (MIDI 1.0 Detailed
 * Specification, Hardware).
 */
const CABLE = 31_250 / 10 / 3;

/** Messages a second that are recorded in Chromium with none lost; the reference is what a MIDI cable can carry. */
export async function bench(): Promise<BenchResult> {
  const server = await startTestServer();
  const browser = await openBrowser();
  try {
    let best = 0;
    for (const rate of RATES) {
      const page = await browser.newPage();
      const { sent, kept, behindMs, lateness } = await flood(page, server.address, rate);
      console.error(
        `${rate} messages/s for ${SECONDS} s: ${sent} notes sent, ${kept} kept, page ${Math.round(behindMs)} ms behind, ` +
          `handled ${lateness.median} ms late at the median, ${lateness.p95} at the 95th percentile`,
      );
      await page.close();
      if (kept !== sent || behindMs > BEHIND_MS) break;
      best = rate;
    }
    return { bench: 'capture', ours: best, reference: CABLE, ratio: best / CABLE, unit: 'messages/s' };
  } finally {
    await browser.close();
    await server.remove();
  }
}

/** Notes at an even rate over all channels, each with its own time, as a device's driver hands them over. */
async function flood(page: Page, address: string, rate: number) {
  await fakeMidi(page, 'given');
  await openLive(page, address);
  await page.evaluate(() => window.fakeMidi.plug('Flood'));
  await recordFreely(page);
  const { sent, behindMs } = await page.evaluate(
    async ([perSecond, seconds]) => {
      const from = performance.now();
      const total = (perSecond! * seconds!) / 2;
      let notes = 0;
      while (notes < total) {
        const due = Math.min(total, Math.floor(((performance.now() - from) / 1000) * (perSecond! / 2)));
        const messages = [];
        for (; notes < due; notes++) {
          const at = from + (notes * 2000) / perSecond!;
          const [channel, pitch] = [(notes >> 7) % 16, 24 + (notes % 80)];
          messages.push(
            { at, bytes: [0x90 | channel, pitch, 64] },
            { at, bytes: [0x80 | channel, pitch, 64] },
          );
        }
        window.fakeMidi.send('Flood', messages);
        await new Promise((resolve) => setTimeout(resolve, 1));
      }
      return { sent: notes, behindMs: performance.now() - from - seconds! * 1000 };
    },
    [rate, SECONDS],
  );
  await page.getByRole('button', { name: 'Stop', exact: true }).first().click();
  const { row } = await recordedTake(page, 120_000);
  return { sent, kept: row.facts.notes as number, behindMs, lateness: row.capture.lateness };
}
