import type { Page } from 'playwright-core';
import pg from 'pg';
import { startTestServer } from '../tests/support/server.ts';
import { readHolder } from '../src/server/db/lock.ts';
import { openBrowser } from './frames.ts';
import type { BenchResult } from './measure.ts';

const PHRASES = 10_000;

/**
 * The library in Chromium on the built application: milliseconds to a usable list of 10,000 phrases, and the weight of
 * the page. The reference is the same page with the demo's few phrases.
 */
export async function bench(): Promise<BenchResult> {
  const server = await startTestServer({ demo: true });
  const browser = await openBrowser();
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    let weight = 0;
    page.on(
      'response',
      async (response) => (weight += (await response.body().catch(() => Buffer.alloc(0))).length),
    );
    const reference = await usableAfter(page, server.address);
    await multiplyPhrases(server.dataDirectory);
    const ours = await usableAfter(page, server.address);
    console.log(
      `library of ${PHRASES}: usable after ${Math.round(ours)} ms, ${Math.round(weight / 1024)} KB in two visits`,
    );
    return { bench: 'ui', ours, reference, ratio: ours / reference, unit: 'ms to a usable library' };
  } finally {
    await browser.close();
    await server.remove();
  }
}

async function usableAfter(page: Page, address: string): Promise<number> {
  const start = performance.now();
  await page.goto(`${address}/library`);
  await page.getByRole('option').nth(10).waitFor();
  return performance.now() - start;
}

/** Copies the demo's kept phrases until there are enough, through the running server's database. */
async function multiplyPhrases(dataDirectory: string): Promise<void> {
  const client = new pg.Client({
    host: readHolder(dataDirectory)!.socketDirectory,
    port: 5432,
    user: 'postgres',
    database: 'postgres',
  });
  await client.connect();
  const { rows } = await client.query(
    "select string_agg(quote_ident(column_name), ',') as columns from information_schema.columns where table_name = 'phrases' and column_name not in ('id', 'name')",
  );
  const { columns } = rows[0] as { columns: string };
  await client.query(
    `insert into phrases (id, name, ${columns}) select gen_random_uuid(), name || ' ' || n, ${columns}
     from (select * from phrases where state = 'kept') kept, generate_series(1, $1::int) n limit $2`,
    [Math.ceil(PHRASES / 30), PHRASES - 38],
  );
  await client.end();
}
