import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';

/** Real multi-part MIDI files: Debian's package openttd-openmsx (GPL-2), installed by scripts/setup.mjs. */
const FOLDER = '/usr/share/games/openttd/baseset/openmsx';

export const openmsxFiles: readonly string[] = existsSync(FOLDER)
  ? readdirSync(FOLDER)
      .filter((name) => name.endsWith('.mid'))
      .sort()
      .map((name) => join(FOLDER, name))
  : [];

/** Why tests on real files are skipped, or false when they run. On CI they always run, and fail without them. */
export const withoutOpenmsx: string | false =
  openmsxFiles.length > 0 || process.env.CI
    ? false
    : 'needs the Debian package openttd-openmsx, which could not be installed';
