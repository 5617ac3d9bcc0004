import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import {
  planMirror,
  SET_ASIDE,
  type MirrorPlan,
  type MirrorRow,
  type MirrorWanted,
} from '../../../src/core/exchange/mirror.ts';

const want = (phraseId: string, path: string, sha256 = `${phraseId}1`): MirrorWanted => ({
  ...{ phraseId, piece: '', path, sha256 },
});

/** A folder after a plan was carried out. */
function after(disk: ReadonlyMap<string, string>, { moves, writes }: MirrorPlan): Map<string, string> {
  const now = new Map(disk);
  const lifted = moves.map(({ from, to }) => [to, now.get(from)!] as const);
  for (const { from } of moves) now.delete(from);
  for (const [to, sha256] of lifted) now.set(to, sha256);
  for (const { path, sha256 } of writes) now.set(path, sha256);
  return now;
}

test('what is new is written under its name, never over what stands there, whatever the case of its letters', () => {
  const disk = new Map([['Barrow.mid', 'theirs']]);
  const plan = planMirror([], [want('a', 'barrow.mid'), want('b', 'barrow.mid')], disk);
  assert.deepEqual(
    plan.writes.map(({ path }) => path),
    ['barrow-2.mid', 'barrow-3.mid'],
  );
  assert.deepEqual(plan.foreign, ['Barrow.mid']);
});

test('a name once mirrored stays, until names are tidied; then it is said what is moved', () => {
  const first = planMirror([], [want('a', 'old.mid')], new Map());
  const disk = after(new Map(), first);
  const renamed = [want('a', 'new.mid')];
  assert.deepEqual(planMirror(first.rows, renamed, disk).writes, []);
  const tidy = planMirror(first.rows, renamed, disk, { tidy: true });
  assert.deepEqual(tidy.moves, [{ from: 'old.mid', to: 'new.mid' }]);
});

test('one of ours that was changed is not overwritten: it came back, and ours stands beside it', () => {
  const first = planMirror([], [want('a', 'walk.mid')], new Map());
  const disk = new Map([['walk.mid', 'edited']]);
  const second = planMirror(first.rows, [want('a', 'walk.mid', 'a2')], disk);
  assert.deepEqual(second.writes, [want('a', 'walk-2.mid', 'a2')]);
  assert.deepEqual(
    second.rows.map(({ path, state }) => [path, state]),
    [['walk.mid', 'came back'], ['walk-2.mid', 'ours']], // prettier-ignore
  );
  // Told once, and then it is quiet.
  const third = planMirror(second.rows, [want('a', 'walk.mid', 'a2')], after(disk, second));
  assert.deepEqual([third.moves, third.writes, third.rows], [[], [], second.rows]);
});

test('what leaves the basket goes aside; what somebody changed of it stays as theirs', () => {
  const first = planMirror([], [want('a', 'a.mid'), want('b', 'b.mid')], new Map());
  const disk = after(new Map(), first);
  disk.set('b.mid', 'edited');
  const gone = planMirror(first.rows, [], disk);
  assert.deepEqual(gone.moves, [{ from: 'a.mid', to: `${SET_ASIDE}/a.mid` }]);
  assert.deepEqual(gone.foreign, ['b.mid']);
});

test('what was written before the process died is ours: nothing is written twice', () => {
  const wanted = [want('a', 'a.mid')];
  const plan = planMirror([], wanted, new Map([['a.mid', 'a1']]));
  assert.deepEqual([plan.writes, plan.foreign], [[], []]);
});

const paths = fc.constantFrom('a.mid', 'A.mid', 'b.mid', '4-4/a.mid', 'c.mid');
const wishes = fc
  .uniqueArray(fc.tuple(fc.constantFrom('p', 'q', 'r', 's'), paths, fc.constantFrom('1', '2', '3')), {
    selector: ([phraseId]) => phraseId,
  })
  .map((list) => list.map(([phraseId, path, version]) => want(phraseId, path, phraseId + version)));
const outside = fc.array(fc.tuple(paths, fc.constantFrom('x', 'y', null)), { maxLength: 3 });

test('whatever is wanted, and whatever others do meanwhile: nothing of theirs is lost, and it comes into step', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(wishes, outside, fc.boolean()), { maxLength: 6 }), (rounds) => {
      let disk = new Map<string, string>();
      let rows: MirrorRow[] = [];
      for (const [wanted, others, tidy] of rounds) {
        for (const [path, sum] of others) {
          if (sum === null) disk.delete(path);
          else disk.set(path, sum);
        }
        const theirs = [...disk.values()].filter((sum) => sum === 'x' || sum === 'y').sort();
        const plan = planMirror(rows, wanted, disk, { tidy });
        const targets = [...plan.writes.map(({ path }) => path), ...plan.moves.map(({ to }) => to)];
        assert.equal(new Set(targets.map((path) => path.toLowerCase())).size, targets.length - both(plan));
        disk = after(disk, plan);
        ({ rows } = plan);
        assert.deepEqual([...disk.values()].filter((sum) => sum === 'x' || sum === 'y').sort(), theirs);
        for (const { phraseId, sha256 } of wanted) {
          const row = rows.find((one) => one.phraseId === phraseId && one.state === 'ours')!;
          assert.equal(disk.get(row.path), sha256);
        }
        const again = planMirror(rows, wanted, disk, { tidy });
        assert.deepEqual([again.writes, again.moves.length], [[], 0]);
      }
    }),
  );
});

/** What is moved and written anew where it then stands. */
const both = ({ moves, writes }: MirrorPlan) =>
  writes.filter(({ path }) => moves.some(({ to }) => to === path)).length;
