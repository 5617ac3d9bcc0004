import { tonicName } from '../music/key.ts';
import type { Clip } from '../phrase/clip.ts';
import { isAboutNotes } from './apply-preset.ts';
import type { AddedNote, NoteEdit } from './edit.ts';
import { isReuse, type Recipe, type RecipeStep } from './recipe.ts';

/** What is done to a note of a recipe's result: in its ticks, over what the recipe left. */
export type HandEdit =
  | { note: number; tick?: number; duration?: number; semitones?: number; velocity?: number }
  | { note: number; remove: true }
  | { add: { tick: number; duration: number; pitch: number; velocity: number } };

type EditStep = Extract<RecipeStep, { step: 'edit' }>;

/**
 * The recipe with more done by hand, in one step after all that does something to notes. What was done by hand before the phrase was
 * made another one of stays where it is.
 */
export function withHandEdits(recipe: Recipe, result: Clip, edits: readonly HandEdit[]): Recipe {
  const isLast = ({ step, off }: RecipeStep, at: number) =>
    step === 'edit' && !off && !recipe.steps.slice(at).some((other) => isReuse(other.step) && !other.off);
  const at = recipe.steps.findIndex(isLast);
  const old = recipe.steps[at] as EditStep | undefined;
  const before = recipe.steps
    .slice(0, at < 0 ? undefined : at)
    .reduce((sum, step) => sum + (step.step === 'edit' && !step.off ? (step.add?.length ?? 0) : 0), 0);
  const step = edits.reduce<EditStep>(
    (now, edit) => edited(now, edit, result, before),
    old ?? { step: 'edit', ...(result.key ? { in: tonicName(result.key) } : {}) },
  );
  if (old) return { ...recipe, steps: recipe.steps.map((one) => (one === old ? step : one)) };
  const end = recipe.steps.findLastIndex(({ step: name }) => isAboutNotes(name)) + 1;
  return { ...recipe, steps: recipe.steps.toSpliced(end, 0, step) };
}

/** `earlier` is how many notes steps before it have added by hand. */
function edited(step: EditStep, edit: HandEdit, clip: Clip, earlier: number): EditStep {
  const beat = (tick: number) => rounded((tick - clip.pickup) / clip.timeline.ppq);
  const quarters = (ticks: number) => rounded(Math.max(1, ticks) / clip.timeline.ppq);
  if ('add' in edit) {
    const { tick, duration, pitch, velocity } = edit.add;
    const added: AddedNote = { beat: beat(tick), length: quarters(duration), pitch, velocity };
    return { ...step, add: [...(step.add ?? []), added] };
  }
  const { note } = edit;
  // What was added by hand is changed where it stands.
  const added = -1 - note - earlier;
  if (added >= 0 && added < (step.add?.length ?? 0))
    return { ...step, add: addedAfter(step.add ?? [], added, edit, beat, quarters) };
  const others = (step.change ?? []).filter((change) => change.note !== note);
  if ('remove' in edit) return { ...step, change: [...others, { note, remove: true }] };
  const before = step.change?.find((change) => change.note === note);
  const change: NoteEdit = {
    ...before,
    note,
    ...(edit.tick === undefined ? {} : { beat: beat(edit.tick) }),
    ...(edit.duration === undefined ? {} : { length: quarters(edit.duration) }),
    ...(edit.semitones === undefined ? {} : { semitones: (before?.semitones ?? 0) + edit.semitones }),
    ...(edit.velocity === undefined ? {} : { velocity: edit.velocity }),
  };
  return { ...step, change: [...others, change] };
}

function addedAfter(
  added: readonly AddedNote[],
  at: number,
  edit: Exclude<HandEdit, { add: unknown }>,
  beat: (tick: number) => number,
  quarters: (ticks: number) => number,
): AddedNote[] {
  if ('remove' in edit) return added.filter((_, i) => i !== at);
  return added.map((note, i) =>
    i !== at
      ? note
      : {
          beat: edit.tick === undefined ? note.beat : beat(edit.tick),
          length: edit.duration === undefined ? note.length : quarters(edit.duration),
          pitch: Math.min(127, Math.max(0, note.pitch + (edit.semitones ?? 0))),
          velocity: edit.velocity ?? note.velocity,
        },
  );
}

/** A few digits more than any resolution needs. */
function rounded(quarters: number): number {
  return Math.round(quarters * 1e6) / 1e6;
}
