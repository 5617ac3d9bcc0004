import { inBase64, packSwatch } from '../../core/phrase/swatch.ts';
import type { Role } from '../../core/split/roles.ts';

/** Steps of a bar in sixteenths, where nothing lies further back: four quarters, or six eighths. */
const STEPS = [12, 16];

/** The notes of a run (steps times 128 and pitches, by bar) as a swatch, in base64; empty where there are none. */
export function packedRun(bars: readonly (readonly number[])[], role: Role): string {
  const last = bars.flat().reduce((most, note) => Math.max(most, note >> 7), 0);
  const steps = STEPS.find((count) => last < count) ?? last + 1;
  const notes = bars.flatMap((own, bar) =>
    own.map((note) => ({
      ...{ tick: bar * steps + (note >> 7), duration: 1, pitch: note & 127 },
      ...{ velocity: 1, release: 64, origin: 0 },
    })),
  );
  return inBase64(packSwatch({ notes, length: bars.length * steps, role }));
}
