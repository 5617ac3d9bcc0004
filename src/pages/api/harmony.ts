import { libraryHarmony } from '../../server/library/harmony.ts';
import { endpoint } from './_answer.ts';

/** The harmony of all kept phrases, counted. */
export const GET = endpoint(({ db }) => libraryHarmony(db));
