import { spawnSync } from 'node:child_process';
import { databaseFor } from './server.ts';

/** Runs the command line on a library; with a PostgreSQL server, on the library's own database. */
export async function cli(dataDirectory: string, ...args: string[]) {
  const { stdout, stderr, status } = spawnSync(
    process.execPath,
    ['bin/hollow-basket.mjs', ...args, '--data', dataDirectory, '--json'],
    {
      encoding: 'utf8',
      env: { ...process.env, ...(await databaseFor(dataDirectory)) },
    },
  );
  return { stderr, status, answer: stdout ? JSON.parse(stdout) : undefined };
}
