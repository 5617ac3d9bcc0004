/** The command line as a program: what `bin/hollow-basket.mjs` runs, from the build or from the sources. */
import { endThreads } from '../server/compute/pool.ts';
import { run } from './main.ts';

process.exitCode = await run(process.argv.slice(2));
await endThreads();
