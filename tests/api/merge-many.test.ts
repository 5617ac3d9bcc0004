import assert from 'node:assert/strict';
import { test } from 'node:test';
import { eq } from 'drizzle-orm';
import { MERGE_WAYS } from '../../src/core/exchange/merge.ts';
import { seededRandom } from '../../src/core/random.ts';
import { phrases } from '../../src/server/db/schema.ts';
import { takePack } from '../../src/server/library/handoff/taking-packs.ts';
import { getPhrase, savePhrase } from '../../src/server/library/phrases/phrases.ts';
import { slowly } from '../support/slow.ts';
import { semitoneUp } from '../support/midi-edits.ts';
import { contents, edited, filled, lentLibrary, packed, singles, type Files } from '../support/packs.ts';

/** How many packs go to and fro; a thousand where somebody has the time (MERGE_PACKS=1000). */
const PACKS = Number(process.env.MERGE_PACKS ?? 8);

test(
  'packs with random edits on both sides, taken in any way: no phrase is lost, none is there twice',
  slowly(),
  async () => {
    const random = seededRandom(20);
    const one = <Item>(list: readonly Item[]) => list[Math.floor(random() * list.length)]!;
    const home = await lentLibrary();
    const ids = await filled(home);
    const idsThere = async () => (await home.db.select({ id: phrases.id }).from(phrases)).map(({ id }) => id);
    const changeOurs = async () => {
      const id = one(ids);
      const { name, role, takeKey, recipe, tags, projectId, rights, state } = await getPhrase(home.db, id);
      const steps = recipe.steps.filter(({ step }) => step !== 'octave');
      const octave = { step: 'octave' as const, by: one([-1, 0, 1]) };
      await savePhrase(home.db, id, {
        ...{ name, role, takeKey, tags, projectId, rights, state },
        recipe: { ...recipe, steps: octave.by === 0 ? steps : [...steps, octave] },
      });
    };
    const changeTheirs = (files: Files): Files => {
      const name = one(singles(files));
      const { [name]: file, ...others } = files;
      switch (one(['up', 'gone', 'renamed', 'copied', 'none'])) {
        case 'up':
          return { ...files, [name]: semitoneUp(file!) };
        case 'gone':
          return others;
        case 'renamed':
          return { ...others, 'renamed.mid': file! };
        case 'copied':
          return { ...files, 'copied.mid': semitoneUp(file!) };
        default:
          return files;
      }
    };
    let zip = await packed(home, ids);
    for (let k = 0; k < PACKS; k++) {
      if (random() < 0.4) await changeOurs();
      if (random() < 0.2) zip = await packed(home, ids);
      const pack = edited(zip, random() < 0.5 ? changeTheirs : (files) => changeTheirs(changeTheirs(files)));
      const before = await idsThere();
      const tags = await Promise.all(ids.map(async (id) => (await getPhrase(home.db, id)).tags));
      await takePack(home, pack, { all: one(MERGE_WAYS) });
      const after = await idsThere();
      assert.deepEqual(before.filter((id) => !after.includes(id)), [], 'no phrase is lost'); // prettier-ignore
      for (const [n, id] of ids.entries()) {
        const now = await getPhrase(home.db, id);
        assert.deepEqual(tags[n]!.filter((tag) => !now.tags.includes(tag)), [], 'nor any tag'); // prettier-ignore
        assert.ok(now.clip.notes.length > 0);
      }
      const all = await contents(home);
      const { written } = await takePack(home, pack, { all: 'ours' });
      assert.equal(written, 0);
      assert.deepEqual(await contents(home), all, 'the same pack once more changes nothing');
    }
    const kept = await home.db.select({ name: phrases.name }).from(phrases).where(eq(phrases.state, 'kept'));
    const children = (await contents(home)).filter((told) => told.includes(', from '));
    assert.equal(new Set(children).size, children.length, `none of ${kept.length} is there twice`);
  },
);
