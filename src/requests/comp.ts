import { array, mixed, object, string } from 'yup';
import { chartProblem, LONGEST_CHART } from '../core/comp/document.ts';
import { MOST_PASSES } from '../core/comp/passes.ts';
import { bpm, id, isPlain } from './fields.ts';

const title = () => string().trim().max(200).required('A comp has a title');
const chart = () => string().max(LONGEST_CHART, 'A chart has at most ${max} characters').defined();
const takes = () => array(id().required()).max(MOST_PASSES, 'A comp has at most ${max} takes').required();

/** A name, a bar, and what stands there. */
const byBar = <Value>(isValue: (value: unknown) => value is Value) =>
  mixed(
    (given): given is Record<string, Record<string, Value>> =>
    isPlain(given) && Object.values(given).every((bars) => isPlain(bars) && Object.values(bars).every(isValue)), // prettier-ignore
  ).required();

const compSchema = () =>
  object({
    title: title(),
    chart: chart(),
    bpm: bpm().nullable().defined(), // prettier-ignore
    takes: takes(),
    taken: byBar((value): value is string => typeof value === 'string' && value.length < 60),
    stars: byBar((value): value is boolean => typeof value === 'boolean'),
  }).required();

/** Title, chart and tempo of a comp whose bars have so many beats. */
export const compAboutSchema = (beats: number) =>
  object({
    title: title(),
    chart: chart().test('chart', 'This chart cannot be read', (text, context) => {
      const message = chartProblem(text, beats);
      return message === null || context.createError({ message });
    }),
    bpm: bpm().nullable().defined(),
  });

export const newCompSchema = object({ title: title(), chart: chart(), takes: takes() });
export const compChangeSchema = object({ base: compSchema(), comp: compSchema() });
