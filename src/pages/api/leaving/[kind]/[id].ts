import { LibraryError } from '../../../../server/library/errors.ts';
import { leavingFiles } from '../../../../server/library/handoff/leaving.ts';
import { THINGS } from '../../../../core/exchange/things.ts';
import { download, endpoint, pathId } from '../../_answer.ts';
import { typeOfFile } from '../_type.ts';

const ID = /^[\w-]{1,64}$/;

/**
 * Something as things last left: what is dragged out of the page. `for` names a recipient, `part` (repeated) chooses parts or phrases,
 * `bars` is such as 3-6.
 */
export const GET = endpoint(async ({ db }, context) => {
  const kind = THINGS.find((one) => one === context.params.kind);
  if (!kind) throw new LibraryError(404, `What leaves is one of ${THINGS.join(', ')}.`);
  const asked = context.url.searchParams;
  const recipient = asked.get('for');
  const parts = asked.getAll('part');
  if ([recipient ?? 'none', ...parts].some((id) => !ID.test(id)))
    throw new LibraryError(400, 'That is no id of a recipient or of a part.');
  const { file, bytes } = await leavingFiles(db, {
    kind,
    id: pathId(context),
    ...(recipient === null ? {} : { recipientId: recipient }),
    scope: { bars: barsAsked(asked.get('bars')), parts: parts.length > 0 ? parts : null },
  });
  return download(bytes, file, typeOfFile(file));
});

function barsAsked(text: string | null): { from: number; to: number } | null {
  if (text === null) return null;
  const [, from, to] = /^(\d{1,5})-(\d{1,5})$/.exec(text) ?? [];
  if (!from || !to || Number(from) < 1 || Number(to) < Number(from))
    throw new LibraryError(400, 'Bars are asked for such as 3-6.');
  return { from: Number(from), to: Number(to) };
}
