import type { Field } from '../../core/standins/stand-in.ts';
import type { SweepAxis, SweepValue } from '../../core/sweep/plan.ts';

/** More values of one field nobody means. */
const MOST_VALUES = 128;

/** Numbers as people list them: "1 2 3", "1, 4", "1 to 8", "1-8"; those outside the field's range are left out. */
export function numbersIn(text: string, { min, max }: { min: number; max: number }): number[] {
  const found = new Set<number>();
  const ranges = /(-?\d+(?:\.\d+)?)\s*(?:to|–|\.\.|(?<=\d)-)\s*(-?\d+(?:\.\d+)?)/g;
  const rest = text.replace(ranges, (_, from: string, to: string) => {
    const [low, high] = [Math.min(Number(from), Number(to)), Math.max(Number(from), Number(to))];
    for (let value = low; value <= high && found.size < MOST_VALUES; value++) found.add(value);
    return ' ';
  });
  for (const word of rest.split(/[\s,;]+/).filter(Boolean))
    if (Number.isFinite(Number(word)) && found.size < MOST_VALUES) found.add(Number(word));
  return [...found].filter((value) => value >= min && value <= max).sort((a, b) => a - b);
}

/** What is typed or ticked for a field, as the values it is set to in turn. */
export function valuesIn(field: Field, typed: string | readonly string[] | undefined): SweepValue[] {
  if (typed === undefined) return [];
  if (field.kind === 'switch') return (typed as readonly string[]).map((value) => value === 'on');
  if (typeof typed !== 'string') return [...typed];
  if (field.kind === 'number') return numbersIn(typed, field);
  return typed
    .split(';')
    .map((one) => one.trim())
    .filter(Boolean);
}

/** The fields that are gone through, in the order they stand in. */
export function axesOf(
  fields: readonly Field[],
  typed: Readonly<Record<string, string | readonly string[]>>,
): SweepAxis[] {
  return fields.flatMap((field) => {
    const values = valuesIn(field, typed[field.name]);
    return values.length > 0 ? [{ name: field.name, values }] : [];
  });
}
