import type { Page } from 'playwright-core';
import { fakeMidi } from '../tests/support/fake-midi.ts';
import { openLive, recordFreely } from '../tests/support/live-page.ts';
import { startTestServer } from '../tests/support/server.ts';
import { openBrowser } from './frames.ts';
import { percentileOf } from './latency.ts';
import type { BenchResult } from './measure.ts';

/** Chords of three, on and off, at such steps in ms: fast repeated chords of a keyboard. */
const STEP_MS = 60;
const CHORDS = 250;

/**
 * By how much the page delays a keyboard that is sent on to a stand-in while both are recorded and drawn, 95 times of 100, in milliseconds.
 * The messages are stamped and posted by a thread of their own, as a browser's are. The reference is a page that only looks at its clock when
 * the same messages come.
 */
export async function bench(): Promise<BenchResult> {
  const server = await startTestServer();
  const browser = await openBrowser();
  try {
    // A window of its own each time: how a device is used is remembered.
    const newPage = () => browser.newPage({ bypassCSP: true, viewport: { width: 1280, height: 800 } });
    const empty = await newPage();
    await empty.goto(`${server.address}/favicon.svg`);
    const reference = await lateness(empty);
    await empty.close();
    const quiet = await played(await newPage(), server.address, false);
    const sounding = await played(await newPage(), server.address, true);
    const figures = {
      ...{ median: percentileOf(quiet, 0.5), p95: percentileOf(quiet, 0.95), most: percentileOf(quiet, 1) },
      ...{ soundingMedian: percentileOf(sounding, 0.5), soundingP95: percentileOf(sounding, 0.95) },
      ...{ emptyMedian: percentileOf(reference, 0.5), emptyP95: percentileOf(reference, 0.95) },
    };
    const ours = figures.p95;
    return {
      ...{ bench: 'played-through', ours, reference: figures.emptyP95, ratio: ours / figures.emptyP95 },
      ...{ unit: 'ms', figures },
    };
  } finally {
    await browser.close();
    await server.remove();
  }
}

/** Sets a keyboard before the arpeggiator, records both and plays. */
async function played(page: Page, address: string, sounds: boolean): Promise<number[]> {
  await fakeMidi(page, 'given');
  await openLive(page, address);
  await page.evaluate(() => window.fakeMidi.plug('Keyboard'));
  await page.getByRole('button', { name: 'Keyboard', exact: true }).click();
  await page.getByRole('combobox', { name: 'It is' }).selectOption({ label: 'sets off, through the page' });
  await page.getByRole('checkbox', { name: 'Record Arpeggiator' }).check();
  const monitor = page.getByRole('button', { name: 'Stand-ins sound' });
  if ((await monitor.getAttribute('aria-pressed')) !== String(sounds)) await monitor.click();
  await recordFreely(page);
  const late = await lateness(page);
  await page.close();
  return late;
}

/** How late each message was handled, in ms, as the page's own clock tells. */
function lateness(page: Page): Promise<number[]> {
  return page.evaluate(
    async ([step, chords]) => {
      const thread = `
        let at = performance.now() + 200;
        let left = ${chords};
        const next = () => {
          if (left-- === 0) return postMessage(null);
          const k = left % 7;
          for (const bytes of [[0x90, 60 + k, 90], [0x90, 64 + k, 80], [0x90, 67 + k, 85]])
            postMessage({ ms: performance.timeOrigin + performance.now(), bytes });
          setTimeout(() => {
            for (const pitch of [60, 64, 67])
              postMessage({ ms: performance.timeOrigin + performance.now(), bytes: [0x80, pitch + k, 64] });
          }, ${step} / 2);
          at += ${step};
          setTimeout(next, Math.max(0, at - performance.now()));
        };
        setTimeout(next, 200);`;
      const keyboard = new Worker(URL.createObjectURL(new Blob([thread], { type: 'text/javascript' })));
      const late: number[] = [];
      await new Promise<void>((resolve) => {
        keyboard.onmessage = ({ data }: MessageEvent<{ ms: number; bytes: number[] } | null>) => {
          if (!data) return resolve();
          const at = data.ms - performance.timeOrigin;
          window.fakeMidi?.send('Keyboard', [{ at, bytes: data.bytes }]);
          late.push(performance.now() - at);
        };
      });
      keyboard.terminate();
      return late;
    },
    [STEP_MS, CHORDS] as const,
  );
}
