import assert from 'node:assert/strict';

export interface Answer {
  status: number;
  type: string;
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- tests look into answers of every shape
  body: any;
}

/** Speaks to a server as its own pages do: with their origin. */
export function apiClient(address: string) {
  const send = async (method: string, path: string, init: RequestInit = {}): Promise<Answer> => {
    const answer = await fetch(address + path, {
      ...init,
      method,
      headers: { origin: address, ...(init.headers as Record<string, string>) },
    });
    const type = answer.headers.get('content-type') ?? '';
    const body = type.includes('json') ? await answer.json() : new Uint8Array(await answer.arrayBuffer());
    return { status: answer.status, type, body };
  };
  const json = (method: string) => (path: string, body: unknown) =>
    send(method, path, { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
  return {
    send,
    get: (path: string) => send('GET', path),
    post: json('POST'),
    put: json('PUT'),
    patch: json('PATCH'),
    upload(bytes: Uint8Array, name: string, fields: Record<string, string> = {}): Promise<Answer> {
      const form = new FormData();
      form.set('file', new File([bytes as Uint8Array<ArrayBuffer>], name));
      for (const [field, value] of Object.entries(fields)) form.set(field, value);
      return send('POST', '/api/takes', { body: form });
    },
  };
}

export type Api = ReturnType<typeof apiClient>;

/** Checks that an answer is a problem with a status and a sentence (RFC 9457). */
export function assertProblem(answer: Answer, status: number, sentence: RegExp): void {
  assert.equal(answer.status, status, JSON.stringify(answer.body));
  assert.match(answer.type, /^application\/problem\+json/);
  assert.equal(answer.body.status, status);
  assert.match(answer.body.detail, sentence);
}
