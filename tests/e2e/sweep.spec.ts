import { fakeMidi } from '../support/fake-midi.ts';
import { openLive } from '../support/live-page.ts';
import { expect, test } from './fixtures.ts';

/** Sweeps: one source asked the same in many ways. */

test('a stand-in is gone through, what comes again is set aside, and the best is kept with its settings as tags', async ({
  page,
}) => {
  await page.goto('/capture/sweep');
  await page.getByRole('combobox', { name: 'Source' }).selectOption({ label: 'Chord player' });
  await page.getByRole('combobox', { name: 'Set off by' }).selectOption({ label: 'what it plays by itself' });
  await page.getByRole('group', { name: 'Chords' }).getByRole('button', { name: 'triads' }).click();
  await page.getByRole('group', { name: 'Chords' }).getByRole('button', { name: 'ninths' }).click();
  await page.getByRole('group', { name: 'Rhythm' }).getByRole('button', { name: 'halves' }).click();
  await page.getByRole('textbox', { name: 'Seed' }).fill('1 to 3');
  await expect(page.getByRole('status').filter({ hasText: '6 runs' })).toBeVisible();
  await page.getByRole('textbox', { name: 'Name' }).fill('Halves');
  await page.getByRole('button', { name: 'Begin', exact: true }).click();
  await expect(page.getByRole('heading', { name: 'Halves' })).toBeVisible();
  await expect(page.getByRole('status').filter({ hasText: /6 runs, \d distinct/ })).toBeVisible({ timeout: 30_000 }); // prettier-ignore
  const rows = page.getByRole('table', { name: 'Runs' }).getByRole('row');
  await expect(rows).toHaveCount(6);
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await expect(rows.nth(3)).toHaveAttribute('aria-current', 'true');
  await page.keyboard.press('k');
  await expect(page.getByText(/1 phrase kept, tagged ninths, halves, seed 1/)).toBeVisible();
  await page.getByRole('button', { name: /^Set aside what is there twice/ }).click();
  await expect(page.getByText(/set aside: each is there already/)).toBeVisible();
  await page.getByRole('button', { name: 'Distinct runs only' }).click();
  expect(await rows.count()).toBeLessThan(6);
});

test('a device is gone through unattended: a program at a time, what is silent tried twice and noted', async ({
  page,
}) => {
  test.setTimeout(90_000);
  await fakeMidi(page, 'given');
  await openLive(page);
  await page.evaluate(() => {
    window.fakeMidi.plug('Synth');
    // A synthesizer that plays a pattern of its program with every start; program 2 has no sound.
    let program = 0;
    const { sent } = window.fakeMidi;
    const push = sent.push.bind(sent);
    sent.push = (...messages) => {
      for (const { bytes, at } of messages) {
        if ((bytes[0]! & 0xf0) === 0xc0) program = bytes[1]!;
        if (bytes[0] === 0xfa && program !== 1)
          setTimeout(
            () =>
              window.fakeMidi.send('Synth', [
                { at: at + 10, bytes: [0x90, 60 + program, 90] },
                { at: at + 200, bytes: [0x80, 60 + program, 64] },
                { at: at + 500, bytes: [0x90, 67 - program, 80] },
                { at: at + 700, bytes: [0x80, 67 - program, 64] },
              ]),
            Math.max(0, at - performance.now()) + 750,
          );
      }
      return push(...messages);
    };
  });
  await page.getByRole('link', { name: 'Sweep' }).click();
  await page.getByRole('combobox', { name: 'Source' }).selectOption({ label: 'Synth, a device' });
  await page.getByRole('combobox', { name: 'Set off by' }).selectOption({ label: 'what it plays by itself' });
  await page.getByRole('spinbutton', { name: 'Tempo, BPM' }).fill('240');
  await page.getByRole('spinbutton', { name: 'Bars' }).fill('1');
  await page.getByRole('textbox', { name: 'Program' }).fill('1 to 3');
  await expect(page.getByRole('status').filter({ hasText: '3 runs, 12 seconds' })).toBeVisible();
  await page.getByRole('textbox', { name: 'Name' }).fill('Programs');
  await page.getByRole('button', { name: 'Begin', exact: true }).click();
  await page.getByRole('button', { name: 'Begin the runs' }).click();
  await expect(page.getByText('3 runs, 2 distinct, 1 silent')).toBeVisible({ timeout: 60_000 });
  await expect(page.getByText('Nothing came for 4 seconds, twice.')).toBeVisible();
  const ended = await page.evaluate(() => window.fakeMidi.sent.some(({ bytes }) => bytes[0] === 0xb0 && bytes[1] === 123)); // prettier-ignore
  expect(ended, 'all notes off').toBe(true);
});

test('a phrase of the library sets a source off; a device that is pulled out in a run ends the sweep, and it goes on when it is back', async ({
  page,
}) => {
  test.setTimeout(90_000);
  await page.goto('/library?text=crossing+verse');
  await page.getByRole('option', { name: /Crossing verse, keys/ }).click();
  await page.getByRole('button', { name: 'Sweep ...' }).click();
  await expect(page.getByRole('combobox', { name: 'Set off by' })).toHaveValue('phrase');
  await page.getByRole('group', { name: 'Order' }).getByRole('button', { name: 'down', exact: true }).click();
  await page.getByRole('group', { name: 'Rate' }).getByRole('button', { name: '1/8', exact: true }).click();
  await page.getByRole('textbox', { name: 'Name' }).fill('Of a verse');
  await page.getByRole('button', { name: 'Begin', exact: true }).click();
  await expect(page.getByRole('status').filter({ hasText: '1 run, 1 distinct' })).toBeVisible({ timeout: 30_000 }); // prettier-ignore
  await page.getByRole('link', { name: 'Open the take' }).click();
  await page.getByRole('button', { name: 'The take', exact: true }).click();
  await expect(page.getByRole('link', { name: 'Of a verse' })).toBeVisible();
  await fakeMidi(page, 'given');
  await openLive(page);
  await page.evaluate(() => window.fakeMidi.plug('Brittle'));
  await page.getByRole('link', { name: 'Sweep' }).click();
  await page.getByRole('combobox', { name: 'Source' }).selectOption({ label: 'Brittle, a device' });
  await page.getByRole('combobox', { name: 'Set off by' }).selectOption({ label: 'what it plays by itself' });
  await page.getByRole('spinbutton', { name: 'Tempo, BPM' }).fill('240');
  await page.getByRole('spinbutton', { name: 'Bars' }).fill('1');
  await page.getByRole('textbox', { name: 'Program' }).fill('1 2');
  await page.getByRole('button', { name: 'Begin', exact: true }).click();
  await page.getByRole('button', { name: 'Begin the runs' }).click();
  await expect(page.getByText(/^Recording/)).toBeVisible();
  await page.evaluate(() => window.fakeMidi.unplug('Brittle'));
  await expect(page.getByText(/Brittle (went away|is not there)/).first()).toBeVisible({ timeout: 30_000 });
  await expect(page.getByRole('status').filter({ hasText: '0 of 2 runs' })).toBeVisible();
  await page.evaluate(() => window.fakeMidi.plug('Brittle'));
  await expect(page.getByRole('button', { name: 'Begin the runs' })).toBeEnabled();
});
