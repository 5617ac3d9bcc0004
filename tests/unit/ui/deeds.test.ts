import assert from 'node:assert/strict';
import { beforeEach, test } from 'node:test';
import fc from 'fast-check';
import {
  didDeed,
  doAgain,
  forgetDeeds,
  lastDone,
  nextUndone,
  takeBack,
  useDeeds,
} from '../../../src/ui/history/deeds.ts';

/** One history for all views: what was done last, wherever it was, is taken back first. */

beforeEach(() => useDeeds.setState({ done: [], undone: [] }));

/** A value that deeds change, as a view would. */
function counter() {
  const state = { value: 0 };
  const set = (value: number, what: string, source: string) => {
    const before = state.value;
    state.value = value;
    didDeed({ what, source, undo: () => (state.value = before), redo: () => (state.value = value) });
  };
  return { state, set };
}

test('the last deed is taken back first, whichever view it was in, and says what it was', () => {
  const [take, library] = [counter(), counter()];
  take.set(1, 'a new name', 'take 1');
  library.set(5, 'keeping "Low walk"', 'library');
  take.set(2, 'a merge', 'take 1');
  assert.equal(takeBack()!.what, 'a merge');
  assert.deepEqual([take.state.value, library.state.value], [1, 5]);
  assert.equal(takeBack()!.what, 'keeping "Low walk"');
  assert.deepEqual([take.state.value, library.state.value], [1, 0]);
  assert.equal(doAgain()!.what, 'keeping "Low walk"');
  assert.deepEqual([take.state.value, library.state.value], [1, 5]);
});

test('a view takes back its own, and leaves what was done elsewhere', () => {
  const [take, house] = [counter(), counter()];
  take.set(1, 'a role', 'take 1');
  house.set(7, 'a level', 'house');
  assert.equal(takeBack(lastDone('take 1'))!.what, 'a role');
  assert.deepEqual([take.state.value, house.state.value], [0, 7]);
  assert.equal(lastDone()!.what, 'a level');
  assert.equal(nextUndone('take 1')!.what, 'a role');
  assert.equal(nextUndone('house'), undefined);
});

test('something new on the same thing ends what could be done again, of others it stays', () => {
  const [take, house] = [counter(), counter()];
  take.set(1, 'a role', 'take 1');
  house.set(7, 'a level', 'house');
  takeBack();
  takeBack();
  take.set(3, 'another role', 'take 1');
  assert.equal(nextUndone('take 1'), undefined);
  assert.equal(nextUndone()!.what, 'a level');
  doAgain();
  assert.deepEqual([take.state.value, house.state.value], [3, 7]);
});

test('with nothing done, nothing happens; a deed that was taken back is not taken back again', () => {
  assert.equal(takeBack(), undefined);
  assert.equal(doAgain(), undefined);
  const one = counter();
  one.set(1, 'x', 's');
  const deed = lastDone()!;
  takeBack(deed);
  one.state.value = 9;
  assert.equal(takeBack(deed), undefined);
  assert.equal(one.state.value, 9);
});

test('a deed that cannot be done again is taken back once and gone', () => {
  let undone = 0;
  didDeed({ what: 'sending', source: 's', undo: () => undone++ });
  takeBack();
  assert.deepEqual([undone, nextUndone()], [1, undefined]);
});

test('what is no longer there is forgotten, and all else stays in its order', () => {
  const [a, b] = [counter(), counter()];
  a.set(1, 'a1', 'a');
  b.set(1, 'b1', 'b');
  a.set(2, 'a2', 'a');
  forgetDeeds('a');
  assert.equal(lastDone()!.what, 'b1');
  takeBack();
  assert.deepEqual([a.state.value, b.state.value], [2, 0]);
});

test('any run of doing, taking back and doing again ends where a stack of values would', () => {
  const step = fc.oneof(
    fc.record({ do: fc.constant('set' as const), value: fc.nat(99) }),
    fc.record({ do: fc.constantFrom('back' as const, 'again' as const), value: fc.constant(0) }),
  );
  fc.assert(
    fc.property(fc.array(step, { maxLength: 40 }), (steps) => {
      useDeeds.setState({ done: [], undone: [] });
      const one = counter();
      const past: number[] = [0];
      let future: number[] = [];
      for (const { do: what, value } of steps) {
        if (what === 'set') {
          one.set(value, 'set', 's');
          past.push(value);
          future = [];
        } else if (what === 'back') {
          takeBack();
          if (past.length > 1) future.push(past.pop()!);
        } else {
          doAgain();
          const next = future.pop();
          if (next !== undefined) past.push(next);
        }
        assert.equal(one.state.value, past.at(-1));
      }
    }),
  );
});
