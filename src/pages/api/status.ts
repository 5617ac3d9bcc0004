import { stageCounts } from '../../server/library/status.ts';
import { endpoint } from './_answer.ts';

/** What waits at each stage. Also how scripts see that the server is ready. */
export const GET = endpoint(({ db }) => stageCounts(db));
