// Installs what is missing: node modules by the lock file, and Debian packages where the user may.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('..', import.meta.url));

/** Runs a command with its output shown. Ends this process where it fails. */
export function run(command, args, options = {}) {
  const { status, error } = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options });
  if (error) console.error(error.message);
  if (status !== 0) process.exit(status ?? 1);
}

/** Installs the node modules unless those there are the lock file's. */
export function installModules() {
  const hash = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  const stamp = join(root, 'node_modules/.installed-lock');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === hash) return;
  console.log('Installing node modules ...');
  run('npm', ['ci', '--no-fund', '--no-audit', '--loglevel=error']);
  writeFileSync(stamp, hash);
}

/**
 * Installs Debian packages where a file of theirs is missing.
 * @param {Record<string, string | (() => boolean)>} wanted a file of each package, or whether it is there
 * @returns {string[]} the packages that are still missing
 */
export function installDebianPackages(wanted) {
  const isThere = (sign) => (typeof sign === 'function' ? sign() : existsSync(sign));
  const missing = () => Object.keys(wanted).filter((name) => !isThere(wanted[name]));
  if (missing().length === 0) return [];
  if (process.getuid?.() === 0 && existsSync('/usr/bin/apt-get')) {
    console.log(`Installing Debian packages: ${missing().join(', ')} ...`);
    const quiet = {
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    };
    spawnSync('apt-get', ['update', '-qq'], quiet);
    spawnSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...missing()], quiet);
  }
  return missing();
}
