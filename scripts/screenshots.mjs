// Draws docs/screenshots anew from the demo data, one picture a main view, at 1280 x 800.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium } from 'playwright-core';
import { build } from './build.mjs';
import { startServer, stopServer } from './serve.mjs';
import { quietPage, watchPage } from './quiet-page.mjs';
import { launchOptions } from './browser.mjs';
import { root } from './setup.mjs';

/** The pictures that are asked for by name; all where none is. */
const asked = process.argv.slice(2);

await build();
const data = mkdtempSync(join(tmpdir(), 'basket-pictures-'));
const { server, address } = await startServer({ PORT: '4499', DATA_DIR: join(data, 'demo'), DEMO: '1' });
/** A library of one's own, before anything is in it. */
const empty = await startServer({ PORT: '4498', DATA_DIR: join(data, 'own') });
const browser = await chromium.launch(launchOptions);

/** Opens a view in a theme, does something with it, and keeps its picture. */
async function picture(name, theme, path, act = async () => {}, from = address) {
  if (asked.length > 0 && !asked.includes(name)) return;
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  watchPage(page);
  await page.addInitScript((value) => localStorage.setItem('theme', value), theme);
  await page.goto(from + path);
  await page.locator('main h1, main h2, main [role=option]').first().waitFor();
  await act(page);
  await page.mouse.move(260, 30);
  await page.waitForTimeout(600);
  await page.screenshot({ path: join(root, 'docs/screenshots', `${name}.png`) });
  await page.close();
}

const open = (label) => async (page) => {
  await page.getByRole('link', { name: label }).first().click();
  await quietPage(page);
};
/** The dialog in which it is chosen how a take leaves, for somebody. */
const leave = async (page, recipient) => {
  await page.getByRole('region', { name: 'Tally' }).waitFor();
  await page.keyboard.press('Control+Shift+e');
  await page.getByLabel('For', { exact: true }).selectOption({ label: recipient });
  await quietPage(page);
};
const openTake = (name) => async (page) => {
  await open(name)(page);
  await page.getByRole('region', { name: 'Tally' }).waitFor();
  await page.keyboard.press('ArrowDown');
  for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowRight');
};
/** The arpeggiator, caught in the middle of a recording. */
const recordArpeggio = async (page) => {
  await page.getByRole('checkbox', { name: 'Record Arpeggiator' }).check();
  await page.getByRole('button', { name: 'Arpeggiator', exact: true }).click();
  await page.getByLabel('Chords held').fill('Dm | Dm | Bb | C | Gm | Gm | A7 | Dm');
  await page.getByRole('button', { name: 'Record', exact: true }).click();
  await page.waitForTimeout(14_000);
  await page.keyboard.press('m');
  await page.waitForTimeout(3_000);
};

/** The page of people: an owner, a member who works, a guest who has sent a pack back. */
async function people(at) {
  const invited = spawnSync(process.execPath, ['bin/hollow-basket.mjs', 'invite', 'The composer', '--role', 'owner', '--json', '--data', join(data, 'demo')], { cwd: root, encoding: 'utf8', env: { ...process.env, PORT: '4499' } }); // prettier-ignore
  const comesIn = async (link) => {
    const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, baseURL: at });
    const page = await context.newPage();
    await page.goto(link);
    await page.getByLabel('Choose a password').fill('lantern goose thistle ferry');
    await page.keyboard.press('Enter');
    await page.getByRole('heading', { name: 'Come in' }).waitFor({ state: 'detached' });
    return page;
  };
  const owner = await comesIn(JSON.parse(invited.stdout).link);
  const invite = async (note, role, baskets) => {
    const answer = await owner.request.post('/api/invitations', { headers: { origin: at }, data: { note, role, baskets } }); // prettier-ignore
    return (await answer.json()).link;
  };
  const { baskets } = await (await owner.request.get('/api/baskets')).json();
  const basket = baskets.find(({ name }) => name === 'For the copyist');
  const member = await comesIn(await invite('The percussionist', 'member'));
  await member.goto(`/handoff/${basket.id}`);
  await member.request.patch(`/api/baskets/${basket.id}`, {
    headers: { origin: at },
    data: { previews: true },
  });
  const guest = await comesIn(await invite('The copyist', 'guest', [basket.id]));
  const pack = await guest.request.get(`/api/baskets/${basket.id}/pack`);
  const file = { name: 'pack.zip', mimeType: 'application/zip', buffer: await pack.body() };
  await guest.request.post(`/api/baskets/${basket.id}/answer`, {
    headers: { origin: at },
    multipart: { file },
  });
  await invite('The string player', 'guest', [basket.id]);
  await owner.goto('/people');
  await owner.getByRole('cell', { name: /The percussionist/ }).waitFor();
  await owner.getByLabel('Who is it for').fill('The lighting hand');
  await owner.getByRole('button', { name: 'Make a link' }).click();
  await owner.waitForTimeout(800);
  await owner.screenshot({ path: join(root, 'docs/screenshots', 'people.png') });
}

try {
  await picture('first-screen', 'day', '/library', undefined, empty.address);
  await picture('capture', 'day', '/capture');
  await picture('live', 'day', '/capture/live', recordArpeggio);
  await picture('take', 'day', '/capture?search=storm', openTake('Storm on the crossing'));
  await picture('music', 'day', '/capture?search=lamps', async (page) => {
    await open('Lamps going out, slower and slower')(page);
    await page.getByRole('button', { name: /^On its bars/ }).click();
    await page.getByRole('img', { name: /^Tempo from/ }).waitFor();
    await page
      .getByRole('region', { name: 'Loops' })
      .getByRole('button', { name: /^Bars 1 to 4/ })
      .click();
  });
  await picture('comp', 'day', '/split/comp', async (page) => {
    await open('Market chase, the best bars')(page);
    await page.getByRole('gridcell', { name: /pass 2, bar 4/ }).waitFor();
    for (let bar = 0; bar < 3; bar++) await page.keyboard.press('ArrowRight');
    await page.keyboard.press('ArrowDown');
    await page.waitForTimeout(800);
  });
  await picture('sweep', 'lamp', '/capture/sweep', open('River arpeggios'));
  await picture('house', 'day', '/house');
  await picture('phrase', 'day', '/library?text=crossing+verse', async (page) => {
    await page.getByRole('option', { name: /Crossing verse, keys/ }).dblclick();
    await page.getByRole('region', { name: 'Recipe' }).waitFor();
    await page.getByLabel('with the rest of its sheaf').check();
    await page.keyboard.press('ArrowRight');
  });
  await picture('library', 'day', '/library', async (page) => {
    // Two pins go on playing while the arrows try others, the best fit first.
    for (const name of [/Crossing verse, kit/, /Crossing verse, bass/]) {
      await page.getByRole('option', { name }).click();
      await page.keyboard.press('p');
    }
    await page.getByRole('combobox', { name: 'Order' }).selectOption('fit');
    await page.getByRole('button', { name: /^Fit/ }).click();
    await page.getByRole('option', { name: /Crossing verse, keys/ }).click();
    await page.keyboard.press('Space');
    await page.waitForTimeout(1500);
    await page.keyboard.press('ArrowDown');
    await page.waitForTimeout(500);
  });
  await picture('through', 'day', '/reuse', async (page) => {
    await page.getByRole('link', { name: 'Through yet other chords' }).last().click();
    await page.getByRole('textbox', { name: 'Through' }).fill('Eb | Cm Ab | Bb7 | Eb');
    await page.getByRole('button', { name: /^Bass/ }).click();
    await page.waitForTimeout(800);
  });
  await picture('changes', 'day', '/reuse/changes', async (page) => {
    const begin = page.getByLabel('Begin with');
    await begin.getByRole('option').nth(3).waitFor({ state: 'attached' });
    await begin.selectOption({ index: 2 });
    await page.getByLabel('Rhythm').last().selectOption('three three two');
    await page.getByRole('group', { name: 'The line of chords' }).getByRole('button').nth(2).click();
  });
  await picture('weave', 'lamp', '/reuse/weave', async (page) => {
    await page.getByRole('link', { name: 'Crossing by lantern' }).click();
    await page.getByRole('status').filter({ hasText: 'BPM' }).waitFor();
    await page.getByRole('button', { name: /^Kit in refrain/ }).click();
    await page.waitForTimeout(800);
  });
  await picture('basket', 'day', '/handoff', open(/For the percussionist/));
  await picture('merge', 'day', '/handoff/came-back', async (page) => {
    await page.getByRole('link', { name: 'Market, first act' }).click();
    await page.getByText('changed by them').first().waitFor();
  });
  await picture('recipient', 'lamp', '/handoff/recipients', open(/The string player/));
  await picture('leave', 'day', '/capture?search=ferry', async (page) => {
    await open('Ferry crossing')(page);
    await leave(page, 'The string player');
  });
  await picture('sheet', 'lamp', '/capture?search=ferry', async (page) => {
    await open('Ferry crossing')(page);
    await leave(page, 'The copyist');
    await page.getByRole('button', { name: 'A sheet, for those who read' }).click();
    await page.locator('[data-drawn] svg').waitFor();
  });
  await stopServer(server);
  const group = await startServer({ PORT: '4499', DATA_DIR: join(data, 'demo'), ACCOUNTS: 'on' });
  await people(group.address);
  await stopServer(group.server);
} finally {
  await browser.close();
  await stopServer(server);
  await stopServer(empty.server);
  rmSync(data, { recursive: true, force: true });
}
