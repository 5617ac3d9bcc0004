import type { Page } from '@playwright/test';
import { quietPage } from '../../scripts/quiet-page.mjs';
import { expect, phraseRows, strands, test } from './fixtures.ts';

/**
 * 200 % zoom of 1280 x 800 is a window of 640 x 400 (WCAG 2.2, 1.4.10 Reflow, and 1.4.4 Resize Text): everything can be
 * reached, and where notes are worked on they keep half of the height.
 */
test.use({ viewport: { width: 640, height: 400 } });

/** Controls that cannot be brought into sight, or lie under something else there. */
async function unreachable(page: Page): Promise<string[]> {
  return page.evaluate(() => {
    const isShown = (element: Element) => {
      const { width, height } = element.getBoundingClientRect();
      return width > 0 && height > 0 && element.checkVisibility({ visibilityProperty: true });
    };
    // What is shown to screen readers alone, until it has the focus, is not for the eye.
    const isForEyes = (element: Element) => {
      const { clipPath, position } = getComputedStyle(element);
      return !(position === 'absolute' && clipPath !== 'none');
    };
    const controls = [
      ...document.querySelectorAll('button, a[href], input, select, textarea, [role=slider]'),
    ];
    return controls
      .filter((element) => isShown(element) && isForEyes(element) && !element.closest('.sr-only, [inert]'))
      .filter((element) => {
        element.scrollIntoView({ block: 'center', inline: 'center', behavior: 'instant' });
        const box = element.getBoundingClientRect();
        const [x, y] = [box.left + box.width / 2, box.top + box.height / 2];
        if (x < 0 || y < 0 || x > innerWidth || y > innerHeight) return true;
        const there = document.elementFromPoint(x, y);
        // Where a label holds a control, its point is the control's.
        return !(there && (element.contains(there) || there.contains(element)));
      })
      .map((element) => element.outerHTML.slice(0, 160));
  });
}

const VIEWS: [name: string, open: (page: Page) => Promise<unknown>][] = [
  ['Capture', (page) => page.goto('/capture')],
  ['Live', (page) => page.goto('/capture/live')],
  ['Split', (page) => page.goto('/split')],
  ['Normalize', (page) => page.goto('/normalize')],
  ['Library', (page) => page.goto('/library')],
  ['Harmony', (page) => page.goto('/library/harmony')],
  ['Twice', (page) => page.goto('/library/twice')],
  ['House standard', (page) => page.goto('/house')],
  ['Hand off', (page) => page.goto('/handoff')],
];

for (const [name, open] of VIEWS)
  test(`${name}: everything can be reached at 200 % zoom`, async ({ page }) => {
    await open(page);
    await expect(page.locator('main h1, main h2').first()).toBeAttached();
    await quietPage(page);
    expect(await unreachable(page)).toEqual([]);
  });

test('a take at 200 % zoom: everything can be reached, and strands keep half of the height', async ({
  page,
}) => {
  await page.goto('/split');
  await page.getByRole('link', { name: /Winter window/ }).click();
  await expect(strands(page).getByRole('listitem').first()).toBeAttached();
  await quietPage(page);
  const { height } = (await page.locator('.notes-frame').boundingBox())!;
  expect(height).toBeGreaterThanOrEqual(200);
  expect(await unreachable(page)).toEqual([]);
});

test('a phrase at 200 % zoom: everything can be reached, and its notes keep half of the height', async ({
  page,
}) => {
  await page.goto('/library?text=oars');
  await phraseRows(page).first().dblclick();
  await expect(page.getByRole('region', { name: 'Recipe' })).toBeAttached();
  await quietPage(page);
  const { height } = (await page.locator('.notes-area').boundingBox())!;
  expect(height).toBeGreaterThanOrEqual(200);
  expect(await unreachable(page)).toEqual([]);
});

test('at 125 and 150 % zoom the notes keep half of the height too', async ({ page }) => {
  for (const [width, height] of [
    [1024, 640],
    [853, 533],
  ] as const) {
    await page.setViewportSize({ width, height });
    await page.goto('/split');
    await page.getByRole('link', { name: /Winter window/ }).click();
    await expect(strands(page).getByRole('listitem').first()).toBeAttached();
    const box = (await page.locator('.notes-frame').boundingBox())!;
    expect(box.height, `at ${width} x ${height}`).toBeGreaterThanOrEqual(height / 2 - 1);
    expect(await unreachable(page), `at ${width} x ${height}`).toEqual([]);
  }
});
