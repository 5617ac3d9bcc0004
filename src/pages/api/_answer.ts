import type { APIContext, APIRoute } from 'astro';
import { ObjectSchema, ValidationError, type Schema } from 'yup';
import { RecipeError } from '../../core/normalize/recipe.ts';
import { isUuid } from '../../server/checksum.ts';
import { getLibrary } from '../../server/app.ts';
import type { Library } from '../../server/db/client.ts';
import { awayProblem, LibraryError, storageProblem } from '../../server/library/errors.ts';
import type { SignedIn } from '../../server/people/permissions.ts';
import { tellOf } from './_told.ts';

/** The largest JSON body, in bytes. */
const LARGEST_BODY = 1024 * 1024;

/**
 * An endpoint: what the function returns is answered as JSON (a Response as it is), and what it throws as
 * `application/problem+json` (RFC 9457) with a sentence. What nobody foresaw is logged here and answered
 * without its details.
 */
export function endpoint(handle: (library: Library, context: APIContext) => Promise<unknown>): APIRoute {
  return async (context) => {
    try {
      const library = await getLibrary();
      const answer = await handle(library, context);
      await tellOf(library, context, answer);
      return answer instanceof Response ? answer : Response.json(answer ?? {});
    } catch (error) {
      const { status, sentence } = problemOf(error);
      return problemResponse(status, sentence);
    }
  };
}

/** What is answered for an error: a sentence, and the status that fits. */
export function problemOf(error: unknown): { status: number; sentence: string } {
  if (error instanceof LibraryError) return { status: error.status, sentence: error.message };
  if (error instanceof ValidationError) return { status: 400, sentence: `${error.message}.` };
  if (error instanceof RecipeError) return { status: 422, sentence: error.message };
  const full = storageProblem(error);
  if (full) return { status: 507, sentence: full };
  const away = awayProblem(error);
  if (away) return { status: 503, sentence: away };
  console.error(error);
  return {
    status: 500,
    sentence: 'Something went wrong on the server. What was there before is unchanged.',
  };
}

export function problemResponse(status: number, detail: string): Response {
  return new Response(JSON.stringify({ type: 'about:blank', status, detail }), {
    status,
    headers: { 'content-type': 'application/problem+json' },
  });
}

/** As `readBody`, where a request may also come without one. */
export async function readBodyIfAny<T>(context: APIContext, schema: Schema<T>): Promise<T> {
  const isEmpty = Number(context.request.headers.get('content-length') ?? 0) === 0;
  return isEmpty ? schema.validate({}) : readBody(context, schema);
}

/** The JSON body of a request, checked. @throws LibraryError, ValidationError */
export async function readBody<T>(context: APIContext, schema: Schema<T>): Promise<T> {
  if (!context.request.headers.get('content-type')?.startsWith('application/json')) {
    throw new LibraryError(415, 'This takes application/json.');
  }
  // The door has seen to it that a body says its length.
  if (Number(context.request.headers.get('content-length')) > LARGEST_BODY) {
    throw new LibraryError(413, 'The request is larger than 1 MB.');
  }
  const text = await context.request.text();
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new LibraryError(400, 'The request is not valid JSON.');
  }
  const checked = await schema.validate(value, { strict: true });
  if (context.request.method === 'PATCH' && Object.keys(checked as object).length === 0)
    throw new LibraryError(400, 'Say what is to be changed.');
  // Strict checking strips nothing; what nobody asked for must not reach a table.
  return schema instanceof ObjectSchema ? onlyFields(checked, Object.keys(schema.fields)) : checked;
}

function onlyFields<T>(value: T, names: readonly string[]): T {
  return Object.fromEntries(Object.entries(value as object).filter(([name]) => names.includes(name))) as T;
}

/** A form of at most so many bytes. @throws LibraryError 413, 415 */
export async function readForm({ request }: APIContext, largest: number): Promise<FormData> {
  if (Number(request.headers.get('content-length') ?? 0) > largest) {
    throw new LibraryError(413, `This is larger than ${Math.floor(largest / 1024 / 1024)} MB.`);
  }
  try {
    return await request.formData();
  } catch {
    throw new LibraryError(415, 'A file is sent as multipart/form-data.');
  }
}

/** More than a file itself: the form around it. */
const FORM_OVERHEAD = 64 * 1024;

/** One file in a form, as its `file`, of at most so many bytes. @throws LibraryError 400, 413, 415 */
export async function readFileForm(
  context: APIContext,
  largest: number,
): Promise<{ form: FormData; name: string; bytes: Uint8Array }> {
  const form = await readForm(context, largest + FORM_OVERHEAD);
  const file = form.get('file');
  if (!(file instanceof File)) throw new LibraryError(400, 'The form has no "file".');
  return { form, name: file.name, bytes: new Uint8Array(await file.arrayBuffer()) };
}

/** The id in the path. @throws LibraryError 404 where it cannot be one. */
export function pathId(context: APIContext): string {
  const { id = '' } = context.params;
  if (!isUuid(id)) throw new LibraryError(404, 'There is nothing at this address.');
  return id;
}

/** A file to be saved under a name. */
export function download(bytes: Uint8Array, name: string, type: string): Response {
  const ascii = name.replace(/[^\w .-]/g, '_');
  return new Response(bytes as Uint8Array<ArrayBuffer>, {
    headers: {
      'content-type': type,
      'content-disposition': `attachment; filename="${ascii}"; filename*=UTF-8''${encodeURIComponent(name)}`,
    },
  });
}

/** Who asks. @throws LibraryError 401 where nobody signs in here */
export function signedIn({ locals }: APIContext): SignedIn {
  if (!locals.person)
    throw new LibraryError(401, 'Nobody signs in here: this library is open to whoever is at this machine.');
  return locals.person;
}
