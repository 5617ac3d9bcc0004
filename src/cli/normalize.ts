import { readFileSync, writeFileSync } from 'node:fs';
import { harmonyOf } from '../core/analyze/analysis.ts';
import { clipToMidi } from '../core/exchange/midi-out.ts';
import { writeMidiFile } from '../core/midi/write.ts';
import { barsUntil, positionAt } from '../core/music/timeline.ts';
import { HOUSE, houseRecipe, type House } from '../core/normalize/house.ts';
import { parseRecipe } from '../core/normalize/parse.ts';
import { applyRecipe, onBars, RecipeError, type Recipe, type StepReport } from '../core/normalize/recipe.ts';
import { clipFromPart, type Clip } from '../core/phrase/clip.ts';
import { ROLES } from '../core/split/roles.ts';
import { splitTake } from '../core/split/split.ts';
import { outsideInWords } from '../core/through/words.ts';
import { getHouse } from '../server/library/house.ts';
import { listPresets } from '../server/library/presets.ts';
import { choosePart } from './choose-part.ts';
import { takeOfFile } from './files.ts';
import { withLibrary } from './library.ts';
import { Refusal, table, type Output } from './output.ts';

export interface NormalizeOptions {
  recipe: string;
  /** The library whose house standard and presets are meant. */
  data?: string;
  part?: string;
  bars?: string;
  out: string;
}

/** What a library keeps for recipes. */
interface Kept {
  house: House;
  presets: readonly { name: string; recipe: Recipe }[];
}

/** `normalize FILE --recipe RECIPE.json|PRESET [--part NAME] [--bars 3-6] --out FILE.mid`. Returns the exit code. */
export async function normalizeCommand(
  file: string,
  options: NormalizeOptions,
  out: Output,
): Promise<number> {
  const kept = await keptFor(options);
  const take = takeOfFile(file, (text) => out.problem(text));
  const split = splitTake(take);
  const index = choosePart(file, split, options.part, (text) => out.problem(text));
  const clip = clipFromPart(take, split, index, harmonyOf(take, split).keys[0] ?? null);
  const recipe = withBars(loadRecipe(options.recipe, clip, kept), options.bars);
  const result = applyRecipe(clip, recipe);
  writeFileSync(options.out, writeMidiFile(clipToMidi(result.clip, split.parts[index]!.name)));

  const reasons = result.setAside.map(({ reason, origins }) => ({ reason, notes: origins.length }));
  const answer = {
    file,
    out: options.out,
    part: split.parts[index]!.name,
    notesIn: clip.notes.length,
    notesOut: result.clip.notes.length,
    setAside: reasons.reduce((sum, { notes }) => sum + notes, 0),
    setAsideReasons: reasons,
    steps: result.reports.map((report) => stepAnswer(report, result.clip)),
  };
  if (out.json) out.answer(JSON.stringify(answer));
  else {
    out.answer(
      [
        table([
          ['step', 'changed', 'what it did'],
          ...answer.steps.map((s) => [s.step, s.changed, s.summary]),
        ]),
        `${answer.notesIn} notes in, ${answer.notesOut} out, ${answer.setAside} set aside. Written: ${options.out}`,
      ].join('\n'),
    );
  }
  return 0;
}

/** What a step did; of one through other chords also what fell outside, in the ticks of the result. */
function stepAnswer({ step, changed, summary, off, outside, unheard, ppq }: StepReport, clip: Clip) {
  const scale = clip.timeline.ppq / ppq;
  const place = (tick: number) => {
    const { bar, beat } = positionAt(clip.timeline, Math.round(tick * scale));
    return { bar: bar - (clip.pickup > 0 ? 1 : 0), beat };
  };
  return {
    step,
    changed,
    summary,
    ...(off ? { off } : {}),
    ...(outside && {
      outside: outside.map((one) => ({
        tick: Math.round(one.tick * scale),
        pitch: one.pitch,
        why: outsideInWords(one),
      })),
    }),
    ...(unheard && { unheard: unheard.map(({ tick, symbol }) => ({ ...place(tick), symbol })) }),
  };
}

/** The house standard and presets of the library that is named; the house's own where none is. */
async function keptFor({ data }: NormalizeOptions): Promise<Kept> {
  if (data === undefined) return { house: HOUSE, presets: [] };
  return withLibrary({ data }, true, async ({ db }) => ({
    house: await getHouse(db),
    presets: await listPresets(db),
  }));
}

/** `house` is the standard of the part's role, `house:bass` that of another; then a preset that was kept, then a file. */
function loadRecipe(source: string, clip: Clip, { house, presets }: Kept): Recipe {
  const [word, named] = source.split(':');
  if (word === 'house') {
    const role = ROLES.find((one) => one === (named ?? clip.role));
    if (!role) throw new Refusal(`${source}: there is no role "${named}". There are ${ROLES.join(', ')}.`);
    const bars = Math.max(1, barsUntil(clip.timeline, clip.length));
    return houseRecipe(role, { start: 1, count: bars }, clip.key?.mode ?? null, house);
  }
  const preset = presets.find(({ name }) => name === source);
  if (preset) return preset.recipe;
  let text: string;
  try {
    text = readFileSync(source, 'utf8');
  } catch {
    throw new Refusal(
      `${source}: there is no such recipe file, and no preset of that name. There are ${['house', ...presets.map(({ name }) => `"${name}"`)].join(', ')}.`,
    );
  }
  try {
    return parseRecipe(JSON.parse(text));
  } catch (error) {
    if (error instanceof SyntaxError) throw new Refusal(`${source}: this is not JSON (${error.message}).`);
    if (error instanceof RecipeError) throw new Refusal(`${source}: ${error.message}`);
    throw error;
  }
}

/** Bars given on the command line take the place of the recipe's own. */
function withBars(recipe: Recipe, bars: string | undefined): Recipe {
  if (bars === undefined) return recipe;
  const match = /^(\d+)(?:-(\d+))?$/.exec(bars);
  const start = Number(match?.[1] ?? 0);
  const end = Number(match?.[2] ?? start);
  if (!match || start < 1 || end < start) {
    throw new Refusal(`--bars ${bars}: bars are given as "3-6" or "3", counted from 1.`);
  }
  return onBars(recipe, { start, count: end - start + 1 });
}
