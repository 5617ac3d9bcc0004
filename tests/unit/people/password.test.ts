import assert from 'node:assert/strict';
import { scryptSync } from 'node:crypto';
import { test } from 'node:test';
import { PASSWORD } from '../../../src/core/people/password.ts';
import { hashPassword, isPassword, passwordProblem } from '../../../src/server/people/password.ts';

test('RFC 7914, section 12: what derives keys here is scrypt', () => {
  // The third test vector: P "pleaseletmein", S "SodiumChloride", N 16384, r 8, p 1.
  const key = scryptSync('pleaseletmein', 'SodiumChloride', 64, {
    N: 16384,
    r: 8,
    p: 1,
    maxmem: 64 * 2 ** 20,
  });
  assert.match(key.toString('hex'), /^7023bdcb3afd7348461c06cd81fd38eb/);
  const kept = `scrypt$16384$8$1$${Buffer.from('SodiumChloride').toString('base64url')}$${key.toString('base64url')}`;
  return isPassword('pleaseletmein', kept.replace(/[^$]*$/, key.subarray(0, 32).toString('base64url'))).then((is) => assert.equal(is, true)); // prettier-ignore
});

test('a password is known again, another is not; the same is kept otherwise each time', async () => {
  const password = 'ferry lantern thistle östlich';
  const [one, two] = await Promise.all([hashPassword(password), hashPassword(password)]);
  assert.notEqual(one, two);
  assert.equal(await isPassword(password, one), true);
  assert.equal(await isPassword(password.normalize('NFD'), two), true, 'written otherwise, the same text');
  assert.equal(await isPassword(`${password} `, one), false);
  assert.equal(await isPassword(password, null), false);
  assert.ok(!one.includes(password));
});

test('what is too short, too long or guessed at once is refused in words; anything else may be chosen', async () => {
  assert.match((await passwordProblem('short', 'Ida'))!, /at least 12/);
  assert.match((await passwordProblem('x'.repeat(PASSWORD.longest + 1), 'Ida'))!, /at most 128/);
  for (const guessed of ['password1234', 'aaaaaaaaaaaaaa', 'qwertyuiop123', '123456789012'])
    assert.match((await passwordProblem(guessed, 'Ida')) ?? guessed, /easily guessed/, guessed);
  assert.match(
    (await passwordProblem('Wilhelmina Brandt', 'Wilhelmina Brandt')) ?? 'taken',
    /easily guessed/,
  );
  assert.equal(await passwordProblem('goose thistle ferry lamp', 'Ida'), null);
  assert.equal(await passwordProblem('наша лодка и фонарь', 'Ida'), null);
  assert.equal(await passwordProblem(`${'goose thistle lamp '.repeat(6)}`, 'Ida'), null);
});
