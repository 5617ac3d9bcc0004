import type { Page } from 'playwright-core';
import { writeMidiFile } from '../src/core/midi/write.ts';
import { bandFile } from '../src/core/standins/band.ts';
import { newCell, newSection, type Weave } from '../src/core/weave/weave.ts';
import { apiClient } from '../tests/support/api.ts';
import { startTestServer } from '../tests/support/server.ts';
import { frameTimes, openBrowser } from './frames.ts';
import { middle, type BenchResult } from './measure.ts';

const SECTIONS = 25;
const PARTS = 16;

/** Notes tasks that hold the page for 50 ms or longer (Long Tasks, W3C). A text, because it runs in the page as it stands. */
const OBSERVE = `
  window.long_ = [];
  new PerformanceObserver((list) => {
    for (const { duration } of list.getEntries()) window.long_.push(duration);
  }).observe({ type: 'longtask', buffered: true });`;

/** A sheet of 200 bars and 16 parts, of the phrases of one take. */
function sheetOf(phrases: readonly { id: string; role: Weave['parts'][number]['role'] }[]): Weave {
  const parts = Array.from({ length: PARTS }, (_, k) => {
    const { role } = phrases[k % phrases.length]!;
    return { id: `p${k}`, name: `${role} ${k + 1}`, role, program: null, level: 0.3, pan: null };
  });
  const sections = Array.from({ length: SECTIONS }, (_, k) => ({
    ...newSection(`s${k}`, `Section ${k + 1}`),
    changes: k % 2 === 0 ? 'C | Am | F | G' : 'F | G | Em | Am',
  }));
  return {
    ...{ title: 'Long', bpm: 120, meter: { numerator: 4, denominator: 4 }, key: 'C' },
    ...{ sections, parts, ending: 'ring', endingBars: 2, refused: [] },
    cells: sections.flatMap(({ id }) =>
      parts.map((part, k) => newCell(id, part.id, phrases[k % phrases.length]!.id)),
    ),
  };
}

/**
 * A weave of 200 bars and 16 parts in Chromium, on the built application: the times of frames while its sheet is scrolled, and
 * what holds the page while it plays, a candidate is put into a cell meanwhile, and it goes round. Sound is handed over 100 ms
 * ahead: what holds the page for less is not heard. The reference is an empty page.
 */
export async function bench(): Promise<BenchResult> {
  const server = await startTestServer();
  const browser = await openBrowser();
  try {
    const api = apiClient(server.address);
    const band = bandFile({ chart: 'C | Am | F | G', style: 'river', bpm: 120, seed: 1, title: 'x', mishaps: [], looseness: 10 }); // prettier-ignore
    const { takeIds } = (await api.upload(writeMidiFile(band), 'band.mid')).body;
    const { phraseIds } = (await api.post(`/api/takes/${takeIds[0]}/make`, {})).body;
    await api.post('/api/phrases/state', { phraseIds, state: 'kept' });
    const phrases = await Promise.all(
      (phraseIds as string[]).map(async (id) => (await api.get(`/api/phrases/${id}`)).body),
    );
    const { id } = (await api.post('/api/weaves', { weave: sheetOf(phrases), projectId: null })).body;
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.addInitScript(OBSERVE);
    const blank = await frameTimes(page, () => page.waitForTimeout(1500));
    await page.goto(`${server.address}/reuse/weave/${id}`);
    await page.getByRole('status').filter({ hasText: 'BPM' }).waitFor();
    await page.waitForTimeout(2000);
    const frames = await frameTimes(page, () => scroll(page));
    const slow = frames.toSorted((a, b) => a - b)[Math.floor(frames.length * 0.95)]!;
    const longest = await longestWhilePlaying(page);
    const [ours, reference] = [middle(frames), middle(blank)];
    console.log(
      `${frames.length} frames, median ${ours.toFixed(1)} ms, 95 % within ${slow.toFixed(1)} ms; playing: held for ${longest.toFixed(0)} ms at the longest`,
    );
    const figures = { slow, longest };
    return { bench: 'weave-page', ours, reference, ratio: ours / reference, unit: 'ms a frame', figures };
  } finally {
    await browser.close();
    await server.remove();
  }
}

async function scroll(page: Page): Promise<void> {
  await page.mouse.move(600, 400);
  for (let k = 0; k < 120; k++) {
    await page.mouse.wheel(k < 60 ? 90 : -90, k % 20 === 0 ? 120 : 0);
    await page.waitForTimeout(8);
  }
}

/** From the last section on over the end, with a candidate put into a cell while it plays. Milliseconds. */
async function longestWhilePlaying(page: Page): Promise<number> {
  await page
    .getByRole('button', { name: /Section 25/ })
    .first()
    .click();
  await page.keyboard.press('f');
  await page.waitForTimeout(4000);
  await page.evaluate('window.long_ = []');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('.');
  await page.waitForTimeout(20_000);
  return Math.max(0, ...(await page.evaluate<number[]>('window.long_')));
}
