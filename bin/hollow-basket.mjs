#!/usr/bin/env node
// The command line's entry, from wherever it is called: what is built where that is made of today's sources, and it
// starts in a third of the time; else the TypeScript sources through tsx.
import { isBuilt } from '../scripts/build.mjs';

if (isBuilt()) {
  await import('../dist/worker/command-line.mjs');
} else {
  const { register } = await import('tsx/esm/api');
  register();
  await import('../src/cli/command-line.ts');
}
