import { eq } from 'drizzle-orm';
import { writeMidiFile } from '../../core/midi/write.ts';
import { parseKey } from '../../core/music/key.ts';
import { bandFile, type BandRequest } from '../../core/standins/band.ts';
import type { Library } from '../db/client.ts';
import { parts, projects } from '../db/schema.ts';
import { addToBasket, createBasket, updateBasket } from './baskets.ts';
import { getPhrase, makePhrases, savePhrase } from './phrases.ts';
import { createProject, type Project } from './projects.ts';
import { takeIn } from './takes.ts';

/** A show of the traveling puppet theater. All invented. */
interface DemoProject {
  name: string;
  key: string;
  bpm: number;
  meter: [number, number];
  chords: string;
}

const PROJECTS: DemoProject[] = [
  { name: 'The Lantern Ferry', key: 'Dm', bpm: 96, meter: [4, 4], chords: 'Dm | Bb | Gm | A7' },
  { name: 'Salt and Thistle', key: 'G', bpm: 118, meter: [4, 4], chords: 'G | C | D7 | G' },
  { name: "The Clockmaker's Goose", key: 'Em', bpm: 132, meter: [3, 4], chords: 'Em | Am | B7 | Em' },
];

/** Bars of some parts that become phrases: several parts in one cut become a sheaf. */
interface DemoCut {
  parts: string[];
  start: number;
  bars: number;
  name: string;
  tags: string[];
  draft?: boolean;
}

interface DemoTake extends Omit<BandRequest, 'seed'> {
  project: number;
  contributor: string;
  cuts: DemoCut[];
}

const COMPOSER = 'Composer';
const PERCUSSIONIST = 'Percussionist';
const BAND = 'Band stand-in';

/** How far the demo's players stray, in milliseconds: enough to see what quantizing does. */
const LOOSENESS = 26;

const TAKES: DemoTake[] = [
  {
    title: 'Ferry crossing',
    project: 0,
    style: 'river',
    bpm: 96,
    chart: 'Dm | Dm | Bb | C | Dm | Gm7 | A7 | Dm | Dm | Bb',
    contributor: COMPOSER,
    cuts: [
      { parts: ['Bass'], start: 5, bars: 4, name: 'Ferry bass, low walk', tags: ['river', 'walking'] },
      { parts: ['Kit'], start: 1, bars: 4, name: 'Oars on the beat', tags: ['river', 'groove', 'fill'] },
      { parts: ['Keys'], start: 5, bars: 4, name: 'Ferry chords, open', tags: ['river'] },
      { parts: ['Guitar'], start: 1, bars: 2, name: 'Rope strum', tags: ['river'] },
      { parts: ['Pad'], start: 1, bars: 8, name: 'Fog over water', tags: ['river', 'slow'] },
      { parts: ['Bass', 'Keys', 'Kit'], start: 1, bars: 4, name: 'Crossing verse', tags: ['river', 'verse'] },
    ],
  },
  {
    title: 'Lamplighters',
    project: 0,
    style: 'river',
    bpm: 112,
    chart: 'Am | F | C | G | Am | F | Dm | E7',
    contributor: COMPOSER,
    cuts: [
      { parts: ['Keys'], start: 1, bars: 4, name: 'Lamplighter rise', tags: ['night', 'glass'] },
      { parts: ['Bass'], start: 1, bars: 4, name: 'Lamp pole', tags: ['night', 'walking'] },
      { parts: ['Kit'], start: 5, bars: 4, name: 'Street at dusk', tags: ['night', 'groove'] },
      { parts: ['Guitar'], start: 5, bars: 4, name: 'Shutters', tags: ['night'] },
      { parts: ['Pad'], start: 5, bars: 4, name: 'Lantern sevenths', tags: ['night', 'slow'], draft: true },
    ],
  },
  {
    title: 'Far bank',
    project: 0,
    style: 'river',
    bpm: 72,
    chart: 'Dm | C | Bb | A | Dm | C | Bb | A7',
    contributor: COMPOSER,
    cuts: [
      {
        parts: ['Pad'],
        start: 1,
        bars: 4,
        name: 'Far bank, four steps down',
        tags: ['river', 'slow', 'descent'],
      },
      { parts: ['Bass'], start: 1, bars: 8, name: 'Anchor chain', tags: ['river', 'slow', 'descent'] },
      { parts: ['Keys'], start: 1, bars: 4, name: 'Far bank chords', tags: ['river', 'descent'] },
    ],
  },
  {
    title: 'Landing stage',
    project: 0,
    style: 'river',
    bpm: 100,
    chart: 'F | C | Dm | Bb | F | C | Bb | F',
    contributor: PERCUSSIONIST,
    cuts: [],
  },
  {
    title: 'Market opening',
    project: 1,
    style: 'market',
    bpm: 118,
    chart: 'G | C | G | D7 | G | C | D7 | G',
    contributor: COMPOSER,
    cuts: [
      {
        parts: ['Kit'],
        start: 1,
        bars: 8,
        name: 'Market shuffle with fill',
        tags: ['market', 'fill', 'groove'],
      },
      { parts: ['Bass'], start: 1, bars: 4, name: 'Salt two-step', tags: ['market', 'walking'] },
      { parts: ['Guitar'], start: 1, bars: 4, name: 'Thistle strum', tags: ['market', 'swing'] },
      { parts: ['Keys'], start: 5, bars: 4, name: 'Barrow chords', tags: ['market', 'swing'] },
      { parts: ['Bass', 'Guitar', 'Kit'], start: 5, bars: 4, name: 'Stalls open', tags: ['market', 'verse'] },
    ],
  },
  {
    title: 'Quarrel at the stall',
    project: 1,
    style: 'market',
    bpm: 138,
    chart: 'Em | Am | B7 | Em | C | G | F#m7b5 B7 | Em',
    contributor: COMPOSER,
    cuts: [
      { parts: ['Bass'], start: 1, bars: 4, name: 'Quarrel, low voice', tags: ['market', 'comic'] },
      { parts: ['Keys'], start: 5, bars: 4, name: 'Quarrel, high voice', tags: ['market', 'comic'] },
      { parts: ['Kit'], start: 4, bars: 1, name: 'Barrow goes over', tags: ['fill', 'comic'] },
      { parts: ['Guitar'], start: 1, bars: 2, name: 'Finger wagging', tags: ['comic', 'swing'], draft: true },
    ],
  },
  {
    title: 'Thistle 104bpm Bm bridge',
    project: 1,
    style: 'market',
    bpm: 104,
    chart: 'Bm | G | D | A | Bm | G | Em | F#7',
    contributor: PERCUSSIONIST,
    cuts: [
      { parts: ['Guitar'], start: 1, bars: 4, name: 'Thistle bridge', tags: ['bridge', 'swing'] },
      { parts: ['Pad'], start: 5, bars: 4, name: 'Thistle bridge, held', tags: ['bridge', 'slow'] },
      { parts: ['Kit'], start: 1, bars: 2, name: 'Brush steps', tags: ['bridge', 'groove'] },
    ],
  },
  {
    title: 'Goose waltz',
    project: 2,
    style: 'clockwork',
    bpm: 132,
    chart: 'Em | Em | Am | B7 | Em | C | B7 | Em',
    contributor: COMPOSER,
    cuts: [
      { parts: ['Keys'], start: 1, bars: 8, name: 'Goose clock waltz', tags: ['winter', 'clock'] },
      { parts: ['Bass'], start: 1, bars: 8, name: 'Goose pedal point', tags: ['winter'] },
      { parts: ['Kit'], start: 1, bars: 4, name: 'Clock case', tags: ['winter', 'clock', 'groove'] },
      { parts: ['Guitar'], start: 5, bars: 4, name: 'Harp of frost', tags: ['winter', 'glass'] },
      { parts: ['Keys', 'Guitar', 'Pad'], start: 1, bars: 4, name: 'Snow globe', tags: ['winter', 'glass'] },
    ],
  },
  {
    title: 'Escapement',
    project: 2,
    style: 'clockwork',
    bpm: 120,
    chart: 'C | Am | F | G7 | C | Am | Dm G7 | C',
    contributor: COMPOSER,
    cuts: [
      { parts: ['Keys'], start: 1, bars: 1, name: 'Clock escapement', tags: ['winter', 'clock'] },
      { parts: ['Pad'], start: 1, bars: 8, name: 'Hall of clocks', tags: ['clock', 'slow'] },
      { parts: ['Bass'], start: 5, bars: 4, name: 'Pendulum', tags: ['clock'] },
      { parts: ['Kit'], start: 4, bars: 1, name: 'Spring lets go', tags: ['fill', 'clock'], draft: true },
    ],
  },
  {
    title: 'Winter window',
    project: 2,
    style: 'clockwork',
    bpm: 88,
    chart: 'Gm | Eb | Bb | F | Gm | Eb | Cm | D7',
    contributor: PERCUSSIONIST,
    cuts: [],
  },
];

/** Fills an empty library with the demo's scenario. Fixed seeds: the same music on every machine. */
export async function seedDemo(library: Library): Promise<void> {
  const { db } = library;
  const [already] = await db.select({ id: projects.id }).from(projects).limit(1);
  if (already) return;
  const made: Project[] = [];
  for (const { name, key, bpm, meter, chords } of PROJECTS) {
    const { tonic, mode } = parseKey(key)!;
    made.push(
      await createProject(db, {
        name,
        bpm,
        chords,
        keyTonic: tonic,
        keyMode: mode,
        meterNumerator: meter[0],
        meterDenominator: meter[1],
      }),
    );
  }
  const byName = new Map<string, string>();
  for (const [seed, take] of TAKES.entries()) {
    const cut = await seedTake(library, take, seed + 1, made[take.project]!);
    for (const [name, id] of cut) byName.set(name, id);
  }
  await seedBaskets(library, made, byName);
}

async function seedTake(
  library: Library,
  take: DemoTake,
  seed: number,
  project: Project,
): Promise<Map<string, string>> {
  const { db } = library;
  const taken = await takeIn(library, {
    bytes: writeMidiFile(bandFile({ ...take, seed, looseness: LOOSENESS })),
    fileName: `${take.title.toLowerCase().replace(/ /g, '_')}.mid`,
    name: take.title,
    source: BAND,
    contributor: take.contributor,
  });
  const takeId = taken.takeIds[0]!;
  const partRows = await db.select().from(parts).where(eq(parts.takeId, takeId));
  const byName = new Map<string, string>();
  for (const cut of take.cuts) {
    const keys = cut.parts.map((name) => partRows.find((part) => part.name === name)!.key);
    const { phraseIds } = await makePhrases(db, {
      takeId,
      parts: keys,
      startBar: cut.start,
      bars: cut.bars,
      projectId: project.id,
    });
    for (const id of phraseIds) {
      const { role, takeKey, recipe, partName } = await getPhrase(db, id);
      const name = phraseIds.length > 1 ? `${cut.name}, ${partName.toLowerCase()}` : cut.name;
      const state = cut.draft ? 'draft' : 'kept';
      await savePhrase(db, id, {
        name,
        role,
        takeKey,
        recipe,
        tags: cut.tags,
        projectId: project.id,
        rights: 'own work',
        state,
      });
      if (state === 'kept') byName.set(name, id);
    }
  }
  return byName;
}

async function seedBaskets(library: Library, made: Project[], byName: Map<string, string>): Promise<void> {
  const { db } = library;
  const fill = async (name: string, project: Project, pattern: string, phrases: string[]) => {
    const { id } = await createBasket(db, name, project.id);
    await updateBasket(db, id, { pattern });
    await addToBasket(
      db,
      id,
      phrases.map((phrase) => byName.get(phrase)!),
    );
  };
  await fill('For the percussionist', made[0]!, '{number}_{name}_{role}_{tempo}', [
    'Oars on the beat',
    'Street at dusk',
    'Ferry bass, low walk',
    'Crossing verse, bass',
    'Crossing verse, keys',
    'Crossing verse, kit',
  ]);
  await fill('Market, first act', made[1]!, '{project}_{role}_{bars}bar_{tempo}_{key}_{number}', [
    'Market shuffle with fill',
    'Salt two-step',
    'Thistle strum',
    'Barrow goes over',
  ]);
  await fill('For the copyist', made[2]!, '{number}_{name}_{meter}_{key}', [
    'Goose clock waltz',
    'Goose pedal point',
    'Harp of frost',
  ]);
}
