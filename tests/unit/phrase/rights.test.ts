import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { RIGHTS, strictestRights, strictness } from '../../../src/core/phrase/rights.ts';

test('a child has the strictest rights of its parents; nothing said is as good as unknown', () => {
  assert.equal(strictestRights(['own work', "from somebody's song"]), "from somebody's song");
  assert.equal(strictestRights(['own work', '']), '');
  assert.equal(strictestRights(['public domain', 'own work']), 'own work');
  assert.equal(strictestRights(['not to leave', 'unknown', 'own work']), 'not to leave');
  assert.equal(strictestRights(['Own work', 'own work, 2026']), 'Own work; own work, 2026');
  assert.equal(
    strictestRights(['licensed to the ferry, until May', 'own work']),
    'licensed to the ferry, until May',
  );
  assert.equal(strictness('by letter of the museum'), strictness('licensed'));
});

test('property: no order of parents frees a child, and adding a parent never does', () => {
  const some = fc.oneof(
    fc.constantFrom(...RIGHTS),
    fc.constant(''),
    fc.constantFrom('by letter', 'for one show'),
  );
  fc.assert(
    fc.property(fc.array(some, { minLength: 1, maxLength: 6 }), some, (parents, more) => {
      const own = strictness(strictestRights(parents).split('; ')[0]!);
      assert.equal(own, Math.max(...parents.map(strictness)));
      assert.equal(strictness(strictestRights([...parents].reverse()).split('; ')[0]!), own);
      assert.ok(strictness(strictestRights([...parents, more]).split('; ')[0]!) >= own);
    }),
  );
});
