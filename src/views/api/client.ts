import { WINDOW } from './window.ts';

/** Speaks to the endpoints: JSON in, JSON out, problems as errors with their sentence. */

export class ApiProblem extends Error {
  override readonly name = 'ApiProblem';
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

/** @throws ApiProblem with the sentence that the server gives, or one of our own where it cannot be reached. */
export async function request<T>(path: string, init: RequestInit = {}): Promise<T> {
  const answer = await send(path, init);
  return (await answer.json()) as T;
}

export async function requestBytes(path: string, init: RequestInit = {}): Promise<Uint8Array> {
  return new Uint8Array(await (await send(path, init)).arrayBuffer());
}

/** Bytes with the name that the server gives them. */
export interface NamedFile {
  name: string;
  type: string;
  bytes: Uint8Array;
}

export async function requestFile(path: string, init: RequestInit = {}): Promise<NamedFile> {
  const answer = await send(path, init);
  const said = answer.headers.get('content-disposition') ?? '';
  const [, encoded] = /filename\*=UTF-8''([^;]+)/i.exec(said) ?? [];
  const [, plain] = /filename="([^"]*)"/i.exec(said) ?? [];
  return {
    name: encoded ? decodeURIComponent(encoded) : (plain ?? 'file'),
    type: answer.headers.get('content-type') ?? 'application/octet-stream',
    bytes: new Uint8Array(await answer.arrayBuffer()),
  };
}

const signedOut = new Set<() => void>();

/** Calls where the server says that nobody is signed in. */
export function onSignedOut(tell: () => void): () => void {
  signedOut.add(tell);
  return () => signedOut.delete(tell);
}

async function send(path: string, init: RequestInit = {}): Promise<Response> {
  let answer: Response;
  try {
    answer = await fetch(path, { ...init, headers: { ...init.headers, 'x-window': WINDOW } });
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') throw error;
    throw new ApiProblem(0, 'The server cannot be reached. Is Hollow Basket still running?');
  }
  if (answer.ok) return answer;
  if (answer.status === 401) signedOut.forEach((tell) => tell());
  const problem = (await answer.json().catch(() => null)) as { detail?: string } | null;
  throw new ApiProblem(answer.status, problem?.detail ?? `The server answered ${answer.status}.`);
}

export function sendJson<T>(
  method: 'POST' | 'PUT' | 'PATCH' | 'DELETE',
  path: string,
  body?: unknown,
): Promise<T> {
  return request<T>(path, {
    method,
    // What was begun is finished even where the page is left at once; a browser allows that up to 64 KB.
    keepalive: JSON.stringify(body ?? null).length < 60_000,
    headers: { 'content-type': 'application/json' },
    body: body === undefined ? null : JSON.stringify(body),
  });
}
