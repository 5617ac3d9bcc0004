import { finishCapture } from '../../../../server/library/takes/captures.ts';
import { endpoint, pathId, readBody } from '../../_answer.ts';
import { captureEndSchema } from '../../../../requests/captures.ts';

/** Makes a take of a recording, and gives its account. */
export const POST = endpoint(async (library, context) =>
  finishCapture(library, pathId(context), await readBody(context, captureEndSchema)),
);
