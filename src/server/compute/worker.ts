import { RecipeError } from '../../core/normalize/recipe.ts';
import { MoveError } from '../../core/split/moves.ts';
import { LibraryError } from '../library/errors.ts';
import { TASKS, type Tasks } from './tasks.ts';

/** What a task came to: an error that a person can put right travels as data, since its kind would be lost on the way. */
export type Outcome =
  | { answer: unknown }
  | { problem: { kind: 'library' | 'recipe'; status: LibraryError['status']; message: string } };

/** Works out one task in a thread of its own. */
export default async function work<Name extends keyof Tasks>({
  task,
  args,
}: {
  task: Name;
  args: Parameters<Tasks[Name]>;
}): Promise<Outcome> {
  try {
    const run = TASKS[task] as (...args: unknown[]) => unknown;
    return { answer: await run(...args) };
  } catch (error) {
    if (error instanceof LibraryError)
      return { problem: { kind: 'library', status: error.status, message: error.message } };
    if (error instanceof MoveError)
      return { problem: { kind: 'library', status: 422, message: error.message } };
    if (error instanceof RecipeError)
      return { problem: { kind: 'recipe', status: 422, message: error.message } };
    throw error;
  }
}
