import { LibraryError } from '../../../server/library/errors.ts';
import { recordOutcome } from '../../../server/library/jobs.ts';
import { LARGEST_FILE, listTakes, takeIn } from '../../../server/library/takes.ts';
import { endpoint } from '../_answer.ts';

export const GET = endpoint(async ({ db }) => ({ takes: await listTakes(db) }));

/** More than the file itself: the form around it. */
const FORM_OVERHEAD = 64 * 1024;

/** Takes one file in: a form with `file`, and optionally `source`, `contributor` and the intake's `job`. */
export const POST = endpoint(async (library, { request }) => {
  if (Number(request.headers.get('content-length') ?? 0) > LARGEST_FILE + FORM_OVERHEAD) {
    throw new LibraryError(413, `The file is larger than ${LARGEST_FILE / 1024 / 1024} MB.`);
  }
  const form = await readForm(request);
  const file = form.get('file');
  if (!(file instanceof File)) throw new LibraryError(400, 'The form has no "file".');
  const text = (field: string) => {
    const value = form.get(field);
    return typeof value === 'string' && value !== '' ? value : undefined;
  };
  const job = text('job');
  try {
    const taken = await takeIn(library, {
      bytes: new Uint8Array(await file.arrayBuffer()),
      fileName: file.name || 'unnamed.mid',
      source: text('source'),
      contributor: text('contributor'),
    });
    if (job) {
      const outcome = taken.isNew ? ('taken' as const) : ('known' as const);
      await recordOutcome(library.db, job, { file: file.name, outcome, takeId: taken.takeIds[0] });
    }
    return Response.json(taken, { status: taken.isNew ? 201 : 200 });
  } catch (error) {
    if (job && error instanceof LibraryError) {
      await recordOutcome(library.db, job, { file: file.name, outcome: 'refused', reason: error.message });
    }
    throw error;
  }
});

async function readForm(request: Request): Promise<FormData> {
  try {
    return await request.formData();
  } catch {
    throw new LibraryError(415, 'A file is sent as multipart/form-data.');
  }
}
