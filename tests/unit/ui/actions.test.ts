import assert from 'node:assert/strict';
import { test } from 'node:test';
import { conflictsIn, keyWords } from '../../../src/ui/actions.ts';
import { drawnNotes, heights, panned, wheeled, zoomed } from '../../../src/ui/strand.ts';
import { ROLE_LOOK } from '../../../src/ui/roles.ts';
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

test('a window zooms around a point and never leaves the music', () => {
  const all = { fromTick: 0, toTick: 10_000 };
  const closer = zoomed(all, 5000, 0.5, 10_000);
  assert.deepEqual(closer, { fromTick: 2500, toTick: 7500 });
  assert.deepEqual(zoomed(closer, 5000, 4, 10_000), all);
  assert.deepEqual(panned(closer, -9000, 10_000), { fromTick: 0, toTick: 5000 });
  assert.deepEqual(panned(closer, 9000, 10_000), { fromTick: 5000, toTick: 10_000 });
  assert.ok(zoomed(all, 0, 1e-9, 10_000).toTick >= 240);
});

test('the wheel zooms with Ctrl, moves with Shift, and is otherwise left to the page', () => {
  const window = { fromTick: 2000, toTick: 4000 };
  const wheel = { ctrlKey: false, shiftKey: false, deltaX: 0, deltaY: 100, clientX: 500 };
  assert.equal(wheeled(window, wheel, 0, 1000, 10_000), null);
  assert.deepEqual(wheeled(window, { ...wheel, shiftKey: true }, 0, 1000, 10_000), {
    fromTick: 2200,
    toTick: 4200,
  });
  const closer = wheeled(window, { ...wheel, ctrlKey: true, deltaY: -100 }, 0, 1000, 10_000)!;
  assert.ok(closer.toTick - closer.fromTick < 2000);
  // The point under the pointer stays under it.
  assert.ok(Math.abs((closer.fromTick + closer.toTick) / 2 - 3000) < 1);
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
