// The browser that tests, benchmarks and pictures are made with: Debian's Chromium, without a window where that is installed.
import { existsSync } from 'node:fs';

/** Chromium that only ever runs without a window: it takes a sixth less of the processor than the one that could have one. */
export const HEADLESS = '/usr/bin/chromium-headless-shell';

/** How Playwright starts it. */
export const launchOptions = {
  executablePath: existsSync(HEADLESS) ? HEADLESS : '/usr/bin/chromium',
  args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
};
