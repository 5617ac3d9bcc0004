import { demoBeside } from '../../server/demo/beside.ts';
import { endpoint } from './_answer.ts';

/** Opens the demo's library beside this one, and says where. */
export const POST = endpoint(async () => ({ address: await demoBeside() }));
