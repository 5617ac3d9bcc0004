// When a page has nothing more to ask: as Playwright's `networkidle`, but for the news, which are never over.

/** News are never over; and of a shared worker's script the page is not told that it has come. */
const NEWS = /\/api\/events|\/news\.worker/;

/** @type {WeakMap<import('playwright-core').Page, Set<import('playwright-core').Request>>} */
const asking = new WeakMap();

/** Begins to count what a page asks for. Call it before the page is opened. @param {import('playwright-core').Page} page */
export function watchPage(page) {
  const open = new Set();
  asking.set(page, open);
  page.on('request', (request) => {
    if (!NEWS.test(request.url())) open.add(request);
  });
  for (const ending of /** @type {const} */ (['requestfinished', 'requestfailed']))
    page.on(ending, (request) => open.delete(request));
}

/** Waits until a page has asked for nothing for half a second. @param {import('playwright-core').Page} page */
export async function quietPage(page, within = 20_000) {
  const until = Date.now() + within;
  for (let quiet = 0; quiet < 5; quiet = asking.get(page)?.size ? 0 : quiet + 1) {
    if (Date.now() > until)
      throw new Error(`The page still asks for ${[...asking.get(page)].map((one) => one.url()).join(', ')}.`);
    await page.waitForTimeout(100);
  }
}
