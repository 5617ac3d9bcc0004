// Starts the built server and waits until it answers.
import { spawn } from 'node:child_process';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { installModules, root } from './setup.mjs';

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
      const answer = await fetch(`${address}/api/me`);
      if (answer.ok) return { server, address };
    } catch {
      // Not listening yet.
    }
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  server.kill();
  throw new Error('The server did not start.');
}

/**
 * What `npm start` and `npm run demo` do: install, build, serve until Ctrl C, and say what there is to say.
 * @param {Record<string, string>} environment which library, and how
 * @param {(address: string, folder: string) => string[]} words
 */
export async function serveLibrary(environment, words) {
  installModules();
  const { build } = await import('./build.mjs');
  await build();
  try {
    const port = process.env.PORT ?? '4321';
    const { server, address } = await startServer({ PORT: port, ...environment });
    // Where people sign in, only they are told where it lies.
    const { folder = environment.DATA_DIR ?? process.env.DATA_DIR ?? 'the data folder' } = await (
      await fetch(`${address}/api/status`)
    ).json();
    for (const line of words(address, folder)) console.log(line);
    for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, () => void stopServer(server));
    server.once('exit', (code) => process.exit(code ?? 0));
  } catch (error) {
    console.error(error.message);
    process.exit(1);
  }
}

/** Ends a server and waits until it has closed its library. */
export async function stopServer(server) {
  if (server.exitCode !== null || server.signalCode !== null) return;
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
