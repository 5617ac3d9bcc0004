// Lets a worker thread run TypeScript where there is no build: registers tsx, then loads the real worker.
import { workerData } from 'node:worker_threads';
import { register } from 'tsx/esm/api';

register();
await import(workerData.entry);
