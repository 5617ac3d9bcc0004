// All checks: types, lint, unit, API and browser tests. `node scripts/test.mjs unit|api|e2e` runs one kind.
import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { installDebianPackages, installModules, root, run } from './setup.mjs';

const DEBIAN = {
  chromium: '/usr/bin/chromium',
  'openttd-openmsx': '/usr/share/games/openttd/baseset/openmsx/openmsx.obm',
  midicsv: '/usr/bin/midicsv',
};

/** Test files of a kind. Fails where there are none: a test run without tests would pass. */
function testFiles(kind) {
  const files = readdirSync(join(root, 'tests', kind), { recursive: true })
    .filter((name) => name.endsWith('.test.ts'))
    .map((name) => join('tests', kind, name));
  if (files.length === 0) {
    console.error(`There are no ${kind} tests.`);
    process.exit(1);
  }
  return files;
}

const kinds = {
  check: () => run('npx', ['astro', 'check', '--minimumSeverity', 'warning']),
  lint: () => run('npm', ['run', '-s', 'lint']),
  unit: () =>
    run(process.execPath, [
      '--import',
      'tsx',
      '--test',
      '--test-reporter=dot',
      '--test-reporter-destination=stdout',
      '--test-reporter=./scripts/summary-reporter.mjs',
      '--test-reporter-destination=stdout',
      ...testFiles('unit'),
    ]),
  api: async () => {
    const { build } = await import('./build.mjs');
    await build();
    run(process.execPath, [
      '--import',
      'tsx',
      '--test',
      '--test-concurrency=1',
      '--test-reporter=dot',
      '--test-reporter-destination=stdout',
      '--test-reporter=./scripts/summary-reporter.mjs',
      '--test-reporter-destination=stdout',
      ...testFiles('api'),
    ]);
  },
  e2e: async () => {
    const { build } = await import('./build.mjs');
    await build();
    if (!existsSync(DEBIAN.chromium)) {
      console.log('Browser tests skipped: Chromium is not installed (apt-get install chromium).');
      if (process.env.CI) process.exit(1);
      return;
    }
    run('npx', ['playwright', 'test']);
  },
};

process.env.ASTRO_TELEMETRY_DISABLED = '1';
installModules();
const missing = installDebianPackages(DEBIAN);
if (missing.length > 0) console.log(`Not installed, tests that need them are skipped: ${missing.join(', ')}`);
const wanted = process.argv.slice(2);
for (const kind of wanted.length > 0 ? wanted : Object.keys(kinds)) {
  console.log(`\n== ${kind}`);
  await kinds[kind]();
}
