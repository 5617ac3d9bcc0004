import { rmSync } from 'node:fs';
import { startTestServer } from '../support/server.ts';

/** Makes the demo library once; every worker of the browser tests works on a copy of its own. */
export default async function globalSetup(): Promise<() => void> {
  const server = await startTestServer({ demo: true });
  await server.stop();
  process.env.DEMO_LIBRARY = server.dataDirectory;
  return () => rmSync(server.dataDirectory, { recursive: true, force: true });
}
