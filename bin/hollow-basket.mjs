#!/usr/bin/env node
// The command line's entry: runs the TypeScript sources through tsx, from wherever it is called.
import { register } from 'tsx/esm/api';

register();
const { run } = await import('../src/cli/main.ts');
const { endThreads } = await import('../src/server/compute/pool.ts');
process.exitCode = await run(process.argv.slice(2));
await endThreads();
