import { startTestServer } from '../support/server.ts';

/** Starts the built application on the demo library for all browser tests, and removes it afterward. */
export default async function globalSetup(): Promise<() => Promise<void>> {
  const server = await startTestServer({ demo: true });
  process.env.BASE_URL = server.address;
  return () => server.remove();
}
