import { array, boolean, mixed, number, object, string, type InferType } from 'yup';
import { PURPOSES } from '../core/music/form.ts';
import { parseRecipe } from '../core/normalize/parse.ts';
import { ROLES } from '../core/split/roles.ts';
import { bpm } from './fields.ts';
import { WEAVE_ENDINGS, type Weave } from '../core/weave/weave.ts';

/** A weave has at most so many sections, parts and cells. */
const MOST = { sections: 200, parts: 64, cells: 8000, refused: 2000 };

const key = () => string().max(80).required();
const meter = () =>
  object({
    numerator: number().integer().min(1).max(64).required(),
    denominator: number().oneOf([1, 2, 4, 8, 16, 32]).required(),
  });

const weaveSchema = object({
  title: string().max(200).matches(/\S/, 'A weave has a title').required('A weave has a title'),
  bpm: bpm().required(),
  meter: meter().required(),
  key: string().max(40).defined(),
  sections: array(
    object({
      id: key(),
      name: string().max(80).required('A section has a name'),
      purpose: string().oneOf(PURPOSES).nullable().defined(),
      bars: number().integer().required(),
      times: number().integer().required(),
      changes: string().max(8000).defined(),
      bpm: bpm().nullable().defined(),
      key: string().max(40).defined(),
      meter: meter().nullable().default(null).defined(),
      energy: number().integer().min(1).max(5).required(),
    }),
  )
    .max(MOST.sections, 'A weave has at most ${max} sections')
    .required(),
  parts: array(
    object({
      id: key(),
      name: string().max(80).required('A part has a name'),
      role: string().oneOf(ROLES).required(),
      program: number().integer().min(0).max(127).nullable().defined(),
      level: number().min(0).max(4).required(),
      pan: number().integer().min(0).max(127).nullable().defined(),
    }),
  )
    .max(MOST.parts, 'A weave has at most ${max} parts')
    .required(),
  cells: array(
    object({
      section: key(),
      part: key(),
      phrase: string().uuid().required(),
      offset: number().integer().min(0).max(512).required(),
      rounds: number().integer().min(1).max(512).nullable().defined(),
      steps: mixed<object[]>().required(),
      plain: boolean().required(),
      muted: boolean().required(),
      fill: string().uuid().nullable().defined(),
      crash: boolean().required(),
    }),
  )
    .max(MOST.cells)
    .required(),
  ending: string().oneOf(WEAVE_ENDINGS).required(),
  endingBars: number().integer().min(1).max(8).required(),
  refused: array(string().max(300).required()).max(MOST.refused).required(),
});

export const newWeaveSchema = object({
  weave: weaveSchema.required(),
  projectId: string().uuid().nullable().defined(),
});

export const weaveChangeSchema = object({ base: weaveSchema.required(), weave: weaveSchema.required() });

export const weaveOfTakeSchema = object({
  withParts: boolean().required(),
  projectId: string().uuid().nullable().defined(),
});

/** A weave whose cells have steps that can be applied. @throws RecipeError */
export function checkedWeave(given: InferType<typeof weaveSchema>): Weave {
  return {
    ...given,
    cells: given.cells.map((cell) => ({
      ...cell,
      steps: parseRecipe({ version: 1, steps: cell.steps }).steps,
    })),
  } as Weave;
}
