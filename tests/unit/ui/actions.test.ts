import assert from 'node:assert/strict';
import { test } from 'node:test';
import { conflictsIn, keyWords } from '../../../src/ui/actions.ts';
import { drawnNotes, heights } from '../../../src/ui/drawing/strand.ts';
import { ROLE_LOOK } from '../../../src/ui/drawing/roles.ts';
import { ROLES } from '../../../src/core/split/roles.ts';

test('keys are told as people read them', () => {
  assert.equal(keyWords(' '), 'Space');
  assert.equal(keyWords('Ctrl+z'), 'Ctrl Z');
  assert.equal(keyWords('Shift+ArrowLeft'), 'Shift Left');
  assert.equal(keyWords('+'), '+');
  assert.equal(keyWords('Ctrl+ '), 'Ctrl Space');
});

test('a capital letter is told with its Shift: "Y" and "y" are two keys', () => {
  assert.equal(keyWords('Y'), 'Shift Y');
  assert.equal(keyWords('y'), 'Y');
  assert.equal(keyWords('Ctrl+Shift+z'), 'Ctrl Shift Z');
  assert.equal(keyWords('?'), '?');
});

test('a key with two meanings on one screen is found, with what it would do', () => {
  const run = () => {};
  const frame = { name: 'Everywhere', actions: [{ title: "Hear in the project's key", keys: ['p'], run }] };
  const take = {
    name: 'Split',
    actions: [
      { title: 'Look at the next proposal', keys: ['p'], run },
      { title: 'Accept the proposal', keys: ['y'], run },
      { title: 'Accept all that mends the take', keys: ['Y'], run },
      { title: 'Download the parts', run },
    ],
  };
  assert.deepEqual(conflictsIn([take]), []);
  assert.deepEqual(conflictsIn([frame, take]), [
    { key: 'p', titles: ["Everywhere: Hear in the project's key", 'Split: Look at the next proposal'] },
  ]);
});

test('no two roles share dye and weave: a role is never told by color alone', () => {
  const looks = ROLES.map((role) => `${ROLE_LOOK[role].dye} ${ROLE_LOOK[role].weave}`);
  assert.equal(new Set(looks).size, ROLES.length);
});

test('pitches stand between floor and top in order, drums on their lanes', () => {
  const notes = drawnNotes([40, 52, 64].map((pitch) => ({ tick: 0, duration: 1, pitch, velocity: 90 })));
  const height = heights(notes, 'bass');
  assert.ok(height(40) >= 0 && height(64) <= 1 && height(40) < height(52) && height(52) < height(64));
  const kit = drawnNotes([36, 38, 49].map((pitch) => ({ tick: 0, duration: 1, pitch, velocity: 90 })));
  const lanes = heights(kit, 'drums');
  assert.ok(lanes(36) < lanes(38) && lanes(38) < lanes(49));
  assert.equal(lanes(35), lanes(36));
});
