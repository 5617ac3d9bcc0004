import { chromium, type Page } from 'playwright-core';
import pg from 'pg';
import { fileOf, trackOf, type NoteSpec } from '../tests/support/midi.ts';
import { apiClient } from '../tests/support/api.ts';
import { startTestServer } from '../tests/support/server.ts';
import { writeMidiFile } from '../src/core/midi/write.ts';
import { readHolder } from '../src/server/db/lock.ts';
import { middle, type BenchResult } from './measure.ts';

const PHRASES = 10_000;
const NOTES = 20_000;

/**
 * The interface in Chromium on the built application: weight of the first page, time to a usable library of
 * 10,000 phrases, and frame times while strands of 20,000 notes pan and zoom. The reference is the frame time of
 * the same browser on an empty page; `ours` is the median frame while panning.
 */
export async function bench(): Promise<BenchResult> {
  const server = await startTestServer({ demo: true });
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking'],
  });
  try {
    await multiplyPhrases(server.dataDirectory);
    const { body } = await apiClient(server.address).upload(bigFile(), 'big.mid');
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    const blank = await frameTimes(page, async () => page.waitForTimeout(1500));

    let weight = 0;
    page.on(
      'response',
      async (response) => (weight += (await response.body().catch(() => Buffer.alloc(0))).length),
    );
    const start = performance.now();
    await page.goto(`${server.address}/library`);
    await page.getByRole('option').nth(10).waitFor();
    const usable = performance.now() - start;
    await page.waitForTimeout(500);
    console.log(
      `library of ${PHRASES}: usable after ${Math.round(usable)} ms, ${Math.round(weight / 1024)} KB loaded`,
    );

    await page.goto(`${server.address}/split/${body.takeIds[0]}`);
    await page.getByRole('region', { name: 'Tally' }).waitFor();
    await page.mouse.move(700, 300);
    const frames = await frameTimes(page, async () => {
      for (let i = 0; i < 60; i++) {
        await page.keyboard.down('Control');
        await page.mouse.wheel(0, i % 2 ? 60 : -90);
        await page.keyboard.up('Control');
        await page.mouse.wheel(80, 0);
        await page.waitForTimeout(16);
      }
    });
    const slow = frames.toSorted((a, b) => a - b)[Math.floor(frames.length * 0.95)]!;
    console.log(
      `strands of ${NOTES} notes: ${frames.length} frames, median ${middle(frames).toFixed(1)} ms, 95 % within ${slow.toFixed(1)} ms`,
    );
    const [ours, reference] = [middle(frames), middle(blank)];
    return { bench: 'ui', ours, reference, ratio: ours / reference, unit: 'ms a frame' };
  } finally {
    await browser.close();
    await server.remove();
  }
}

/** Begins to note the times between frames. A text, because it runs in the page as it stands. */
const RECORD = `
  window.frames_ = [];
  window.recording_ = true;
  let last = performance.now();
  requestAnimationFrame(function note(now) {
    window.frames_.push(now - last);
    last = now;
    if (window.recording_) requestAnimationFrame(note);
  });`;

/** Times between frames, in milliseconds, while something is done. */
async function frameTimes(page: Page, act: () => Promise<void>): Promise<number[]> {
  await page.evaluate(RECORD);
  await act();
  return page.evaluate<number[]>('window.recording_ = false, window.frames_.slice(1)');
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

/** Eight parts of dense notes. */
function bigFile(): Uint8Array {
  const tracks = Array.from({ length: 8 }, (_, channel) =>
    trackOf(
      Array.from({ length: NOTES / 8 }, (_, i): NoteSpec => [
        i * 60,
        100,
        40 + ((i * 7 + channel * 5) % 40),
        60 + (i % 60),
        channel,
      ]),
    ),
  );
  return writeMidiFile(fileOf(tracks));
}
