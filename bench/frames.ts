import { chromium, type Browser, type Page } from 'playwright-core';
import { launchOptions } from '../scripts/browser.mjs';

/** Chromium as the tests run it. */
export function openBrowser(): Promise<Browser> {
  return chromium.launch(launchOptions);
}

/** Begins to note the times between frames. A text, because it runs in the page as it stands. */
const RECORD = `
  window.frames_ = [];
  window.recording_ = true;
  let last = performance.now();
  requestAnimationFrame(function note(now) {
    window.frames_.push(now - last);
    last = now;
    if (window.recording_) requestAnimationFrame(note);
  });`;

/** Times between frames, in milliseconds, while something is done. */
export async function frameTimes(page: Page, act: () => Promise<void>): Promise<number[]> {
  await page.evaluate(RECORD);
  await act();
  return page.evaluate<number[]>('window.recording_ = false, window.frames_.slice(1)');
}
