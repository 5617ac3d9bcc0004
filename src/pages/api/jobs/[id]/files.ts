import { workOn } from '../../../../server/jobs/engine.ts';
import { addUploads, INTAKES } from '../../../../server/jobs/intake.ts';
import { LARGEST_ARCHIVE } from '../../../../server/jobs/archive.ts';
import { LibraryError } from '../../../../server/library/errors.ts';
import { endpoint, pathId, readForm } from '../../_answer.ts';

const FORM_OVERHEAD = 1024 * 1024;

/**
 * Files for an intake: a form with any number of `file`, each with its path in the folder it came from as its name,
 * and `batch`, a word by which this piece of the upload is told from the others.
 */
export const POST = endpoint(async (library, context) => {
  const id = pathId(context);
  const form = await readForm(context, LARGEST_ARCHIVE + FORM_OVERHEAD);
  const batch = form.get('batch');
  if (typeof batch !== 'string' || !/^[a-z0-9-]{1,40}$/.test(batch))
    throw new LibraryError(400, 'The form has no "batch".');
  const sent = form.getAll('file').filter((entry) => entry instanceof File);
  if (sent.length === 0) throw new LibraryError(400, 'The form has no "file".');
  const files = await Promise.all(
    sent.map(async (file) => ({
      file: file.name || 'unnamed.mid',
      bytes: new Uint8Array(await file.arrayBuffer()),
    })),
  );
  await addUploads(library, id, files, batch);
  void workOn(library, INTAKES, id);
  return Response.json({ added: files.length }, { status: 202 });
});
