import { theirsIn } from '../../../../server/library/handoff/merging.ts';
import { waitingPack } from '../../../../server/library/handoff/packs-in.ts';
import { endpoint, pathId } from '../../_answer.ts';

/** A phrase as it came, as a clip to be listened to: `phrase` is its id in the pack. */
export const GET = endpoint(async (library, context) => {
  const phrase = context.url.searchParams.get('phrase') ?? '';
  return theirsIn(await waitingPack(library, pathId(context)), phrase);
});
