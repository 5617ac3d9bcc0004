import assert from 'node:assert/strict';
import { until } from './until.ts';

export interface Answer {
  status: number;
  type: string;
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- tests look into answers of every shape
  body: any;
}

/** What a client adds to each request, and looks at in each answer. */
export interface ClientOptions {
  headers?: () => Record<string, string>;
  onAnswer?: (answer: Response) => void;
}

/**
 * As `fetch`, once more where the connection had ended before: a server ends what nobody uses for five seconds, and a test that computes meanwhile
 * hears of it too late. One that has gone refuses the second too.
 */
async function fetchAnew(url: string, init: RequestInit): Promise<Response> {
  try {
    return await fetch(url, init);
  } catch (error) {
    const { cause } = error as { cause?: { code?: string } };
    if (cause?.code !== 'UND_ERR_SOCKET' && cause?.code !== 'ECONNRESET') throw error;
    return fetch(url, init);
  }
}

/** Speaks to a server as its own pages do: with their origin. */
export function apiClient(address: string, { headers = () => ({}), onAnswer }: ClientOptions = {}) {
  const send = async (method: string, path: string, init: RequestInit = {}): Promise<Answer> => {
    const answer = await fetchAnew(address + path, {
      ...init,
      method,
      headers: { origin: address, ...headers(), ...(init.headers as Record<string, string>) },
    });
    onAnswer?.(answer);
    const type = answer.headers.get('content-type') ?? '';
    const body = type.includes('json') ? await answer.json() : new Uint8Array(await answer.arrayBuffer());
    return { status: answer.status, type, body };
  };
  const json = (method: string) => (path: string, body: unknown) =>
    send(method, path, { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
  /** A form with a file, and with other fields. */
  const sendFile = (
    path: string,
    bytes: Uint8Array,
    name: string,
    fields: Record<string, string> = {},
  ): Promise<Answer> => {
    const form = new FormData();
    form.set('file', new File([bytes as Uint8Array<ArrayBuffer>], name));
    for (const [field, value] of Object.entries(fields)) form.set(field, value);
    return send('POST', path, { body: form });
  };
  return {
    send,
    get: (path: string) => send('GET', path),
    post: json('POST'),
    put: json('PUT'),
    patch: json('PATCH'),
    sendFile,
    upload: (bytes: Uint8Array, name: string, fields: Record<string, string> = {}) =>
      sendFile('/api/takes', bytes, name, fields),
    /** Sends files to an intake, as the page does; answers the intake without waiting for its end. */
    async sendFiles(
      files: readonly { name: string; bytes: Uint8Array }[],
      settings: unknown = {},
    ): Promise<string> {
      const { body: job } = await json('POST')('/api/jobs', settings);
      for (let at = 0; at < files.length; at += 64) {
        const form = new FormData();
        form.set('batch', `b${at}`);
        for (const { name, bytes } of files.slice(at, at + 64))
          form.append('file', new File([bytes as Uint8Array<ArrayBuffer>], name), name);
        const { status, body } = await send('POST', `/api/jobs/${job.id}/files`, { body: form });
        assert.equal(status, 202, JSON.stringify(body));
      }
      await send('POST', `/api/jobs/${job.id}/close`);
      return job.id;
    },
    /** The intake once it has ended. */
    async intakeEnd(id: string): Promise<Answer['body']> {
      const ended = async () => {
        const { body } = await send('GET', `/api/jobs/${id}`);
        return body.state !== 'running' && body;
      };
      return until('an intake ends', ended, { within: 300_000, every: 50 });
    },
  };
}

export type Api = ReturnType<typeof apiClient>;

/** Of a phrase as it is answered, what a save of it sends back. */
export function editOf(phrase: Answer['body']) {
  const { name, role, takeKey, recipe, tags, projectId, rights, state } = phrase;
  return { name, role, takeKey, recipe, tags, projectId, rights, state };
}

/** Checks that an answer is a problem with a status and a sentence (RFC 9457). */
export function assertProblem(answer: Answer, status: number, sentence: RegExp): void {
  assert.equal(answer.status, status, JSON.stringify(answer.body));
  assert.match(answer.type, /^application\/problem\+json/);
  assert.equal(answer.body.status, status);
  assert.match(answer.body.detail, sentence);
}
