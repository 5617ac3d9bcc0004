/** The command line as a program: what `bin/hollow-basket.mjs` runs, from the build or from the sources. */
import { endCatalog } from '../server/catalog/catalog.ts';
import { endThreads } from '../server/compute/pool.ts';
import { endReaders } from '../server/jobs/intake.ts';
import { run } from './main.ts';

process.exitCode = await run(process.argv.slice(2));
// Whatever was begun for it must not keep the process.
await endReaders();
await endThreads();
await endCatalog();
