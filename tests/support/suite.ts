import { after } from 'node:test';
import { apiClient, type Api } from './api.ts';
import { startTestServer, type TestServer } from './server.ts';

/** A server for all tests of a file, and a client of it; gone with the last of them. */
export async function serverForTests(
  options: { demo?: boolean; environment?: Record<string, string> } = {},
): Promise<{ server: TestServer; api: Api }> {
  const server = await startTestServer(options);
  after(() => server.remove());
  return { server, api: apiClient(server.address) };
}
