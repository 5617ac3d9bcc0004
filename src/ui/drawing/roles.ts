import type { Role } from '../../core/split/roles.ts';

export type Dye = 'indigo' | 'madder' | 'weld' | 'walnut' | 'woad' | 'lichen' | 'heather' | 'muted';

export type Weave = 'plain' | 'dots' | 'grid' | 'twill' | 'counter' | 'rib' | 'cord' | 'zigzag' | 'dash';

/** A role is told by its dye and its weave, never by color alone: no two roles share both. */
export const ROLE_LOOK: Record<Role, { dye: Dye; weave: Weave; title: string }> = {
  drums: { dye: 'madder', weave: 'dots', title: 'Drums' },
  percussion: { dye: 'madder', weave: 'grid', title: 'Percussion' },
  bass: { dye: 'indigo', weave: 'plain', title: 'Bass' },
  keys: { dye: 'walnut', weave: 'grid', title: 'Keys' },
  guitar: { dye: 'weld', weave: 'twill', title: 'Guitar' },
  strings: { dye: 'lichen', weave: 'cord', title: 'Strings' },
  pad: { dye: 'woad', weave: 'rib', title: 'Pad' },
  brass: { dye: 'weld', weave: 'plain', title: 'Brass' },
  reeds: { dye: 'lichen', weave: 'counter', title: 'Reeds' },
  lead: { dye: 'heather', weave: 'plain', title: 'Lead' },
  arpeggio: { dye: 'heather', weave: 'zigzag', title: 'Arpeggio' },
  voice: { dye: 'madder', weave: 'rib', title: 'Voice' },
  slices: { dye: 'walnut', weave: 'dash', title: 'Slices' },
  click: { dye: 'muted', weave: 'dash', title: 'Click' },
  other: { dye: 'muted', weave: 'plain', title: 'Other' },
};
