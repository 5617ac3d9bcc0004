import { endpoint } from '../../_answer.ts';
import { packSent } from '../../_pack-sent.ts';

/** A pack that somebody sends back who was given the basket: it waits until a member has looked at it. */
export const POST = endpoint(async (library, context) => {
  await packSent(library, context);
});
