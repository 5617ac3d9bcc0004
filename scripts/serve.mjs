// Starts the built server and waits until it answers.
import { spawn } from 'node:child_process';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { root } from './setup.mjs';

/** The first start makes a database; a slow machine takes half a minute. */
const PATIENCE = 120_000;

/**
 * Starts the server with more environment. Resolves with its process and address once it answers, rejects
 * when it ends before.
 */
export async function startServer(environment) {
  const host = environment.HOST ?? '127.0.0.1';
  const address = `http://${host.includes(':') ? `[${host}]` : host}:${environment.PORT}`;
  const server = spawn(process.execPath, [join(root, 'dist/server/entry.mjs')], {
    cwd: root,
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, HOST: host, ...environment },
  });
  let ended = false;
  server.once('exit', () => (ended = true));
  const until = Date.now() + PATIENCE;
  while (Date.now() < until && !ended) {
    try {
      const answer = await fetch(`${address}/api/status`);
      if (answer.ok) return { server, address };
    } catch {
      // Not listening yet.
    }
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  server.kill();
  throw new Error('The server did not start.');
}

/** Ends a server and waits until it has closed its library. */
export async function stopServer(server) {
  if (server.exitCode !== null) return;
  const ended = new Promise((resolve) => server.once('exit', resolve));
  server.kill('SIGTERM');
  await ended;
}

/** A port nobody listens on. @returns {Promise<number>} */
export function freePort() {
  return new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address();
      probe.close(() => resolve(port));
    });
  });
}
