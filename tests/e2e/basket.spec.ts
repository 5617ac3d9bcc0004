import { expect, test } from './fixtures.ts';

test.beforeEach(async ({ page }) => {
  await page.goto('/handoff');
  await page.getByRole('link', { name: /For the percussionist/ }).click();
  await expect(page.getByRole('button', { name: 'Download ZIP' })).toBeVisible();
});

test('ordered and emptied by keyboard, taken back, and the same after a reload', async ({ page }) => {
  const names = page.locator('main li .font-bold');
  const before = await names.allTextContents();
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Alt+ArrowUp');
  await expect(names.first()).toHaveText(before[1]!);
  await page.keyboard.press('Delete');
  await expect(names).toHaveCount(before.length - 1);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect(names).toHaveText(before);
  await page.keyboard.press('Control+y');
  await expect(names.first()).toHaveText(before[1]!);
  const path = new URL(page.url()).pathname.replace('/handoff', '/api/baskets');
  await expect
    .poll(
      async () =>
        ((await (await page.request.get(path)).json()) as { items: { name: string }[] }).items[0]!.name,
    )
    .toBe(before[1]);
  await page.reload();
  await expect(names.first()).toHaveText(before[1]!);
  await page.getByRole('button', { name: `Move ${before[1]}` }).focus();
  await page.keyboard.press('Space');
  await expect(page.getByText(`${before[1]} over place 2 of`)).toBeAttached();
  await page.keyboard.press('ArrowDown');
  await expect(page.getByText(`${before[1]} over place 3 of`)).toBeAttached();
  await page.keyboard.press('Space');
  await expect(names).toHaveText(before);
});

test('a key pressed at the moment an answer comes is not held against what was before it', async ({
  page,
}) => {
  const names = page.locator('main li .font-bold');
  const before = await names.allTextContents();
  const path = new URL(page.url()).pathname.replace('/handoff', '/api/baskets');
  const kept = async () =>
    ((await (await page.request.get(path)).json()) as { items: { name: string }[] }).items.map(
      ({ name }) => name,
    );
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Alt+ArrowUp');
  await page.keyboard.press('Delete');
  await expect.poll(kept).toEqual(before.filter((name) => name !== before[1]));
  await page.evaluate(() => {
    const read = Response.prototype.json;
    // After the answer has been taken over, and before any timer: nothing is drawn anew until then.
    Response.prototype.json = async function (this: Response) {
      const body: unknown = await read.call(this);
      if (this.url.endsWith('/items')) {
        Response.prototype.json = read;
        void (async () => {
          for (let i = 0; i < 200; i++) await Promise.resolve();
          document.body.dispatchEvent(
            new KeyboardEvent('keydown', { key: 'z', ctrlKey: true, bubbles: true }),
          );
        })();
      }
      return body;
    };
  });
  await page.keyboard.press('Control+z');
  await expect.poll(kept).toEqual(before);
  await expect(names).toHaveText(before);
});

test('rows are dragged by their handle with the mouse', async ({ page }) => {
  const names = page.locator('main li .font-bold');
  const before = await names.allTextContents();
  const handle = (await page.getByRole('button', { name: `Move ${before[0]}` }).boundingBox())!;
  await page.mouse.move(handle.x + 6, handle.y + 8);
  await page.mouse.down();
  await page.mouse.move(handle.x + 6, handle.y + 60, { steps: 8 });
  await page.mouse.up();
  await expect(names.first()).toHaveText(before[1]!);
  await page.getByRole('button', { name: /^Take back/ }).click();
  await expect(names).toHaveText(before);
});

test('the naming pattern shows at once what files will be called, and says what it does not know', async ({
  page,
}) => {
  await page.getByLabel('Naming pattern').fill('{number}_{role}_{tmpo}');
  await expect(page.getByRole('alert')).toContainText('There is no {tmpo}');
  await page.getByLabel('Naming pattern').fill('{role}');
  await expect(page.getByText('drums-2.mid', { exact: true })).toBeVisible();
  await page.getByLabel('Key and tempo in which they leave').selectOption('in the project');
  await expect(page.locator('main li').filter({ hasText: 'Ferry bass' })).toContainText('Dm');
});

test('phrases of another basket and of a project are brought in as one change, and taken back as one', async ({
  page,
}) => {
  const names = page.locator('main li .font-bold');
  const before = await names.count();
  await page.getByRole('button', { name: 'Bring phrases in ...' }).click();
  const dialog = page.getByRole('dialog', { name: 'Bring phrases in' });
  await dialog.getByLabel('From').selectOption({ label: 'The Lantern Ferry' });
  const rows = dialog.getByRole('list', { name: 'Phrases' }).getByRole('listitem');
  await expect(rows.first()).toBeVisible();
  const here = await rows.filter({ hasText: 'here already' }).count();
  await dialog.getByRole('button', { name: 'Tick all' }).click();
  const bring = dialog.getByRole('button', { name: /^Bring \d+ phrases? in$/ });
  const count = Number(/\d+/.exec((await bring.textContent())!)![0]);
  expect(count + here).toBe(await rows.count());
  await bring.click();
  await expect(names).toHaveCount(before + count);
  await page.keyboard.press('Control+z');
  await expect(names).toHaveCount(before);
  await page.getByRole('button', { name: 'Bring phrases in ...' }).click();
  await dialog.getByLabel('From').selectOption({ index: 0 });
  await rows.getByRole('checkbox').first().check();
  const written = page.waitForResponse(
    (answer) => answer.request().method() !== 'GET' && /\/items$/.test(answer.url()),
  );
  await dialog.getByRole('button', { name: 'Bring 1 phrase in' }).click();
  await expect(names).toHaveCount(before + 1);
  await written;
  await page.reload();
  await expect(names).toHaveCount(before + 1);
});

test('headings, several rows at once, and a phrase that leaves otherwise: by keyboard, each taken back', async ({
  page,
}) => {
  const names = page.locator('main li .font-bold');
  const before = await names.allTextContents();
  const heading = (text: string) => page.getByRole('textbox', { name: `Heading ${text}`, exact: true });
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('h');
  await expect(heading('Heading')).toBeFocused();
  await page.keyboard.type('Slow ones');
  await page.keyboard.press('Enter');
  await expect(heading('Slow ones')).toBeVisible();
  await page.keyboard.press('Shift+ArrowDown');
  await expect(page.getByText('2 chosen', { exact: true })).toBeVisible();
  await page.keyboard.press('l');
  const own = page.getByRole('dialog', { name: /^How .* leaves$/ });
  await own.getByLabel('Key').selectOption('Eb');
  await own.getByLabel('Tempo').fill('72');
  await own.getByLabel('Fitted').selectOption('to nothing: as played');
  await page.keyboard.press('Escape');
  await expect(page.getByText('on Eb, 72 BPM, plain', { exact: true })).toHaveCount(1);
  // Drums go onto no tonic.
  const drums = page.locator('main li').filter({ hasText: before[1]! });
  await expect(drums.getByText('72 BPM, plain', { exact: true })).toBeVisible();
  const row = page.locator('main li').filter({ hasText: before[2]! });
  await expect(row).toContainText('72');
  await expect(row).toContainText('Ebm');
  // It is heard as it leaves.
  const bar = page.getByRole('contentinfo');
  await page.evaluate(() => (document.activeElement as HTMLElement).blur());
  await page.keyboard.press('Space');
  await expect(bar).toContainText('as it leaves: on Eb, 72 BPM, plain');
  await expect(bar.getByLabel('Tempo')).toHaveValue('72');
  await expect(bar).toContainText(/E. minor/);
  await page.keyboard.press('Space');
  // One goes past the heading, then both past a phrase.
  await page.keyboard.press('Alt+ArrowDown');
  await page.keyboard.press('Alt+ArrowDown');
  await expect(names.nth(1)).toHaveText(before[3]!);
  await expect(names.nth(2)).toHaveText(before[1]!);
  await page.keyboard.press('Delete');
  await expect(names).toHaveCount(before.length - 2);
  await page.reload();
  await expect(heading('Slow ones')).toBeVisible();
  await expect(names).toHaveCount(before.length - 2);
});
