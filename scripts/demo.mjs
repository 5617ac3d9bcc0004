// The demo: installs, builds, loads the demo library once, serves, and says where. It is a library of its own.
import { join } from 'node:path';
import { root } from './setup.mjs';
import { serveLibrary } from './serve.mjs';

await serveLibrary({ DEMO: '1', DATA_DIR: process.env.DATA_DIR ?? join(root, 'data') }, (address) => [
  `Hollow Basket is open at ${address} (Ctrl C ends it)`,
]);
