import { randomUUID } from 'node:crypto';
import { eq } from 'drizzle-orm';
import { appendMessage, createLog, encodeLog, STREAM } from '../../core/capture/message-log.ts';
import { writeMidiFile } from '../../core/midi/write.ts';
import { bassClip, chordsClip, madeParts } from '../../core/harmonize/made-clips.ts';
import { changesForTune, chartOf } from '../../core/harmonize/for-tune.ts';
import { keyLabel, parseKey } from '../../core/music/key.ts';
import { asCaptured } from '../../core/reuse/in-project.ts';
import { readChanges } from '../../core/through/sounding.ts';
import { BLANK_CARD } from '../../core/exchange/card.ts';
import { tracksToMidi } from '../../core/exchange/midi-out.ts';
import { barMs, msPerQuarter, steadyTimeline } from '../../core/music/timeline.ts';
import { bandFile } from '../../core/standins/band.ts';
import {
  passFiles,
  performanceFile,
  performanceMessages,
  performanceTicks,
  PPQ,
  type Performance,
} from '../../core/standins/performance.ts';
import { standInById } from '../../core/standins/stand-ins.ts';
import { childRecipe, inKeptKey, writtenChanges } from '../../core/reuse/child.ts';
import { takeFeel } from '../../core/normalize/feel.ts';
import { catalogOf } from '../catalog/catalog.ts';
import type { Library } from '../db/client.ts';
import { parts, projects, takes } from '../db/schema.ts';
import { workOn } from '../jobs/engine.ts';
import { addUploads, INTAKES } from '../jobs/intake.ts';
import { BATCHES } from '../jobs/batch.ts';
import type { BasketRow } from '../library/handoff/basket-rows.ts';
import { createBasket, setBasketRows, updateBasket } from '../library/handoff/baskets.ts';
import { createBatch } from '../library/phrases/batches.ts';
import { beginCapture, finishCapture, keepPiece } from '../library/takes/captures.ts';
import { makeChildren } from '../library/phrases/children.ts';
import { keepChanges } from '../library/takes/harmony.ts';
import { closeIntake, createIntake } from '../library/jobs.ts';
import { makePhrases } from '../library/phrases/make-phrases.ts';
import { keepMade } from '../library/phrases/made.ts';
import { getPhrase, savePhrase, type PhraseDetail } from '../library/phrases/phrases.ts';
import { keepFeel, keepPreset } from '../library/presets.ts';
import { createProject, type Project } from '../library/projects.ts';
import { createRecipient } from '../library/handoff/recipients.ts';
import { moveOnTake } from '../library/takes/take-moves.ts';
import { changeTakes, takeIn } from '../library/takes/takes.ts';
import { CAME_BACK, seedCameBack } from './came-back.ts';
import { seedCompAndSweep } from './comp-and-sweep.ts';
import { seedWeaves } from './weaves.ts';
import {
  BAND,
  BASKETS,
  KEPT_CHANGES,
  KEPT_FEEL,
  NIGHT_PRESET,
  LOOSENESS,
  NO_MUSIC,
  PASSES,
  PLAYED_TUNE,
  PROJECTS,
  RECIPIENTS,
  RECORDINGS,
  STAND_IN_FILES,
  TAKES,
  USUAL,
  type DemoRecording,
  type DemoStandIn,
  type DemoTake,
} from './scenario.ts';

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
  await seedCompAndSweep(library);
  const byName = new Map<string, string>();
  for (const [seed, take] of TAKES.entries()) {
    const cut = await seedTake(library, take, seed + 1, made[take.project]!);
    for (const [name, id] of cut) byName.set(name, id);
  }
  for (const file of STAND_IN_FILES) await seedFile(library, file);
  for (const recording of RECORDINGS) await seedRecording(library, recording);
  await seedPasses(library);
  await seedChanges(library);
  await seedChildren(library, made, byName);
  await seedBaskets(library, made, byName);
  await seedWeaves(library, made, byName);
  await seedUsual(library);
  await seedNormalizing(library, byName);
}

function performanceOf({ standIn, settings, mishaps }: DemoStandIn): Performance {
  const { defaults, play } = standInById(standIn);
  return play({ ...defaults, ...settings }, mishaps);
}

async function seedFile(library: Library, file: DemoStandIn): Promise<void> {
  await takeIn(library, {
    bytes: writeMidiFile(performanceFile(performanceOf(file))),
    fileName: file.file,
    source: standInById(file.standIn).title,
    contributor: file.contributor,
    rights: 'own work',
    asked: file.asked,
  });
}

async function seedChanges({ db }: Library): Promise<void> {
  for (const { take, ...bars } of KEPT_CHANGES) {
    const [row] = await db.select({ id: takes.id }).from(takes).where(eq(takes.name, take));
    await keepChanges(db, { takeId: row!.id, ...bars });
  }
}

/** The same put right on two takes of a source. */
async function seedUsual({ db }: Library): Promise<void> {
  for (const take of USUAL.takes) {
    const [row] = await db.select({ id: takes.id }).from(takes).where(eq(takes.name, take));
    const [part] = await db.select().from(parts).where(eq(parts.takeId, row!.id));
    const { key, channel } = part!;
    await moveOnTake(db, row!.id, { move: 'rename', part: key, name: USUAL.name });
    await moveOnTake(db, row!.id, { move: 'sound', part: key, channel, program: USUAL.program });
  }
}

/** A preset and a feel that were kept, and a batch that was looked at. */
async function seedNormalizing(library: Library, byName: Map<string, string>): Promise<void> {
  const { db } = library;
  const { name, tag, recipe } = NIGHT_PRESET;
  await keepPreset(db, { name, role: null, recipe });
  const phraseIds = await catalogOf(library).ids({ facets: { tags: [tag] } });
  const { id } = await createBatch(db, {
    title: `"${name}" for ${phraseIds.length} phrases`,
    recipe,
    phraseIds,
  });
  await workOn(library, BATCHES, id);
  const { clip } = await getPhrase(db, byName.get(KEPT_FEEL.phrase)!);
  await keepFeel(db, { name: KEPT_FEEL.name, feel: takeFeel(clip, '1/16') });
}

/** An intake of several files at once, as a page sends them: passes of one performance, one twice, and no music. */
async function seedPasses(library: Library): Promise<void> {
  const { id } = await createIntake(library.db, 'page', { source: BAND, contributor: PASSES.contributor });
  const passes = passFiles({ ...performanceOf(PASSES), title: PASSES.file }).map(({ name, midi }) => ({
    file: `${PASSES.file}/${name}.mid`,
    bytes: writeMidiFile(midi),
  }));
  const again = { ...passes[0]!, file: `${PASSES.file}/copy of ${passes[0]!.file.split('/')[1]}` };
  const noMusic = { file: NO_MUSIC.file, bytes: new TextEncoder().encode(NO_MUSIC.text) };
  await addUploads(library, id, [...passes, again, noMusic], 'demo');
  await closeIntake(library.db, id);
  await workOn(library, INTAKES, id);
}

/** Bar one of the demo's recordings, in ms of a page's clock. */
const BAR_ONE = 5000;

async function seedRecording(library: Library, recording: DemoRecording): Promise<void> {
  const performance = performanceOf(recording);
  const { bpm, meter, bars } = performance;
  const msPerTick = msPerQuarter(bpm) / PPQ;
  const inBar = barMs(bpm, meter);
  const log = createLog();
  const lastMs = performanceTicks(performance) * msPerTick;
  // Slower in even steps: what lasts so long at the tempo of the beginning.
  const at = (ms: number) => ms * (1 + ((recording.slowing ?? 0) * ms) / (2 * lastMs));
  const put = (messages: ReturnType<typeof performanceMessages>, stream: 0 | 1) => {
    for (const { ms, bytes } of messages) appendMessage(log, { ms: at(ms) + BAR_ONE, bytes }, 0, stream);
  };
  put(performanceMessages(performance), STREAM.played);
  if (performance.input) put(performanceMessages(performance, [performance.input]), STREAM.input);
  for (const bar of recording.marks ?? [])
    appendMessage(log, { ms: BAR_ONE + bar * inBar, bytes: [0] }, 0, STREAM.mark);
  const chart = recording.settings.chart;
  const { id } = await beginCapture(library.db, {
    name: recording.file,
    recordedAt: recording.recordedAt,
    clock: recording.clock,
    bpm,
    meter,
    startMs: BAR_ONE,
    countInBars: recording.clock === 'click' ? 1 : 0,
    bars: recording.clock === 'click' ? bars : null,
    sources: [{ name: standInById(recording.standIn).title, kind: 'stand-in' }],
    markBars: 4,
    ...(typeof chart === 'string' ? { chart } : {}),
    parts: performance.parts.length,
  });
  await keepPiece(library.db, id, 0, encodeLog(log));
  const endMs = BAR_ONE + at(lastMs);
  const { takeId } = await finishCapture(library, id, { endMs });
  const { contributor } = recording;
  if (takeId) await changeTakes(library.db, [takeId], { contributor, rights: 'own work' });
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
      const { role, takeKey, recipe, fitting, partName } = await getPhrase(db, id);
      const name = phraseIds.length > 1 ? `${cut.name}, ${partName.toLowerCase()}` : cut.name;
      const state = cut.draft ? 'draft' : 'kept';
      await savePhrase(db, id, {
        name,
        role,
        takeKey,
        recipe,
        fitting,
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

/**
 * What was made of phrases that are there: a verse through another show's chords, a groove calm enough to speak over, chords and
 * a bass for a tune.
 */
async function seedChildren(library: Library, made: Project[], byName: Map<string, string>): Promise<void> {
  const { db } = library;
  const [ferry, market, goose] = made as [Project, Project, Project];
  const key = keyLabel({ tonic: market.keyTonic!, mode: market.keyMode! });
  const children = await Promise.all(
    ['bass', 'keys'].map(async (part) => {
      const phrase = await getPhrase(db, byName.get(`Crossing verse, ${part}`)!);
      const known = writtenChanges(phrase.changes, phrase.meterNumerator);
      const from = inKeptKey(known, phrase.takeKey, phrase.clip);
      const step = { step: 'through' as const, from, to: market.chords, key, loop: true };
      const recipe = childRecipe(phrase.recipe, [step]);
      return { parentId: phrase.id, recipe, name: `At the market, ${part}` };
    }),
  );
  await makeChildren(db, {
    children,
    done: `through ${market.chords}`,
    sheafName: 'Crossing verse, at the market',
    tags: ['reused'],
    projectId: market.id,
  });
  const groove = await getPhrase(db, byName.get('Oars on the beat')!);
  const calmer = childRecipe(groove.recipe, [{ step: 'density', level: -2, seed: 1 }]);
  await makeChildren(db, {
    children: [{ parentId: groove.id, recipe: calmer, name: 'Monologue groove' }],
    done: 'calmer by two',
    tags: ['reused'],
    projectId: ferry.id,
  });
  await seedTuneChords(library, await getPhrase(db, await seedTune(library, goose)), goose);
}

/** The tune that was played in, kept as a phrase. Answers its id. */
async function seedTune(library: Library, project: Project): Promise<string> {
  const { name, file, contributor, tags, notes } = PLAYED_TUNE;
  const meter = { numerator: project.meterNumerator, denominator: project.meterDenominator };
  const placed = notes.map(([pitch, beats], k) => {
    const before = notes.slice(0, k).reduce((sum, [, earlier]) => sum + earlier, 0);
    return {
      tick: before * PPQ,
      duration: Math.round(beats * PPQ * 0.92),
      pitch,
      velocity: 84 + (before % 3 === 0 ? 12 : 0),
      release: 64,
    };
  });
  const beats = notes.reduce((sum, [, long]) => sum + long, 0);
  const midi = tracksToMidi(
    {
      timeline: steadyTimeline(PPQ, project.bpm, meter.numerator, meter.denominator),
      keys: [],
      name,
      length: beats * PPQ,
    },
    [{ name: 'Tune', channel: 0, program: FLUTE, notes: placed, controls: [] }],
  );
  const taken = { bytes: writeMidiFile(midi), fileName: file, name, contributor, rights: 'own work' };
  const takeId = (await takeIn(library, taken)).takeIds[0]!;
  const rows = await library.db.select().from(parts).where(eq(parts.takeId, takeId));
  const { phraseIds } = await makePhrases(library.db, {
    ...{ takeId, parts: rows.map(({ key }) => key), startBar: 1, bars: beats / meter.numerator },
    ...{ projectId: project.id, tags, keep: true },
  });
  const { recipe, fitting, role, takeKey } = await getPhrase(library.db, phraseIds[0]!);
  await savePhrase(library.db, phraseIds[0]!, {
    ...{
      name,
      role,
      takeKey,
      recipe,
      fitting,
      tags,
      projectId: project.id,
      rights: 'own work',
      state: 'kept',
    },
  });
  return phraseIds[0]!;
}

/** General MIDI 74. */
const FLUTE = 73;

async function seedTuneChords(library: Library, phrase: PhraseDetail, project: Project): Promise<void> {
  const tune = asCaptured(phrase.clip, phrase.takeKey);
  const key = tune.key!;
  const chart = chartOf(changesForTune(tune, key).sets.plain);
  const meter = { numerator: phrase.meterNumerator, denominator: phrase.meterDenominator };
  const changes = readChanges(chart, meter.numerator);
  const setting = { key, bpm: phrase.bpm, meter };
  const made = madeParts([
    { name: 'Keys', role: 'keys', clip: chordsClip(changes, setting) },
    { name: 'Bass', role: 'bass', clip: bassClip(changes, { ...setting, way: 'roots' }) },
  ])!;
  await keepMade(library, {
    name: `Chords for ${phrase.name}`,
    ...made,
    key,
    parentIds: [phrase.id],
    done: `chords for it: ${chart}`,
    tags: ['reused'],
    projectId: project.id,
  });
}

/** The people who get the music, by name. */
async function seedRecipients({ db }: Library): Promise<Map<string, string>> {
  const ids = new Map<string, string>();
  for (const { name, card } of RECIPIENTS) {
    const { id } = await createRecipient(db, name, { ...BLANK_CARD, ...card });
    ids.set(name, id);
  }
  return ids;
}

async function seedBaskets(library: Library, made: Project[], byName: Map<string, string>): Promise<void> {
  const { db } = library;
  const recipients = await seedRecipients(library);
  for (const { name, project, recipient, pattern, phrases } of BASKETS) {
    const forWhom = recipient ? recipients.get(recipient)! : null;
    const { id } = await createBasket(db, name, made[project]!.id, forWhom);
    await updateBasket(db, id, { pattern });
    const rows = phrases.map((row): BasketRow => {
      if (typeof row === 'string') return { id: byName.get(row)! };
      return 'heading' in row
        ? { id: randomUUID(), heading: row.heading }
        : { id: byName.get(row.phrase)!, own: row.own };
    });
    await setBasketRows(db, id, rows);
    if (name === CAME_BACK) await seedCameBack(library, id);
  }
}
