import { parseMeter } from '../core/music/meters.ts';
import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import { array, mixed, number, object, string, type InferType } from 'yup';
import { secondsOfWeave, weaveInOneFile, weavePartFiles } from '../core/exchange/weave-files.ts';
import { writeMidiFile } from '../core/midi/write.ts';
import { keyName, parseKey } from '../core/music/key.ts';
import { parseRecipe } from '../core/normalize/parse.ts';
import type { RecipeStep } from '../core/normalize/recipe.ts';
import { safeFileName } from '../core/phrase/naming.ts';
import { tonicChord, writtenChanges } from '../core/reuse/child.ts';
import { ROLES } from '../core/split/roles.ts';
import { readOrWhy } from '../core/through/sounding.ts';
import type { WovenPhrase } from '../core/weave/cell.ts';
import { layWeave } from '../core/weave/lay.ts';
import { ENDING_BARS, nameIn, newCell, newSection, WEAVE_ENDINGS, type Weave } from '../core/weave/weave.ts';
import { readJson } from './json-file.ts';
import { Refusal, type Output } from './output.ts';
import { phraseOfFile } from './phrase-of-file.ts';

const planSchema = object({
  title: string().trim().max(200).default('Weave'),
  bpm: number().min(20).max(400).required('"bpm" is missing'),
  meter: string()
    .matches(/^\d{1,2}\/(1|2|4|8|16|32)$/, '"meter" is such as "4/4"')
    .default('4/4'),
  key: string().default(''),
  sections: array(
    object({
      name: string().trim().required('A section has no name'),
      bars: number().integer().required('A section has no bars'),
      times: number().integer().default(1),
      changes: string().default(''),
      bpm: number().min(20).max(400).nullable().default(null),
      key: string().default(''),
      meter: string().nullable().default(null),
    }),
  ).required('"sections" are missing'),
  parts: array(
    object({
      name: string().trim().required('A part has no name'),
      role: string()
        .oneOf(ROLES, `A part's role is one of ${ROLES.join(', ')}`)
        .required(),
    }),
  ).required('"parts" are missing'),
  cells: array(
    object({
      section: string().required('A cell has no section'),
      part: string().required('A cell has no part'),
      file: string().required('A cell has no file'),
      steps: mixed<RecipeStep[]>().default([]),
    }),
  ).required('"cells" are missing'),
  ending: string().oneOf(WEAVE_ENDINGS).default('none'),
  endingBars: number().integer().min(1).max(8).default(ENDING_BARS),
});

export interface WeaveOptions {
  out: string;
}

/** `weave PLAN.json --out DIR`: a plan's files laid over its sections; a file a part and one of all. */
export function weaveCommand(planFile: string, { out: folder }: WeaveOptions, out: Output): number {
  const plan = readJson(planFile, planSchema);
  const read = new Map<string, WovenPhrase>();
  const from = dirname(resolve(planFile));
  for (const { file } of plan.cells)
    if (!read.has(file)) read.set(file, wovenFile(resolve(from, file), out.problem));
  const weave = weaveOfPlan(plan);
  const laid = laidOrRefused(weave, read);
  for (const { text, section, part } of laid.remarks) {
    const where = `${nameIn(weave.sections, section)}, ${nameIn(weave.parts, part)}`;
    out.problem(`${where}: ${text}`);
  }
  mkdirSync(folder, { recursive: true });
  const files = weavePartFiles(weave, laid);
  for (const { file, midi } of files) writeFileSync(join(folder, file), writeMidiFile(midi));
  const combined = `${safeFileName(weave.title)}, all parts.mid`;
  writeFileSync(join(folder, combined), writeMidiFile(weaveInOneFile(weave, laid)));
  const answer = {
    bars: laid.bars,
    seconds: Math.round(1000 * secondsOfWeave(laid)) / 1000,
    files: files.map(({ part, file, bars }) => ({ part, file: join(folder, file), bars })),
    combined: join(folder, combined),
  };
  out.answer(
    out.json
      ? JSON.stringify(answer)
      : `${answer.bars} bars, ${answer.seconds} s, ${files.length} parts. Written: ${folder}`,
  );
  return 0;
}

function laidOrRefused(weave: Weave, phrases: ReadonlyMap<string, WovenPhrase>) {
  try {
    return layWeave(weave, phrases);
  } catch (error) {
    if (error instanceof RangeError) throw new Refusal(error.message);
    throw error;
  }
}

type Plan = InferType<typeof planSchema>;

/** A plan as a weave. A cell is for every section of its name. */
function weaveOfPlan(plan: Plan): Weave {
  for (const key of [plan.key, ...plan.sections.map((section) => section.key)])
    if (key && !parseKey(key)) throw new Refusal(`"${key}" is not a key.`);
  const sections = plan.sections.map((section, k) => {
    if (section.changes) {
      const beats = parseMeter(section.meter ?? plan.meter).numerator;
      const problem = readOrWhy(section.changes, beats);
      if (typeof problem === 'string') throw new Refusal(`"${section.name}": ${problem}`);
    }
    return {
      ...newSection(`s${k}`, section.name, section.bars),
      ...{ times: section.times, changes: section.changes, bpm: section.bpm, key: section.key },
      meter: section.meter ? parseMeter(section.meter) : null,
    };
  });
  const parts = plan.parts.map(({ name, role }, k) => ({
    ...{ id: `p${k}`, name, role, program: null, level: 1, pan: null },
  }));
  const cells = plan.cells.flatMap(({ section, part, file, steps }) => {
    const meant = parts.find(({ name }) => name === part);
    if (!meant) throw new Refusal(`A cell is for "${part}", and there is no such part.`);
    const places = sections.filter(({ name }) => name === section);
    if (places.length === 0) throw new Refusal(`A cell is for "${section}", and there is no such section.`);
    const read = parseRecipe({ version: 1, steps }).steps;
    return places.map(({ id }) => ({ ...newCell(id, meant.id, file), steps: read }));
  });
  const { title, bpm, key, ending, endingBars } = plan;
  return {
    ...{ title, bpm, sections, parts, cells, ending, endingBars },
    key: key ? keyName(parseKey(key)!) : '',
    meter: parseMeter(plan.meter),
    refused: [],
  };
}

/** A file as a phrase, with the chords that are found in it; its tonic throughout where none are. */
function wovenFile(file: string, problem: (text: string) => void): WovenPhrase {
  const { clip, changes } = phraseOfFile(file, problem);
  const { numerator } = clip.timeline.meters[0]!;
  return { clip, from: writtenChanges(changes, numerator) || tonicChord(clip.key) };
}
