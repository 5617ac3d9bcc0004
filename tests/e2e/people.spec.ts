import type { Page } from '@playwright/test';
import { seriousFindings } from './axe.ts';
import { expect, phraseRows, strands, test } from './fixtures.ts';

const VIEWS: [name: string, open: (page: Page) => Promise<void>][] = [
  ['Capture', async (page) => void (await page.goto('/capture'))],
  ['Live', async (page) => void (await page.goto('/capture/live'))],
  ['Split', async (page) => void (await page.goto('/split'))],
  [
    'Take',
    async (page) => {
      await page.goto('/split');
      await page.getByRole('link', { name: /Winter window/ }).click();
      await expect(strands(page).getByRole('listitem')).toHaveCount(7);
      await page.keyboard.press('ArrowRight');
      // With a history: what was set aside and brought back.
      await page.keyboard.press('a');
      await expect(strands(page).getByRole('listitem')).toHaveCount(6);
      await page.keyboard.press('Control+z');
      await expect(strands(page).getByRole('listitem')).toHaveCount(7);
      await expect(page.getByRole('region', { name: 'History' })).toBeVisible();
    },
  ],
  ['Normalize', async (page) => void (await page.goto('/normalize'))],
  [
    'Phrase',
    async (page) => {
      await page.goto('/library?text=oars');
      await page.getByRole('option', { name: /Oars/ }).dblclick();
      await expect(page.getByRole('region', { name: 'Recipe' })).toBeVisible();
    },
  ],
  ['House standard', async (page) => void (await page.goto('/house'))],
  [
    'Batch',
    async (page) => {
      await page.goto('/normalize');
      await page.getByRole('link', { name: /Night, softer and loose/ }).click();
      await expect(page.getByRole('row').nth(1)).toBeVisible();
    },
  ],
  ['Library', async (page) => void (await page.goto('/library'))],
  ['Harmony', async (page) => void (await page.goto('/library/harmony'))],
  [
    'Twice',
    async (page) => {
      await page.goto('/library/twice');
      await expect(page.getByRole('button', { name: 'Keep this one' }).first()).toBeVisible();
    },
  ],
  ['Reuse', async (page) => void (await page.goto('/reuse'))],
  [
    'Changes',
    async (page) => {
      await page.goto('/reuse/changes');
      await page.getByRole('button', { name: /^Dm i\b/ }).click();
      await page.getByRole('combobox', { name: 'Rhythm' }).selectOption('drawn');
    },
  ],
  [
    'A weave',
    async (page) => {
      await page.goto('/reuse/weave');
      await page.getByRole('link', { name: 'Crossing by lantern' }).click();
      await expect(page.getByRole('status').filter({ hasText: 'BPM' })).toContainText('bars');
      await page
        .getByRole('button', { name: /^Kit in verse/ })
        .first()
        .click();
    },
  ],
  [
    'Through other chords',
    async (page) => {
      await page.goto('/reuse');
      await page.getByRole('link', { name: 'Through yet other chords' }).last().click();
      await page.getByRole('textbox', { name: 'Through' }).fill('F#m7b5 | B7 | Em | C7');
      await expect(page.getByRole('region', { name: 'How it follows' })).toBeVisible();
    },
  ],
  [
    'Chords for a tune',
    async (page) => {
      await page.goto('/library?role=lead');
      await page.getByRole('link', { name: 'Chords for it' }).click();
      await expect(page.getByRole('button', { name: /^Bar 1, plain/ })).toBeVisible();
    },
  ],
  ['Hand off', async (page) => void (await page.goto('/handoff'))],
  [
    'Basket',
    async (page) => {
      await page.goto('/handoff');
      await page.getByRole('link', { name: /For the copyist/ }).click();
      await expect(page.getByRole('button', { name: 'Download ZIP' })).toBeVisible();
    },
  ],
  ['Recipients', async (page) => void (await page.goto('/handoff/recipients'))],
  ['Came back', async (page) => void (await page.goto('/handoff/came-back'))],
  [
    'A pack that came back',
    async (page) => {
      await page.goto('/handoff/came-back');
      await page.getByRole('link', { name: 'Market, first act' }).click();
      // Another test of the same library may have taken what changed.
      await expect(page.getByRole('button', { name: /^Take \d|^Nothing to take/ })).toBeVisible();
    },
  ],
  [
    'Comp',
    async (page) => {
      await page.goto('/split/comp');
      await page.getByRole('link', { name: 'Market chase, the best bars' }).click();
      await expect(page.getByRole('gridcell').first()).toBeVisible();
    },
  ],
  ['Sweeps', async (page) => void (await page.goto('/capture/sweep'))],
  [
    'Sweep',
    async (page) => {
      await page.goto('/capture/sweep');
      await page.getByRole('link', { name: 'River arpeggios' }).click();
      await expect(page.getByRole('row').first()).toBeVisible();
    },
  ],
  ['Mirror', async (page) => void (await page.goto('/handoff/mirror'))],
  ['People', async (page) => void (await page.goto('/people'))],
  ['Nothing found', async (page) => void (await page.goto('/library?text=zzz'))],
];

/** Views whose columns are others on a wide screen. */
const WIDE: ReadonlySet<string> = new Set(['Take', 'Phrase', 'Library', 'Through other chords', 'Basket']);

// Half of the views each, so that two run side by side.
for (const half of [0, 1]) {
  test(`axe-core finds nothing serious on any view, in both themes, 1280x800 and 1920x1080, half ${half + 1}`, async ({
    page,
  }) => {
    test.setTimeout(180_000);
    await page.addInitScript(() => localStorage.setItem('theme', 'day'));
    for (const [name, open] of VIEWS.filter((_, k) => k % 2 === half)) {
      await open(page);
      await expect(page.locator('main h1, main h2').first()).toBeVisible();
      // What is laid out anew where there is room is looked at there too.
      const sizes = [
        { width: 1280, height: 800 },
        ...(WIDE.has(name) ? [{ width: 1920, height: 1080 }] : []),
      ];
      for (const size of sizes) {
        await page.setViewportSize(size);
        expect(await seriousFindings(page), `${name} at ${size.width}`).toEqual([]);
      }
      await page.getByRole('button', { name: 'Lamp', exact: true }).click();
      await page.setViewportSize({ width: 1280, height: 800 });
      expect(await seriousFindings(page, 'colors'), `${name} in the lamp theme`).toEqual([]);
    }
  });
}

test('nothing lies outside the window from 1024 pixels on', async ({ page }) => {
  await page.setViewportSize({ width: 1024, height: 768 });
  for (const [name, open] of VIEWS) {
    await open(page);
    await expect(page.locator('main h1, main h2').first()).toBeVisible();
    const outside = await page.evaluate(() =>
      [...document.querySelectorAll('button, a, input, select')]
        .filter((element) => {
          const box = element.getBoundingClientRect();
          return box.width > 0 && (box.right > innerWidth + 1 || box.left < -1);
        })
        .map((element) => element.outerHTML.slice(0, 120)),
    );
    expect(outside, name).toEqual([]);
  }
});

test('every action is found in the palette, and every shortcut on the sheet', async ({ page }) => {
  await page.goto('/library');
  await expect(phraseRows(page).first()).toBeVisible();
  await page.keyboard.press('Control+k');
  await page.getByPlaceholder('What do you want to do?').fill('go to hand');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('heading', { name: 'Baskets' })).toBeVisible();
  await page.keyboard.press('Alt+4');
  await expect(page.getByRole('listbox', { name: /phrases$/ })).toBeVisible();
  await page.keyboard.press('?');
  const sheet = page.getByRole('dialog', { name: 'Shortcuts' });
  await expect(sheet).toContainText('Put the phrase into the basket');
  await expect(sheet).toContainText('Go to Capture');
  await page.keyboard.press('Escape');
  await expect(sheet).toBeHidden();
});

test('the focus can be seen wherever it goes', async ({ page }) => {
  await page.goto('/library');
  await expect(phraseRows(page).first()).toBeVisible();
  const seen = new Set<string>();
  for (let i = 0; i < 60; i++) {
    await page.keyboard.press('Tab');
    const focus = await page.evaluate(() => {
      const element = document.activeElement as HTMLElement;
      const { outlineStyle, outlineWidth } = getComputedStyle(element);
      return {
        what: `${[...document.querySelectorAll('*')].indexOf(element)} ${element.outerHTML.slice(0, 80)}`,
        visible: outlineStyle !== 'none' && parseFloat(outlineWidth) >= 1,
        tag: element.tagName,
      };
    });
    if (focus.tag === 'BODY') continue;
    seen.add(focus.what);
    expect(focus.visible, focus.what).toBe(true);
  }
  expect(seen.size).toBeGreaterThan(20);
});
