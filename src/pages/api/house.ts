import { houseSchema } from '../../core/normalize/house.ts';
import { getHouse, setHouse } from '../../server/library/house.ts';
import { endpoint, readBody } from './_answer.ts';

/** How everything in the library is kept. */
export const GET = endpoint(({ db }) => getHouse(db));

export const PUT = endpoint(async ({ db }, context) => setHouse(db, await readBody(context, houseSchema)));
