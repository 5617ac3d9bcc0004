import assert from 'node:assert/strict';
import { request } from 'node:http';
import { after, test } from 'node:test';
import { besideServer, PASSWORD, tokenFor } from '../support/people.ts';
import { serverForTests } from '../support/suite.ts';

/** A server behind another that has the name and the TLS: people sign in, and cookies are for encrypted connections. */

const NAME = 'basket.example.org';
const { server } = await serverForTests({ environment: { PUBLIC_URL: `https://${NAME}` } });
const library = await besideServer(server);
after(() => library.close());

/** As it comes from the server before it. */
function forwarded(
  method: string,
  path: string,
  {
    host = NAME,
    origin,
    body,
    cookie,
  }: { host?: string; origin?: string; body?: unknown; cookie?: string } = {},
): Promise<{ status: number; headers: Record<string, string | string[] | undefined>; text: string }> {
  const payload = body === undefined ? undefined : JSON.stringify(body);
  return new Promise((resolve, reject) => {
    const { hostname, port } = new URL(server.address);
    const headers = {
      host,
      'x-forwarded-proto': 'https',
      'x-forwarded-for': '192.0.2.7',
      ...(origin ? { origin } : {}),
      ...(cookie ? { cookie } : {}),
      ...(payload ? { 'content-type': 'application/json', 'content-length': String(Buffer.byteLength(payload)) } : {}), // prettier-ignore
    };
    const sent = request({ hostname, port, path, method, headers }, (answer) => {
      let text = '';
      answer.on('data', (chunk) => (text += chunk));
      answer.on('end', () => resolve({ status: answer.statusCode!, headers: answer.headers, text }));
    });
    sent.on('error', reject);
    sent.end(payload);
  });
}

test('it goes by its public name, and people have to sign in though it listens on loopback', async () => {
  assert.equal((await forwarded('GET', '/api/takes')).status, 401);
  assert.equal((await forwarded('GET', '/api/me', { host: 'evil.example' })).status, 403);
  const { status, headers } = await forwarded('GET', '/api/me');
  assert.equal(status, 200);
  assert.equal(headers['cache-control'], 'no-store');
  assert.match(String(headers['strict-transport-security']), /max-age=31536000/);
});

test('links are for the public name; the cookie is for this host and for encrypted connections alone', async () => {
  const token = await tokenFor(library, 'owner');
  const body = { token, name: 'Ida', password: PASSWORD };
  const from = (origin: string) => forwarded('POST', '/api/join', { origin, body });
  assert.equal((await from('https://evil.example')).status, 403);
  const { status, headers } = await from(`https://${NAME}`);
  assert.equal(status, 200);
  const [cookie] = headers['set-cookie'] as string[];
  assert.match(cookie!, /^__Host-basket=/);
  for (const wanted of [/; Secure/i, /; HttpOnly/i, /; SameSite=Strict/i, /; Path=\//i]) assert.match(cookie!, wanted); // prettier-ignore
  assert.doesNotMatch(cookie!, /Domain=/i);
  const own = cookie!.split(';')[0]!;
  assert.equal((await forwarded('GET', '/api/takes', { cookie: own })).status, 200);
  const made = await forwarded('POST', '/api/invitations', { cookie: own, origin: `https://${NAME}`, body: { note: 'Jonas', role: 'member' } }); // prettier-ignore
  assert.equal(made.status, 201);
  assert.match((JSON.parse(made.text) as { link: string }).link, /^https:\/\/basket\.example\.org\/join#/);
});
