// The demo: installs, builds, loads the demo library once, serves, and says where.
import { installModules } from './setup.mjs';

installModules();
const { build } = await import('./build.mjs');
await build();
const { startServer, stopServer } = await import('./serve.mjs');

try {
  const { server, address } = await startServer({ PORT: process.env.PORT ?? '4321', DEMO: '1' });
  console.log(`Hollow Basket is open at ${address} (Ctrl C ends it)`);
  for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, () => void stopServer(server));
  server.once('exit', (code) => process.exit(code ?? 0));
} catch (error) {
  console.error(error.message);
  process.exit(1);
}
