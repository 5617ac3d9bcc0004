// Builds the pages, the threads and the command line, unless nothing they are made of has changed.
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { root, run } from './setup.mjs';

const STAMP = join(root, 'dist/.built-from');

/** Packages that read files beside their own, and what another tries and does without. */
const OWN_FILES = ['@electric-sql/*', 'piscina', 'pg-native'];

/** What packages of the older module format call. */
const REQUIRE = `import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);`;

/** Hash of everything the build is made of. */
function sourcesHash() {
  const hash = createHash('sha256');
  const add = (path) => hash.update(path).update(readFileSync(join(root, path)));
  for (const file of ['package-lock.json', 'astro.config.mjs', 'tsconfig.json', 'scripts/build.mjs'])
    add(file);
  for (const folder of ['src', 'public']) {
    const entries = readdirSync(join(root, folder), { recursive: true, withFileTypes: true });
    for (const path of entries
      .filter((entry) => entry.isFile())
      .map((entry) => join(entry.parentPath, entry.name).slice(root.length))
      .sort()) {
      add(path);
    }
  }
  return hash.digest('hex');
}

/** Whether what is built is made of today's sources. */
export function isBuilt(hash = sourcesHash()) {
  return existsSync(STAMP) && readFileSync(STAMP, 'utf8') === hash;
}

/** Builds where needed. */
export async function build() {
  const hash = sourcesHash();
  if (isBuilt(hash)) return;
  console.log('Building ...');
  run('npx', ['astro', 'build', '--silent'], { env: { ...process.env, ASTRO_TELEMETRY_DISABLED: '1' } });
  const { build: bundle } = await import('esbuild');
  await bundle({
    entryPoints: [
      'server/db/pglite-worker',
      'server/jobs/intake-worker',
      'server/compute/worker',
      'server/catalog/catalog-worker',
      'cli/command-line',
    ].map((name) => join(root, `src/${name}.ts`)),
    outdir: join(root, 'dist/worker'),
    entryNames: '[name]',
    outExtension: { '.js': '.mjs' },
    splitting: true,
    bundle: true,
    platform: 'node',
    format: 'esm',
    // A thread begins in half of the time where what it uses is in its file: of packages of hundreds of files, each would be looked for.
    external: OWN_FILES,
    banner: { js: REQUIRE },
    logLevel: 'warning',
  });
  const prepare = `import('./src/server/db/new-database.ts').then((made) => made.prepareDatabase())`;
  run(process.execPath, ['--import', 'tsx', '--eval', prepare]);
  writeFileSync(STAMP, hash);
}

if (import.meta.url === pathToFileURL(process.argv[1]).href) await build();
