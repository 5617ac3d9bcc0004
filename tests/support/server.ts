import type { ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { startServer as start, stopServer as stop } from '../../scripts/serve.mjs';

export interface TestServer {
  address: string;
  dataDirectory: string;
  process: ChildProcess;
  /** Ends the server; its data stays. */
  stop(): Promise<void>;
  /** Ends the server and removes its data. */
  remove(): Promise<void>;
}

/** A port nobody listens on. */
export function freePort(): Promise<number> {
  return new Promise((resolve) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo;
      probe.close(() => resolve(port));
    });
  });
}

/** The built application on an empty library, or on one that is there. */
export async function startTestServer(
  options: { demo?: boolean; dataDirectory?: string } = {},
): Promise<TestServer> {
  const dataDirectory = options.dataDirectory ?? mkdtempSync(join(tmpdir(), 'basket-test-'));
  const environment = {
    PORT: String(await freePort()),
    DATA_DIR: dataDirectory,
    DEMO: options.demo ? '1' : '0',
  };
  const { server, address } = (await start(environment)) as { server: ChildProcess; address: string };
  const end = () => stop(server) as Promise<void>;
  return {
    address,
    dataDirectory,
    process: server,
    stop: end,
    async remove() {
      await end();
      rmSync(dataDirectory, { recursive: true, force: true });
    },
  };
}
