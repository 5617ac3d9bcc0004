import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { Piscina } from 'piscina';
import { RecipeError } from '../../core/normalize/recipe.ts';
import { LibraryError } from '../library/errors.ts';
import { appRoot, isBuilt } from '../paths.ts';
import type { Tasks } from './tasks.ts';
import type { Outcome } from './worker.ts';

/** Kept over reloads of the code while developing. */
const holder = globalThis as { hollowBasketThreads?: Piscina };

/** Two at least: who asks for something small does not wait for somebody's largest file. */
const THREADS = Math.max(2, availableParallelism() - 1);

function threads(): Piscina {
  holder.hollowBasketThreads ??= new Piscina({
    filename: isBuilt
      ? join(appRoot, 'dist/worker/worker.mjs')
      : join(appRoot, 'src/server/compute/boot.mjs'),
    minThreads: 1,
    maxThreads: THREADS,
    // What a thread has at hand makes the next move of a take cheap.
    idleTimeout: 60_000,
    execArgv: [],
  });
  return holder.hollowBasketThreads;
}

/** Lets a thread begin before somebody waits for it. */
export function warmThreads(): void {
  threads();
}

/**
 * Works something out in a thread. @throws LibraryError, RecipeError what a person can put right
 */
export async function compute<Name extends keyof Tasks>(
  task: Name,
  ...args: Parameters<Tasks[Name]>
): Promise<Awaited<ReturnType<Tasks[Name]>>> {
  const outcome = (await threads().run({ task, args })) as Outcome;
  if ('problem' in outcome) {
    const { kind, status, message } = outcome.problem;
    throw kind === 'recipe' ? new RecipeError(message) : new LibraryError(status, message);
  }
  return outcome.answer as Awaited<ReturnType<Tasks[Name]>>;
}

/** Ends the threads: a command line would otherwise wait for them. */
export async function endThreads(): Promise<void> {
  await holder.hollowBasketThreads?.destroy();
  delete holder.hollowBasketThreads;
}
