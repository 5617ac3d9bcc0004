import { stageCounts } from '../../server/library/status.ts';
import { endpoint } from './_answer.ts';

/** What waits at each stage, and which library this is. Also how scripts see that the server is ready. */
export const GET = endpoint(async ({ db, dataDirectory }) => ({
  ...(await stageCounts(db)),
  folder: dataDirectory,
  isDemo: process.env.DEMO === '1',
}));
