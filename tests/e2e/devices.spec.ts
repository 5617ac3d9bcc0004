import type { Page } from '@playwright/test';
import { fakeMidi } from '../support/fake-midi.ts';
import { openLive, recordFreely } from '../support/live-page.ts';
import { recordedTake } from '../support/recorded-take.ts';
import { expect, test } from './fixtures.ts';

const recording = (page: Page) => page.getByRole('region', { name: 'Recording' });

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

/** Sends notes of a device at even steps from now on: pitches and velocities, each so long, in ms. */
async function play(
  page: Page,
  name: string,
  notes: readonly [pitch: number, velocity: number][],
  step = 120,
) {
  await page.evaluate(
    ([device, played, every]) => {
      const at = performance.now();
      window.fakeMidi.send(
        device,
        played.flatMap(([pitch, velocity], k) => [
          { at: at + k * every, bytes: [0x90, pitch, velocity] },
          { at: at + k * every + every / 2, bytes: [0x80, pitch, 64] },
        ]),
      );
    },
    [name, notes, step] as const,
  );
}

test('a keyboard that sets a generator off through the page: sent on with its channel, kept beside the take, and no part of it', async ({
  page,
}) => {
  await fakeMidi(page, 'given');
  await openLive(page);
  await page.evaluate(() => {
    window.fakeMidi.plug('Keyboard');
    window.fakeMidi.plug('Generator');
  });
  await page.getByRole('button', { name: 'Generator', exact: true }).click();
  await page.getByRole('spinbutton', { name: 'Its channel' }).fill('5');
  await page.getByRole('button', { name: 'Keyboard', exact: true }).click();
  await page.getByRole('combobox', { name: 'It is' }).selectOption({ label: 'sets off, through the page' });
  await recordFreely(page);
  const keys = Array.from({ length: 12 }, (_, k) => [60 + (k % 3), 80 + k] as [number, number]);
  await play(page, 'Keyboard', keys);
  await play(page, 'Generator', [
    [72, 90],
    [76, 90],
    [79, 90],
  ]);
  await expect(recording(page)).toContainText('3 notes');
  const take = await stopAndRead(page);
  expect(take.facts.notes).toBe(3);
  expect(take.facts.streams.map(({ name }: { name: string }) => name)).toEqual(['Generator']);
  expect(take.capture.input, 'what set it off is kept beside it').toMatch(/^[0-9a-f]{64}$/);
  const sent = await page.evaluate(() => window.fakeMidi.sent.filter(({ name, bytes }) => name === 'Generator' && (bytes[0]! & 0xf0) === 0x90)); // prettier-ignore
  expect(sent.map(({ bytes }) => bytes)).toEqual(keys.map(([pitch, velocity]) => [0x94, pitch, velocity]));
  await expect(page.getByText(/The page adds [\d.]+ ms, 95 of 100 times/)).toBeVisible();
});

test('what a device is asked to play is typed before, kept for its name, and held against what came', async ({
  page,
}) => {
  await fakeMidi(page, 'given');
  await openLive(page);
  await page.evaluate(() => window.fakeMidi.plug('Arranger'));
  await page.getByRole('button', { name: 'Arranger', exact: true }).click();
  await page.getByRole('textbox', { name: 'Chart' }).fill('Dm | A7');
  await page.getByRole('textbox', { name: 'Key' }).fill('Dm');
  await page.getByRole('spinbutton', { name: 'Bars', exact: true }).fill('2');
  await page.evaluate(() => window.fakeMidi.unplug('Arranger'));
  await expect(page.getByText('unplugged', { exact: true })).toBeVisible();
  await page.reload();
  await page.getByRole('button', { name: 'Look for devices' }).click();
  await page.evaluate(() => window.fakeMidi.plug('Arranger'));
  await page.getByRole('button', { name: 'Arranger', exact: true }).click();
  await expect(page.getByRole('textbox', { name: 'Chart' })).toHaveValue('Dm | A7');
  await recordFreely(page);
  await play(page, 'Arranger', [
    [62, 90],
    [65, 90],
    [69, 90],
  ]);
  await expect(recording(page)).toContainText('3 notes');
  const take = await stopAndRead(page);
  expect(take.asked).toMatchObject({ chart: 'Dm | A7', bars: 2, key: { tonic: 2, mode: 'minor' } });
});

test('what is taken from memory has the bars of the clock that ran, and its tempo is asked about once', async ({
  page,
}) => {
  await fakeMidi(page, 'given');
  await openLive(page);
  await page.evaluate(() => window.fakeMidi.plug('Sequencer'));
  await page.getByRole('button', { name: 'Sequencer', exact: true }).click();
  await page.evaluate(() => {
    const from = performance.now();
    const clock = 60_000 / 140 / 24;
    const messages = [{ at: from, bytes: [0xfa] }];
    for (let n = 0; n < 24 * 10; n++) messages.push({ at: from + n * clock, bytes: [0xf8] });
    for (let beat = 0; beat < 8; beat++)
      messages.push(
        { at: from + beat * 24 * clock + 0.1, bytes: [0x90, 48 + beat, 90] },
        { at: from + (beat * 24 + 12) * clock, bytes: [0x80, 48 + beat, 64] },
      );
    window.fakeMidi.send(
      'Sequencer',
      messages.sort((a, b) => a.at - b.at),
    );
  });
  await expect(page.getByText('Its clock runs at 140 BPM')).toBeVisible();
  await page.getByRole('button', { name: 'Take 140 BPM' }).click();
  await expect(recording(page).getByLabel('BPM')).toHaveValue('140');
  await page.getByRole('button', { name: 'Take what Sequencer just played' }).click();
  const { row } = await recordedTake(page);
  expect(row.capture.clock).toBe('followed');
  expect(row.facts.tempos[0].bpm).toBeCloseTo(140, 0);
  expect(row.account.barsReceived).toBe(2);
});

test('a chart is played into a device as held keys; one that only sends them back is told', async ({
  page,
}) => {
  test.setTimeout(60_000);
  await fakeMidi(page, 'given');
  await openLive(page);
  await page.evaluate(() => {
    window.fakeMidi.plug('Box');
    // Its MIDI thru is on.
    const { sent } = window.fakeMidi;
    const push = sent.push.bind(sent);
    sent.push = (...messages) => {
      for (const { bytes, at } of messages)
        if ((bytes[0]! & 0xe0) === 0x80)
          setTimeout(() => window.fakeMidi.send('Box', [{ at: at + 3, bytes }]), Math.max(0, at - performance.now())); // prettier-ignore
      return push(...messages);
    };
  });
  await recording(page).getByLabel('BPM').fill('200');
  await page.getByRole('button', { name: 'Play something into it' }).click();
  await page.getByRole('textbox', { name: 'Chart' }).fill('Dm | Gx');
  await expect(page.getByText(/Bar 2: "Gx" is not a chord symbol/)).toBeVisible();
  await page.getByRole('textbox', { name: 'Chart' }).fill('Dm | Gm | A7');
  await page.getByRole('spinbutton', { name: 'Octaves up' }).fill('1');
  await page.getByRole('button', { name: 'Play it in' }).click();
  await page.getByRole('button', { name: 'Record', exact: true }).click();
  await expect(page.getByRole('alert').filter({ hasText: 'Box sends back what is played into it' })).toBeVisible({ timeout: 30_000 }); // prettier-ignore
  const keys = await page.evaluate(() => window.fakeMidi.sent.filter(({ bytes }) => (bytes[0]! & 0xf0) === 0x90).map(({ bytes }) => bytes[1]!)); // prettier-ignore
  expect(keys.slice(0, 3).map((pitch) => pitch % 12).sort((a, b) => a - b)).toEqual([2, 5, 9]); // prettier-ignore
  expect(keys).toHaveLength(10);
});
