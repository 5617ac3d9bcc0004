import { readFileSync, writeFileSync } from 'node:fs';
import type { Page } from '@playwright/test';
import { unzipSync, zipSync } from 'fflate';
import { semitoneUp } from '../support/midi-edits.ts';

/** Takes a pack by a button, and writes it to a path with one of its files a semitone up: what somebody sends back. */
export async function packSentBack(page: Page, button: string, changed: RegExp, path: string): Promise<void> {
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: button }).click(),
  ]);
  const files = unzipSync(new Uint8Array(readFileSync(await download.path())));
  const name = Object.keys(files).find((one) => changed.test(one))!;
  writeFileSync(path, zipSync({ ...files, [name]: semitoneUp(files[name]!) }));
}
