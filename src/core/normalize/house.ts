import { boolean, number, object, string, tuple, array, type ObjectSchema } from 'yup';
import { MODE_STEPS, parseKey, tonicName, type Mode } from '../music/key.ts';
import { PHRASE_TOKENS, unknownTokens } from '../phrase/naming.ts';
import { REGISTERS } from '../phrase/registers.ts';
import { ROLES, type Role } from '../split/roles.ts';
import type { PitchPair } from '../split/split.ts';
import type { Fitting } from './fitting.ts';
import { GRIDS, type Grid } from './grid.ts';
import type { Recipe, RecipeStep } from './recipe.ts';
import { LEAVING_PPQ } from './resolution.ts';

/** What the house keeps of one role. */
export interface RoleStandard {
  /** Where loud notes land, as a share of 127. */
  loud: number;
  /** Factor on the distance from them; 0.5 halves the range of a part that jumps about. */
  range: number;
  /** MIDI pitches the part is kept between; null where it has none. */
  register: { low: number; high: number } | null;
  /** How early (below 0) or late the sound is played, in milliseconds. */
  shiftMs: number;
}

/** The house standard: how everything in the library is kept. One page of choices that people make once. */
export interface House {
  /** Ticks a quarter note with which phrases leave. */
  ppq: number;
  /** Keys in storage: tonics of what is major and of what is minor; modes take the notes of the major one. */
  major: string;
  minor: string;
  grid: Grid;
  strength: number;
  /** Whether shift and velocity are kept beside the notes and applied on the way out, or are baked into the recipe. */
  shiftBeside: boolean;
  velocityBeside: boolean;
  /** The kit's pieces as they are kept, where General MIDI's own keys are not wanted. */
  drumMap: PitchPair[];
  /** How phrases are named. */
  pattern: string;
  roles: Record<Role, RoleStandard>;
}

const role = (loud: number, name?: Role, shiftMs = 0): RoleStandard => ({
  loud,
  range: 1,
  register: (name && REGISTERS[name]) ?? null,
  shiftMs,
});

/**
 * What the house keeps where nobody has chosen. Levels and registers of sampled instruments, and how early strummed guitars
 * and slow strings are played: common practice. Everything major stands in C and everything minor in A, so that white
 * notes are home. Levels are baked, shifts are kept beside the notes: a shifted phrase looks wrong in any other program.
 */
export const HOUSE: House = {
  ppq: LEAVING_PPQ,
  major: 'C',
  minor: 'A',
  grid: '1/16',
  strength: 0.85,
  shiftBeside: true,
  velocityBeside: false,
  drumMap: [],
  pattern: '{take}, {part}',
  roles: {
    drums: role(0.9),
    percussion: role(0.85),
    bass: role(0.85, 'bass'),
    keys: role(0.8, 'keys'),
    guitar: role(0.8, 'guitar', -30),
    strings: role(0.6, 'strings', -100),
    pad: role(0.6, 'pad'),
    brass: role(0.75, 'brass'),
    reeds: role(0.75, 'reeds'),
    lead: role(0.85, 'lead'),
    arpeggio: role(0.75, 'arpeggio'),
    voice: role(0.7, 'voice'),
    slices: role(0.9),
    click: role(0.8),
    other: role(0.8),
  },
};

/** The tonic that a key of a mode is kept on. */
export function referenceTonic(house: House, mode: Mode): string {
  if (mode === 'minor') return house.minor;
  const major = parseKey(house.major)!.tonic;
  return tonicName({ tonic: (major + WHITE_DEGREE[mode]) % 12, mode });
}

/** Which step of the major scale a mode begins on, in semitones: with the white notes all of them are at home. */
const WHITE_DEGREE: Record<Exclude<Mode, 'minor'>, number> = {
  major: MODE_STEPS.major[0]!,
  dorian: MODE_STEPS.major[1]!,
  phrygian: MODE_STEPS.major[2]!,
  lydian: MODE_STEPS.major[3]!,
  mixolydian: MODE_STEPS.major[4]!,
  locrian: MODE_STEPS.major[6]!,
};

/**
 * The house recipe of a role for some bars of a take, without the bars where none are given. Quantizing starts at a
 * strength that tightens without flattening; crashes keep their own level; nothing is doubled, and pedal, controllers and
 * bend are settled for the seam.
 */
export function houseRecipe(
  role: Role,
  bars: { start: number; count: number; pickup?: number; tail?: 'wrap' } | null,
  mode: Mode | null,
  house: House = HOUSE,
): Recipe {
  const { register } = house.roles[role];
  const isKit = role === 'drums' || role === 'percussion';
  const steps: (RecipeStep | false)[] = [
    bars !== null && { step: 'bars', tail: 'cut', ...bars, early: '1/32' },
    { step: 'doubles', ms: 10 },
    isKit && house.drumMap.length > 0 && { step: 'drums', pairs: house.drumMap },
    { step: 'quantize', grid: house.grid, strength: house.strength, swing: 'keep' },
    !house.velocityBeside && { step: 'velocity', ...levelOf(house, role) },
    register !== null && { step: 'transpose', to: referenceTonic(house, mode ?? 'major') },
    register !== null && { step: 'register', ...register },
    register !== null && { step: 'pedal', mode: 'keep' },
    { step: 'controls', mode: 'settle' },
    !house.shiftBeside && house.roles[role].shiftMs !== 0 && { step: 'shift', ms: house.roles[role].shiftMs },
    { step: 'channel', channel: isKit ? 10 : 1 },
    house.ppq !== LEAVING_PPQ && { step: 'resolution', ppq: house.ppq },
  ];
  return { version: 1, steps: steps.filter((step) => step !== false) };
}

function levelOf(house: House, role: Role) {
  const { loud, range } = house.roles[role];
  return { loud, range, ...(role === 'drums' ? { except: ['crash' as const] } : {}) };
}

/** What is kept beside the notes of a role. On a loop, what would start before bar one is played at its end. */
export function houseFitting(role: Role, isLoop: boolean, house: House = HOUSE): Fitting {
  const { shiftMs } = house.roles[role];
  return {
    ...(house.shiftBeside && shiftMs !== 0
      ? { shift: { ms: shiftMs, early: isLoop ? ('wrap' as const) : ('pickup' as const) } }
      : {}),
    ...(house.velocityBeside ? { velocity: levelOf(house, role) } : {}),
  };
}

const tonic = () =>
  string()
    .required()
    .test('tonic', 'A reference key is a tonic such as "C" or "Eb"', (text) => !!text && !!parseKey(text));

const pitch = () => number().integer().min(0).max(127).required();

const roleSchema = object({
  loud: number().min(0.05, 'A level is at least 5 %').max(1, 'A level is at most 100 %').required(),
  range: number().min(0).max(4).required(),
  register: object({ low: pitch(), high: pitch() })
    .nullable()
    .defined()
    .test(
      'octave',
      'The low end of an octave range lies an octave or more below its high end',
      (value) => value === null || value.high - value.low >= 11,
    ),
  shiftMs: number().min(-1000).max(1000).required(),
}).noUnknown();

/** What a page or a file may say of the house. */
export const houseSchema: ObjectSchema<House> = object({
  ppq: number()
    .integer()
    .min(24, 'A resolution is at least 24 ticks a quarter note')
    .max(32_767, 'A resolution is at most 32,767 ticks a quarter note')
    .required(),
  major: tonic(),
  minor: tonic(),
  grid: string().oneOf(GRIDS).required(),
  strength: number().min(0).max(1).required(),
  shiftBeside: boolean().required(),
  velocityBeside: boolean().required(),
  drumMap: array(tuple([pitch(), pitch()]).required())
    .max(128)
    .required()
    .test(
      'once',
      'Each key of the drum map goes to one other',
      (pairs) => new Set(pairs?.map(([from]) => from)).size === pairs?.length,
    ),
  pattern: string()
    .required('A naming pattern is needed')
    .max(200)
    .test(
      'tokens',
      `A naming pattern knows ${PHRASE_TOKENS.join(', ')}`,
      (pattern) => unknownTokens(pattern ?? '', PHRASE_TOKENS).length === 0,
    ),
  roles: object(Object.fromEntries(ROLES.map((name) => [name, roleSchema.required()]))).required(),
}).noUnknown() as unknown as ObjectSchema<House>;
