import assert from 'node:assert/strict';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import { isEnough, RULES, ruleOf } from '../../../src/server/people/permissions.ts';

/** The list of who may do what, held against the endpoints there are. */

const PAGES = join(import.meta.dirname, '../../../src/pages/api');

/** Each endpoint as its address is called, with its methods. */
function endpoints(): [pattern: string, method: string][] {
  return readdirSync(PAGES, { recursive: true, encoding: 'utf8' })
    .filter((file) => file.endsWith('.ts') && !/(^|\/)_/.test(file))
    .flatMap((file) => {
      const pattern = `/api/${file.slice(0, -3)}`.replace(/\/index$/, '');
      const text = readFileSync(join(PAGES, file), 'utf8');
      const methods = [...text.matchAll(/^export const (GET|POST|PUT|PATCH|DELETE|ALL)\b/gm)].map(([, method]) => method!); // prettier-ignore
      return methods.flatMap((method) => (method === 'ALL' ? ['GET', 'POST'] : [method])).map((method) => [pattern, method] as [string, string]); // prettier-ignore
    });
}

test('every endpoint has a rule, and every rule an endpoint', () => {
  const there = endpoints().map(([pattern, method]) => `${method} ${pattern}`);
  assert.ok(there.length > 100);
  for (const [pattern, method] of endpoints()) assert.ok(ruleOf(method, pattern), `${method} ${pattern}`);
  const ruled = Object.entries(RULES).flatMap(([pattern, rules]) => Object.keys(rules).map((method) => `${method} ${pattern}`)); // prettier-ignore
  const idle = ruled.filter((one) => !there.includes(one) && !one.includes('[...rest]'));
  assert.deepEqual(idle, []);
});

test('what has no rule is nobody’s; HEAD needs what GET needs', () => {
  assert.equal(ruleOf('GET', '/api/secrets'), null);
  assert.equal(ruleOf('DELETE', '/api/takes'), null);
  assert.equal(ruleOf('TRACE', '/api/takes'), null);
  assert.equal(ruleOf('constructor', '/api/takes'), null);
  assert.equal(ruleOf('HEAD', '/api/takes'), ruleOf('GET', '/api/takes'));
});

test('whoever writes is at least a member, but for what is said of oneself and a pack that a guest sends back', () => {
  const below = endpoints().filter(([pattern, method]) => method !== 'GET' && !isEnough('guest', { least: 'member' }) && isEnough('guest', ruleOf(method, pattern)!)); // prettier-ignore
  assert.deepEqual(
    below.map(([pattern, method]) => `${method} ${pattern}`).filter((one) => !one.includes('[...rest]')).sort(), // prettier-ignore
    [
      'DELETE /api/me/sessions',
      'DELETE /api/session',
      'PATCH /api/me',
      'POST /api/baskets/[id]/answer',
      'POST /api/events/here',
      'POST /api/join',
      'POST /api/session',
      'PUT /api/join',
    ],
  );
});

test('what a guest may do to a basket is asked of that basket; nothing of the library is for guests', () => {
  for (const [pattern, rules] of Object.entries(RULES))
    for (const [method, rule] of Object.entries(rules)) {
      const isOwn = /^\/api\/(me|me\/sessions|session|join|shared|events|events\/here|\[\.\.\.rest\])$/.test(pattern); // prettier-ignore
      if (isEnough('guest', rule) && !isOwn) assert.ok(rule.basket, `${method} ${pattern}`);
      if (rule.basket) assert.match(pattern, /^\/api\/baskets\/\[id\]/);
    }
});
