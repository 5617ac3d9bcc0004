// Builds the pages and the worker, unless nothing they are made of has changed.
import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { root, run } from './setup.mjs';

const STAMP = join(root, 'dist/.built-from');

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

/** Builds where needed. */
export async function build() {
  const hash = sourcesHash();
  if (existsSync(STAMP) && readFileSync(STAMP, 'utf8') === hash) return;
  console.log('Building ...');
  run('npx', ['astro', 'build', '--silent'], { env: { ...process.env, ASTRO_TELEMETRY_DISABLED: '1' } });
  const { build: bundle } = await import('esbuild');
  await bundle({
    entryPoints: ['db/pglite-worker', 'jobs/intake-worker', 'compute/worker'].map((name) =>
      join(root, `src/server/${name}.ts`),
    ),
    outdir: join(root, 'dist/worker'),
    entryNames: '[name]',
    outExtension: { '.js': '.mjs' },
    bundle: true,
    platform: 'node',
    format: 'esm',
    packages: 'external',
    logLevel: 'warning',
  });
  writeFileSync(STAMP, hash);
}

if (import.meta.url === pathToFileURL(process.argv[1]).href) await build();
