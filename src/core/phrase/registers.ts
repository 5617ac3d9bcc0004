import type { Role } from '../split/roles.ts';

export interface Register {
  /** MIDI pitches. */
  low: number;
  high: number;
}

/** Between which pitches a role sounds well: registers of sampled instruments (common practice). Roles without are not in it. */
export const REGISTERS: Readonly<Partial<Record<Role, Register>>> = {
  bass: { low: 28, high: 55 },
  keys: { low: 43, high: 84 },
  guitar: { low: 40, high: 81 },
  strings: { low: 43, high: 86 },
  pad: { low: 43, high: 84 },
  brass: { low: 46, high: 82 },
  reeds: { low: 50, high: 86 },
  lead: { low: 57, high: 93 },
  arpeggio: { low: 52, high: 93 },
  voice: { low: 48, high: 84 },
};
