// A PostgreSQL server of the tests' own: Debian's, on loopback, in a temporary folder.
import { spawn, spawnSync } from 'node:child_process';
import { chownSync, existsSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort } from './serve.mjs';

const VERSIONS = '/usr/lib/postgresql';

/** Folder of the newest installed server's programs; undefined where there is none. */
export function postgresBinaries() {
  if (!existsSync(VERSIONS)) return undefined;
  return readdirSync(VERSIONS)
    .sort((a, b) => Number(b) - Number(a))
    .map((version) => join(VERSIONS, version, 'bin'))
    .find((folder) => existsSync(join(folder, 'postgres')));
}

/** The server refuses to run as root: it runs as Debian's user for it then. */
function serverUser() {
  if (process.getuid?.() !== 0) return {};
  const id = (flag) => Number(spawnSync('id', [flag, 'postgres'], { encoding: 'utf8' }).stdout);
  return { uid: id('-u'), gid: id('-g') };
}

/** Starts a server on an empty cluster. Resolves with its address and how to end it. */
export async function startPostgres() {
  const programs = postgresBinaries();
  const user = serverUser();
  const folder = mkdtempSync(join(tmpdir(), 'basket-postgres-'));
  if (user.uid !== undefined) chownSync(folder, user.uid, user.gid);
  const cluster = join(folder, 'cluster');
  const made = spawnSync(
    join(programs, 'initdb'),
    ['-D', cluster, '-U', 'basket', '-A', 'trust', '-E', 'UTF8'],
    {
      ...user,
      cwd: folder,
      encoding: 'utf8',
    },
  );
  if (made.status !== 0) throw new Error(`initdb failed: ${made.stderr}`);
  const port = await freePort();
  const options = ['-D', cluster, '-p', String(port), '-c', 'listen_addresses=127.0.0.1', '-k', folder];
  const server = spawn(join(programs, 'postgres'), options, { ...user, cwd: folder, stdio: 'ignore' });
  for (let i = 0; i < 200; i++) {
    const { status } = spawnSync(join(programs, 'pg_isready'), ['-h', '127.0.0.1', '-p', String(port), '-q']);
    if (status === 0) break;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  return {
    url: `postgres://basket@127.0.0.1:${port}/postgres`,
    stop() {
      server.kill('SIGINT');
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
