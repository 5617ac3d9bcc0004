import { houseSchema } from '../../core/normalize/house.ts';
import { getHouse, setHouse } from '../../server/library/house.ts';
import { endpoint, readBody } from './_answer.ts';

const houseChangeSchema = houseSchema.shape({ base: houseSchema.optional().default(undefined) });

/** How everything in the library is kept. */
export const GET = endpoint(({ db }) => getHouse(db));

/** Chooses it; where `base` says what it was made of, what others chose meanwhile in other places stays. */
export const PUT = endpoint(async ({ db }, context) => {
  const { base, ...mine } = await readBody(context, houseChangeSchema);
  return setHouse(db, { base, mine });
});
