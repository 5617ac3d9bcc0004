import { readFileSync, writeFileSync } from 'node:fs';
import { harmonyOf } from '../core/analyze/analysis.ts';
import { clipToMidi } from '../core/exchange/midi-out.ts';
import { writeMidiFile } from '../core/midi/write.ts';
import { barsUntil } from '../core/music/timeline.ts';
import { houseRecipe } from '../core/normalize/house.ts';
import { parseRecipe } from '../core/normalize/parse.ts';
import { applyRecipe, onBars, RecipeError, type Recipe } from '../core/normalize/recipe.ts';
import { clipFromPart, type Clip } from '../core/phrase/clip.ts';
import { splitTake, type Split } from '../core/split/split.ts';
import { takeOfFile } from './files.ts';
import { Refusal, table, type Output } from './output.ts';

export interface NormalizeOptions {
  recipe: string;
  part?: string;
  bars?: string;
  out: string;
}

/** `normalize FILE --recipe RECIPE.json|house [--part NAME] [--bars 3-6] --out FILE.mid`. Returns the exit code. */
export function normalizeCommand(file: string, options: NormalizeOptions, out: Output): number {
  const take = takeOfFile(file, (text) => out.problem(text));
  const split = splitTake(take);
  const index = choosePart(file, split, options.part, (text) => out.problem(text));
  const clip = clipFromPart(take, split, index, harmonyOf(take, split).keys[0] ?? null);
  const recipe = withBars(loadRecipe(options.recipe, clip), options.bars);
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
    steps: result.reports.map(({ step, changed, summary, off }) => ({
      step,
      changed,
      summary,
      ...(off ? { off } : {}),
    })),
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

function choosePart(
  file: string,
  split: Split,
  name: string | undefined,
  problem: (text: string) => void,
): number {
  if (split.parts.length === 0) throw new Refusal(`${file}: there are no notes in it.`);
  if (name === undefined) {
    if (split.parts.length > 1) {
      problem(
        `${file}: ${split.parts.length} parts; the first, "${split.parts[0]!.name}", is used (choose with --part).`,
      );
    }
    return 0;
  }
  const wanted = name.toLowerCase();
  const index = split.parts.findIndex((part) => part.name.toLowerCase() === wanted || part.id === name);
  if (index < 0) {
    const names = split.parts.map((part) => `"${part.name}"`).join(', ');
    throw new Refusal(`${file}: there is no part "${name}". There are ${names}.`);
  }
  return index;
}

/** "house" is the role's own recipe; anything else is a file. */
function loadRecipe(source: string, clip: Clip): Recipe {
  if (source === 'house') {
    const bars = Math.max(1, barsUntil(clip.timeline, clip.length));
    return houseRecipe(clip.role, { start: 1, count: bars }, clip.key?.mode ?? null);
  }
  let text: string;
  try {
    text = readFileSync(source, 'utf8');
  } catch {
    throw new Refusal(`${source}: there is no such recipe file (the preset is called "house").`);
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
