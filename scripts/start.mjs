// The user's own library: installs, builds, opens it where the platform keeps its data, serves, and says where.
import { serveLibrary } from './serve.mjs';

await serveLibrary({ DEMO: '0' }, (address, folder) => [
  `Hollow Basket is open at ${address} (Ctrl C ends it)`,
  `The library lies in ${folder}`,
]);
