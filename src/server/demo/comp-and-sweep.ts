import { eq } from 'drizzle-orm';
import { writeMidiFile } from '../../core/midi/write.ts';
import { performanceFile } from '../../core/standins/performance.ts';
import type { Mishap } from '../../core/standins/mishaps.ts';
import { standInById } from '../../core/standins/stand-ins.ts';
import type { SweepPlan } from '../../core/sweep/plan.ts';
import type { Library } from '../db/client.ts';
import { parts } from '../db/schema.ts';
import { workOn } from '../jobs/engine.ts';
import { SWEEPS } from '../jobs/sweep.ts';
import { createComp, saveComp } from '../library/takes/comps.ts';
import { createSweep, setSameAside } from '../library/takes/sweeps.ts';
import { takeIn } from '../library/takes/takes.ts';

/** The chart of the market chase, with the chord that one of the devices gets wrong. */
const CHASE = 'Dm | Bb | Gm | Asus4 | Dm | F | Gm A7 | Dm';

/** Six passes over it: one with wrong thirds, one loose, one that goes on for two bars, one in another style. */
const PASSES: { settings: Record<string, string | number>; mishaps?: Mishap[] }[] = [
  { settings: { seed: 11, looseness: 10 } },
  { settings: { seed: 12, looseness: 10 }, mishaps: ['wrongThird'] },
  { settings: { seed: 14, looseness: 34, bpm: 114 } },
  { settings: { seed: 15, looseness: 8 } },
  { settings: { seed: 17, looseness: 12, bpm: 120 }, mishaps: ['tailBars'] },
  { settings: { seed: 18, looseness: 12, style: 'nightboat' } },
];

/** Bars that are taken already: most from the first and the fourth pass, a fill of the kit from the third. */
const TAKEN = [0, 0, 0, 3, 3, 3, 0, 0];
const FILL = { role: 'drums', bar: 4, pass: 4 };

/** A comp of six passes, half decided. */
async function seedComp(library: Library): Promise<void> {
  const band = standInById('band');
  const takes: string[] = [];
  for (const [at, { settings, mishaps = [] }] of PASSES.entries()) {
    const asked = { ...band.defaults, style: 'market', bpm: 118, choruses: 1, chart: CHASE, ...settings };
    const name = `Market chase, pass ${at + 1}`;
    const { takeIds } = await takeIn(library, {
      bytes: writeMidiFile(performanceFile({ ...band.play(asked, mishaps), title: name })),
      ...{ fileName: `${name}.mid`, name, source: band.title, rights: 'own work' },
      contributor: at < 3 ? 'Composer' : 'Percussionist',
      asked: { chart: CHASE, bars: 8 },
    });
    takes.push(takeIds[0]!);
  }
  const { id, comp } = await createComp(library.db, {
    ...{ title: 'Market chase, the best bars', chart: CHASE, takes },
  });
  const rows = await library.db
    .select({ name: parts.name, role: parts.role })
    .from(parts)
    .where(eq(parts.takeId, takes[0]!));
  const taken = Object.fromEntries(
    rows.map(({ name, role }) => [
      `${role}: ${name}`,
      Object.fromEntries(
        TAKEN.map((pass, bar) => {
          const isFill = role === FILL.role && bar + 1 === FILL.bar;
          return [String(bar + 1), `${takes[isFill ? FILL.pass : pass]!} 1`];
        }),
      ),
    ]),
  );
  const stars = { [`${takes[3]!} 1`]: { 4: true } };
  await saveComp(library.db, id, { base: comp, comp: { ...comp, taken, stars } });
}

/** An arpeggiator asked for the river's chords in 24 ways. */
const SWEEP: SweepPlan = {
  name: 'River arpeggios',
  source: { kind: 'stand-in', id: 'arpeggiator' },
  trigger: { kind: 'chart', chart: 'Dm | Bb | Gm | A7' },
  ...{ bpm: 96, bars: 4, settings: { looseness: 6 }, waits: false },
  vary: [
    { name: 'order', values: ['up', 'down', 'up and down', 'random'] },
    { name: 'octaves', values: [1, 2] },
    { name: 'seed', values: [3, 4, 5] },
  ],
};

async function seedSweep(library: Library): Promise<void> {
  const { id } = await createSweep(library.db, SWEEP);
  await workOn(library, SWEEPS, id);
  await setSameAside(library.db, id);
}

/** Before all else: what is older stands further down in the lists. */
export async function seedCompAndSweep(library: Library): Promise<void> {
  await seedComp(library);
  await seedSweep(library);
}
