import { writeFileSync } from 'node:fs';
import { expect, test } from './fixtures.ts';
import { packSentBack } from './packs.ts';

/** Packs that came back: held against the library, heard one against the other, taken in by mouse and by keyboard. */

test("the demo's pack came back: by keyboard what she changed is taken as a child, and taken back", async ({
  page,
}) => {
  await page.goto('/handoff/came-back');
  await page.getByRole('link', { name: 'Market, first act' }).click();
  await expect(page.getByText('2 changed by them')).toBeVisible();
  await expect(page.getByText(/all \d+ ms later/).first()).toBeVisible();
  await page.getByRole('button', { name: /Send .* ms earlier from now on/ }).click();
  await expect(page.getByText(/It stands on The string player's card/)).toBeVisible();
  await page.keyboard.press(' ');
  await expect(page.getByText('as it came')).toBeVisible();
  await page.keyboard.press(' ');
  await page.getByRole('button', { name: /Hear our Salt two-step/ }).click();
  await expect(page.getByRole('button', { name: /Hear our Salt two-step/ }).locator('svg.lucide-square')).toBeVisible(); // prettier-ignore
  await page.getByRole('button', { name: /Hear our Salt two-step/ }).click();
  await page.keyboard.press('Control+s');
  await expect(page.getByText(/3 phrases taken|2 phrases taken/)).toBeVisible();
  await expect(page.getByText('3 the same')).toBeVisible();
  await page.goto('/library?text=two-step');
  await expect(page.getByText('Salt two-step, from The string player').first()).toBeVisible();
});

test('a pack goes out, comes back changed, is dropped on a view, and what changed stands beside ours', async ({
  page,
}, info) => {
  await page.goto('/handoff');
  await page.getByRole('link', { name: /For the copyist/ }).click();
  const back = info.outputPath('back.zip');
  await packSentBack(page, 'Download ZIP', /Goose-pedal.*\.mid$/, back);
  // Where a file is chosen for intake, a pack of ours is known as one.
  await page.goto('/capture');
  await page.getByLabel('MIDI files').setInputFiles(back);
  await expect(page).toHaveURL(/came-back\//);
  const row = page.getByRole('listitem').filter({ hasText: 'Goose pedal point' });
  await expect(row.getByText('1 semitone up')).toBeVisible();
  await row.getByLabel(/What is done with/).selectOption('both');
  await page.getByRole('button', { name: 'Take 1 phrase' }).click();
  await expect(page.getByText('1 phrase taken.')).toBeVisible();
  await expect(page.getByRole('button', { name: 'Nothing to take' })).toBeDisabled();
  await page.getByRole('link', { name: 'Came back' }).click();
  await page.getByRole('button', { name: 'Let go: For the copyist' }).click();
  await expect(page.getByRole('link', { name: 'For the copyist' })).toHaveCount(0);
});

test('what is no pack says so', async ({ page }, info) => {
  await page.goto('/handoff/came-back');
  const none = info.outputPath('none.zip');
  writeFileSync(none, 'no zip');
  await page.getByLabel('A pack that came back').setInputFiles(none);
  await expect(page.getByText(/no ZIP, or it is damaged/)).toBeVisible();
});
