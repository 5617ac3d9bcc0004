import type { Page } from '@playwright/test';
import { fakeMidi } from '../support/fake-midi.ts';
import { recordedTake } from '../support/recorded-take.ts';
import { expect, test } from './fixtures.ts';

async function openLive(page: Page): Promise<void> {
  await page.goto('/capture/live');
  await page.getByRole('button', { name: 'Look for devices' }).click();
}

const recording = (page: Page) => page.getByRole('region', { name: 'Recording' });

/** Records without a click, so that what was sent can be counted to the millisecond. */
async function recordFreely(page: Page): Promise<void> {
  await recording(page).getByLabel('Bars by').selectOption({ label: 'none' });
  await page.getByRole('button', { name: 'Record', exact: true }).click();
  await expect(page.getByRole('button', { name: 'Stop', exact: true }).first()).toBeEnabled();
}

async function stopAndRead(page: Page) {
  await page.getByRole('button', { name: 'Stop', exact: true }).first().click();
  return (await recordedTake(page)).row;
}

test('a browser without MIDI, and one that was told to refuse it, are explained', async ({ page }) => {
  await fakeMidi(page, 'absent');
  await openLive(page);
  await expect(page.getByText('This browser cannot hear MIDI devices')).toBeVisible();
  await fakeMidi(page, 'refused');
  await openLive(page);
  await expect(page.getByText('told not to let this page hear MIDI devices')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Look again' })).toBeVisible();
});

test('two devices feed one take, a track each; one is pulled out in the middle of a note, and this is told', async ({
  page,
}) => {
  await fakeMidi(page, 'given');
  await openLive(page);
  await expect(page.getByText('None is connected')).toBeVisible();
  await page.evaluate(() => {
    window.fakeMidi.plug('Pads');
    window.fakeMidi.plug('Pedal');
  });
  await expect(page.getByRole('checkbox', { name: 'Record Pads' })).toBeChecked();
  await recordFreely(page);
  await page.evaluate(() => {
    const at = performance.now();
    window.fakeMidi.send('Pads', [
      { at, bytes: [0x90, 60, 100] },
      { at: at + 200, bytes: [0x80, 60, 64] },
      { at: at + 300, bytes: [0x91, 64, 90] },
    ]);
    window.fakeMidi.send('Pedal', [
      { at: at + 10, bytes: [0xb2, 64, 127] },
      { at: at + 20, bytes: [0x92, 36, 80] },
      { at: at + 250, bytes: [0x82, 36, 64] },
    ]);
  });
  await expect(recording(page)).toContainText('3 notes');
  await page.evaluate(() => window.fakeMidi.unplug('Pads'));
  await expect(page.getByText('unplugged')).toBeVisible();
  const take = await stopAndRead(page);
  expect(take.facts.notes).toBe(3);
  expect(take.facts.streams.map(({ name }: { name: string }) => name)).toEqual(
    expect.arrayContaining(['Pads', 'Pedal']),
  );
  expect(take.account.findings.map(({ code }: { code: string }) => code)).toContain('lost');
  await page.evaluate(() => window.fakeMidi.plug('Pads'));
  await expect(page.getByText('unplugged')).toBeHidden();
});

test('a flood: ten thousand messages a second for three seconds, and none is lost', async ({ page }) => {
  test.setTimeout(120_000);
  await fakeMidi(page, 'given');
  await openLive(page);
  await page.evaluate(() => window.fakeMidi.plug('Flood'));
  await recordFreely(page);
  const sent = await page.evaluate(async () => {
    const from = performance.now();
    let notes = 0;
    for (let second = 0; second < 3;) {
      const now = performance.now() - from;
      // As many as are due by now, ten a millisecond, on and off.
      const due = Math.min(15_000, Math.floor((now * 10) / 2));
      const messages = [];
      for (; notes < due; notes++) {
        const pitch = 24 + (notes % 80);
        const at = from + notes / 5;
        messages.push({ at, bytes: [0x90 | ((notes >> 7) % 16), pitch, 64] });
        messages.push({ at: at + 0.1, bytes: [0x80 | ((notes >> 7) % 16), pitch, 64] });
      }
      window.fakeMidi.send('Flood', messages);
      second = notes / 5000;
      await new Promise((resolve) => setTimeout(resolve, 4));
    }
    return notes;
  });
  expect(sent).toBe(15_000);
  await expect(recording(page)).toContainText('15,000 notes');
  const take = await stopAndRead(page);
  expect(take.facts.notes).toBe(sent);
});

test('a pedal marks "that one", and is not recorded as music', async ({ page }) => {
  await fakeMidi(page, 'given');
  await openLive(page);
  await page.evaluate(() => window.fakeMidi.plug('Pedals'));
  await page.getByRole('button', { name: 'choose a pad or pedal' }).click();
  await page.evaluate(() =>
    window.fakeMidi.send('Pedals', [{ at: performance.now(), bytes: [0xb0, 66, 127] }]),
  );
  await expect(page.getByText('by controller 66, channel 1')).toBeVisible();
  await recordFreely(page);
  await page.evaluate(() => {
    const at = performance.now();
    window.fakeMidi.send('Pedals', [
      { at, bytes: [0x90, 60, 100] },
      { at: at + 100, bytes: [0x80, 60, 64] },
      { at: at + 2100, bytes: [0xb0, 66, 127] },
    ]);
  });
  await expect(page.getByRole('button', { name: 'That one 1' })).toBeVisible();
  const take = await stopAndRead(page);
  expect(take.capture.stars).toHaveLength(1);
});

test('the click is sent as MIDI Clock to devices: a start, and 24 clocks a quarter note', async ({
  page,
}) => {
  await fakeMidi(page, 'given');
  await openLive(page);
  await page.evaluate(() => window.fakeMidi.plug('Follower'));
  await recording(page).getByLabel('BPM').fill('120');
  await recording(page).getByLabel('Count-in, bars').fill('0');
  await recording(page).getByLabel('Stop after, bars').fill('1');
  await page.getByRole('button', { name: 'Record', exact: true }).click();
  await expect(page.getByRole('region', { name: 'The take' })).toContainText('Nothing came', {
    timeout: 20_000,
  });
  const sent = await page.evaluate(() => window.fakeMidi.sent);
  const start = sent.find(({ bytes }) => bytes[0] === 0xfa)!;
  const clocks = sent.filter(({ bytes }) => bytes[0] === 0xf8).map(({ at }) => at - start.at);
  expect(clocks[0]).toBeCloseTo(0, 3);
  // MIDI 1.0: 24 clocks a quarter note.
  expect(clocks[24]! - clocks[0]!).toBeCloseTo(500, 1);
  expect(sent.at(-1)!.bytes[0]).toBe(0xfc);
});
