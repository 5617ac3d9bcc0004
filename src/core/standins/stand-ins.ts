import { arpeggiator } from './arpeggiator.ts';
import { band } from './band.ts';
import { chordPlayer } from './chord-player.ts';
import { drumPlayer } from './drum-player.ts';
import type { CommonSettings, StandIn } from './stand-in.ts';
import { stepGrid } from './step-grid.ts';
import { strummer } from './strummer.ts';

/** All simulated devices that ship with the application. Each checks its own settings by its own type. */
export const STAND_INS = [
  chordPlayer,
  arpeggiator,
  band,
  drumPlayer,
  strummer,
  stepGrid,
] as unknown as readonly StandIn<CommonSettings & Record<string, unknown>>[];

export type AnySettings = CommonSettings & Record<string, unknown>;

/** @throws Error where there is no such stand-in: ids come from our own forms. */
export function standInById(id: string): StandIn<AnySettings> {
  const found = STAND_INS.find((standIn) => standIn.id === id);
  if (!found) throw new Error(`There is no stand-in "${id}".`);
  return found;
}
