// All checks: types, lint, unit, API and browser tests. `node scripts/test.mjs check|unit|api|e2e` runs one kind,
// `types unit pglite` is the quick lane.
import { spawn } from 'node:child_process';
import { existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { HEADLESS, launchOptions } from './browser.mjs';
import { build } from './build.mjs';
import { postgresBinaries, startPostgres } from './postgres.mjs';
import { installDebianPackages, installModules, root, run } from './setup.mjs';

const DEBIAN = {
  'chromium-headless-shell': HEADLESS,
  'openttd-openmsx': '/usr/share/games/openttd/baseset/openmsx/openmsx.obm',
  midicsv: '/usr/bin/midicsv',
  'python3-mido': '/usr/lib/python3/dist-packages/mido/__init__.py',
  abcmidi: '/usr/bin/abc2midi',
  unzip: '/usr/bin/unzip',
  postgresql: () => postgresBinaries() !== undefined,
};

/** Test files that take longer than all others of their kind. */
const LONGEST = /kills|intake|commands|merge/;

/**
 * API tests in which the engine of the database plays no part, or that are about PGlite's own files. What is asked of both is what they could
 * answer differently: migrations, triggers, what is found, backups, transactions, several processes.
 */
const NOT_OF_POSTGRES =
  /door|durability|kills|lock|merge|normalize|captures|mended|music|what-leaves|people|behind-tls/;

/** Test files of a kind. Fails where there are none: a test run without tests would pass. */
function testFiles(kind, leftOut = /^$/) {
  const files = readdirSync(join(root, 'tests', kind), { recursive: true })
    .filter((name) => name.endsWith('.test.ts') && !leftOut.test(name))
    // The longest first: the others run beside it.
    .sort((a, b) => Number(LONGEST.test(b)) - Number(LONGEST.test(a)))
    .map((name) => join('tests', kind, name));
  if (files.length === 0) {
    console.error(`There are no ${kind} tests.`);
    process.exit(1);
  }
  return files;
}

/**
 * Two servers at once, and no waiting for connections that they keep open. Unit tests end by themselves: where an end is
 * forced, what the last of them had to say can be lost on the way, and their number is too small.
 */
const SERVERS = ['--test-concurrency=2', '--test-force-exit', '--test-timeout=900000'];

/** Dots while it goes, what failed, and the counts. */
const REPORTERS = ['dot', './scripts/summary-reporter.mjs'].flatMap((reporter) => [
  `--test-reporter=${reporter}`,
  '--test-reporter-destination=stdout',
]);

/** Runs the tests of a kind in Node's own runner, a process a file. */
function nodeTests(kind, options = [], environment = {}, leftOut = undefined) {
  run(
    process.execPath,
    ['--import', 'tsx', '--test', ...options, ...REPORTERS, ...testFiles(kind, leftOut)],
    {
      env: { ...process.env, ...environment },
    },
  );
}

/** Runs several commands at once; each tells what it has to say when it has ended. */
async function sideBySide(commands) {
  const codes = await Promise.all(
    commands.map(
      ([title, command, ...args]) =>
        new Promise((resolve) => {
          const child = spawn(command, args, { cwd: root });
          let said = '';
          for (const stream of [child.stdout, child.stderr]) stream.on('data', (data) => (said += data));
          child.once('close', (code) => {
            console.log(`-- ${title}\n${said.trim()}`);
            resolve(code);
          });
        }),
    ),
  );
  if (codes.some((code) => code !== 0)) process.exit(1);
}

/** Unit tests that wait for processes they start; the others only compute. */
const STARTS_PROCESSES = /^tests.unit.(cli|server)/;

/**
 * Unit tests: a process for those that start others, and one for all that compute. A process a file, as the runner would
 * have it, takes a second each to read the sources anew: half of the time.
 */
function unitTests() {
  const files = testFiles('unit');
  const inOne = (title, wanted) => [
    title,
    process.execPath,
    ...['--import', 'tsx', ...REPORTERS, join(root, 'scripts/import-all.mjs')],
    ...wanted,
  ];
  return sideBySide([
    inOne(
      'command line and server',
      files.filter((file) => STARTS_PROCESSES.test(file)),
    ),
    inOne(
      'what computes',
      files.filter((file) => !STARTS_PROCESSES.test(file)),
    ),
  ]);
}

function apiOnPglite(leftOut = undefined, environment = {}) {
  console.log('-- on PGlite');
  nodeTests('api', SERVERS, environment, leftOut);
}

const kinds = {
  // Types and lint need no server and no screen: they run side by side.
  check: () => sideBySide(['check', 'lint'].map((script) => [script, 'npm', 'run', '-s', script])),
  unit: unitTests,
  api: async () => {
    apiOnPglite();
    if (!postgresBinaries()) {
      console.log('API tests on PostgreSQL skipped: it is not installed (apt-get install postgresql).');
      if (process.env.CI) process.exit(1);
      return;
    }
    console.log('-- on PostgreSQL');
    const postgres = await startPostgres();
    try {
      nodeTests('api', SERVERS, { TEST_DATABASE_URL: postgres.url }, NOT_OF_POSTGRES);
    } finally {
      postgres.stop();
    }
  },
  e2e: () => {
    if (!existsSync(launchOptions.executablePath)) {
      console.log(
        'Browser tests skipped: Chromium is not installed (apt-get install chromium-headless-shell).',
      );
      if (process.env.CI) process.exit(1);
      return;
    }
    run('npx', ['playwright', 'test']);
  },
};

/** Types; of what has not changed since the last time, nothing is checked again. */
const types = () =>
  run('npx', [
    'tsc',
    '--noEmit',
    '--incremental',
    '--tsBuildInfoFile',
    'node_modules/.cache/types.tsbuildinfo',
  ]);

/** The lane of every day: what says within minutes whether a change holds. What ends servers in the middle takes as long as all the rest (`tests/support/slow`). */
const quick = { types, pglite: () => apiOnPglite(/kills/, { QUICK: '1' }) };

process.env.ASTRO_TELEMETRY_DISABLED = '1';
process.env.TEST_TEMPLATE = join(mkdtempSync(join(tmpdir(), 'basket-run-')), 'empty-library');
process.once('exit', () => rmSync(dirname(process.env.TEST_TEMPLATE), { recursive: true, force: true }));
installModules();
const missing = installDebianPackages(DEBIAN);
if (missing.length > 0) console.log(`Not installed, tests that need them are skipped: ${missing.join(', ')}`);
const asked = process.argv.slice(2);
const wanted = asked.length > 0 ? asked : Object.keys(kinds);
// First of all: the tests of the command line run what is built, where it is.
if (wanted.some((kind) => ['api', 'pglite', 'e2e'].includes(kind))) await build();
for (const kind of wanted) {
  console.log(`\n== ${kind}`);
  await (kinds[kind] ?? quick[kind])();
}
