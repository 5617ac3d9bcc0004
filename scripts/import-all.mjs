// Runs test files in one process: they are imported one after the other, and Node's runner has their tests.
import { resolve } from 'node:path';
import { pathToFileURL } from 'node:url';

for (const file of process.argv.slice(2)) await import(pathToFileURL(resolve(file)).href);
