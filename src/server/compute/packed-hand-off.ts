import { zipSync } from 'fflate';
import { packHandOff, type HandOff } from '../../core/exchange/handoff.ts';

/** A hand-off as one ZIP; the same hand-off gives the same bytes. */
export function packedHandOff(handOff: HandOff): Uint8Array {
  const entries = packHandOff(handOff).map(({ name, bytes }) => [name, bytes] as const);
  return zipSync(Object.fromEntries(entries), { mtime: new Date(handOff.madeAt) });
}
