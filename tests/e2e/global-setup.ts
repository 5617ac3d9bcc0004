import { rmSync } from 'node:fs';
import { demoLibrary } from '../support/server.ts';

/** Makes the demo library once; every worker of the browser tests works on a copy of its own. */
export default async function globalSetup(): Promise<() => void> {
  const library = await demoLibrary();
  process.env.DEMO_LIBRARY = library;
  return () => rmSync(library, { recursive: true, force: true });
}
