import { defineConfig } from '@playwright/test';
import { launchOptions } from './scripts/browser.mjs';

export default defineConfig({
  testDir: 'tests/e2e',
  outputDir: 'test-results',
  // Each worker has a library and a server of its own, and works on it one test after the other, as one person does.
  workers: 2,
  timeout: 60_000,
  expect: { timeout: 10_000 },
  reporter: [['list']],
  globalSetup: './tests/e2e/global-setup.ts',
  use: {
    viewport: { width: 1280, height: 800 },
    acceptDownloads: true,
    // A trace of every test costs more than the tests: `--trace on` draws one where it is needed.
    screenshot: 'only-on-failure',
    launchOptions,
  },
});
