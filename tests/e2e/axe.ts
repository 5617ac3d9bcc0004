import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { Page } from '@playwright/test';

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');

/** What axe-core finds serious or critical, by the rules of WCAG 2.2 A and AA; in the second theme, of its colors alone. */
export async function seriousFindings(page: Page, only: 'all' | 'colors' = 'all'): Promise<string[]> {
  // Before its fonts have come, words have other widths.
  await page.evaluate(() => document.fonts.ready);
  // The page's own policy lets no script in but its files: axe is run beside it.
  await page.evaluate(axe);
  return page.evaluate(async (what) => {
    const { axe: checker } = window as unknown as {
      axe: {
        run: (
          options: object,
        ) => Promise<{ violations: { id: string; impact: string; nodes: { target: string[] }[] }[] }>;
      };
    };
    const tags = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];
    const { violations } = await checker.run(
      what === 'colors'
        ? { runOnly: { type: 'rule', values: ['color-contrast'] } }
        : { runOnly: { type: 'tag', values: tags }, rules: { 'target-size': { enabled: true } } },
    );
    return violations
      .filter(({ impact }) => impact === 'serious' || impact === 'critical')
      .map(
        ({ id, nodes }) =>
          `${id}: ${nodes
            .slice(0, 3)
            .map(({ target }) => target.join(' '))
            .join(' | ')}`,
      );
  }, only);
}
