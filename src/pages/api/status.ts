import { countUnmarked } from '../../server/jobs/marks.ts';
import { stageCounts } from '../../server/library/keeping/status.ts';
import { endpoint } from './_answer.ts';

/** What waits at each stage, and which library this is. Also how scripts see that the server is ready. */
export const GET = endpoint(async ({ db, dataDirectory }) => ({
  ...(await stageCounts(db)),
  /** Phrases that are still to be read anew: of an older version, or with other chords than before. */
  unmarked: await countUnmarked(db),
  folder: dataDirectory,
  isDemo: process.env.DEMO === '1',
}));
