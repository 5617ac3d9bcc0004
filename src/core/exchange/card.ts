import { array, boolean, number, object, string, tuple, type ObjectSchema } from 'yup';
import { CONTROLLER, STATUS } from '../midi/smf.ts';
import { DEFAULT_VOLUME, volumeDown } from '../midi/volume.ts';
import { settlePedal } from '../normalize/pedal.ts';
import { mapDrums } from '../normalize/drums.ts';
import type { Fitting } from '../normalize/fitting.ts';
import { setLength } from '../normalize/length.ts';
import { setOctave } from '../normalize/octave.ts';
import { shift } from '../normalize/shift.ts';
import { setVelocity } from '../normalize/velocity.ts';
import { isPitched, playedNotes, type Clip, type Control } from '../phrase/clip.ts';
import { DEFAULT_PATTERN } from '../phrase/naming.ts';
import { ROLES, type Role } from '../split/roles.ts';
import type { PitchPair } from '../split/split.ts';
import { plural } from '../words.ts';
import {
  OUT,
  OUT_AS,
  PACK_LAYOUTS,
  ppqSchema,
  type OutAs,
  type OutOptions,
  type PackLayout,
} from './out-options.ts';

/** What parts of one role need at somebody's place. What is not said stays as it is. */
export interface RoleCard {
  /** Where loud notes land, as a share of 127, and the factor on everybody's distance from them. */
  loud?: number;
  range?: number;
  /** How early (below 0) or late the sound is played, in milliseconds. */
  ms?: number;
  octave?: number;
  /** Factor on the lengths of notes. */
  length?: number;
  /** 0..15. */
  channel?: number;
  /** 0..127; null chooses none. */
  program?: number | null;
  /** The pitches that their sound has, 0..127. */
  low?: number;
  high?: number;
  /** 0..127, as controllers 7 and 10 say them. */
  volume?: number;
  pan?: number;
}

export const READS = ['nothing', 'lead', 'score', 'tab'] as const;
export const TRANSPOSING = ['C', 'Bb', 'Eb', 'F'] as const;
export const READ_CLEFS = ['treble', 'bass', 'alto', 'tenor'] as const;

/** Recipient card: what somebody who gets our music has at their place. Applied on the way out only. */
export interface Card {
  version: 1;
  /** The octave number of middle C in their texts. */
  middleC: 3 | 4 | 5;
  /** Pieces of the General MIDI map to the keys on which their kit has them. */
  drumMap: PitchPair[];
  roles: Partial<Record<Role, RoleCard>>;
  /** Whether their sounds know the pedal; where not, notes are held instead. */
  pedal: boolean;
  /** Semitones that their sounds bend at the most. */
  bendRange: number;
  /** Every part so much softer, in dB, by its volume. */
  headroomDb: number;
  format: 0 | 1;
  ppq: number | null;
  as: OutAs;
  layout: PackLayout;
  previews: boolean;
  pattern: string;
  /** What they read, and for which instrument. */
  reads: (typeof READS)[number];
  transposes: (typeof TRANSPOSING)[number];
  /** The clef of their lead sheets; where none is said, the one with the fewest ledger lines. */
  clef?: (typeof READ_CLEFS)[number] | undefined;
}

/** A card that says nothing. */
export const BLANK_CARD: Card = {
  version: 1,
  middleC: 4,
  drumMap: [],
  roles: {},
  pedal: true,
  bendRange: 2,
  headroomDb: 0,
  format: 1,
  ppq: null,
  as: 'both',
  layout: 'folders',
  previews: false,
  pattern: DEFAULT_PATTERN,
  reads: 'nothing',
  transposes: 'C',
};

/** Something a card changes: what, in words; the higher, the more unusual. */
export interface CardChange {
  what: 'map' | 'level' | 'shift' | 'length' | 'octave' | 'pedal' | 'bend' | 'volume' | 'range';
  text: string;
  unusual: number;
}

type Tell = (what: CardChange['what'], text: string, unusual: number) => void;

/** A clip as somebody has it, and what of it their card has changed. */
export interface OnCard {
  clip: Clip;
  changes: CardChange[];
}

/**
 * A clip for somebody's place, in the order map, level, shift, length, octave; then pedal, bend and volume. What the card says of a
 * role stands in the place of the phrase's own fitting, what it leaves open stays the phrase's.
 */
export function onCard(given: Clip, own: Fitting, card: Card): OnCard {
  const role = card.roles[given.role] ?? {};
  const changes: CardChange[] = [];
  let clip = given;
  const tell: Tell = (what, text, unusual) => changes.push({ what, text, unusual });
  // A level knows the crash by its key on our map: it is brought there before the keys are theirs, which changes no level.
  const level = levelFor(clip, role) ?? own.velocity;
  const leveled = level ? setVelocity(clip, level) : null;
  clip = leveled?.clip ?? clip;
  if (!isPitched(clip) && card.drumMap.length > 0) {
    const { clip: mapped, changed } = mapDrums(clip, { pairs: card.drumMap });
    clip = mapped;
    if (changed > 0) tell('map', `${plural(changed, 'hit')} on other keys of their kit`, 3);
  }
  if (level && leveled!.changed > 0) tell('level', `loud notes at ${Math.round(level.loud * 100)} %`, 0);
  const late = role.ms ?? own.shift?.ms ?? 0;
  if (late !== 0) {
    clip = shift(clip, { early: own.shift?.early ?? 'hold', ms: late }).clip;
    tell('shift', `${Math.abs(late)} ms ${late < 0 ? 'earlier' : 'later'}`, Math.abs(late) > 50 ? 2 : 1);
  }
  if (role.length !== undefined && role.length !== 1) {
    clip = setLength(clip, { factor: role.length }).clip;
    tell('length', `notes at ${Math.round(role.length * 100)} % of their length`, 1);
  }
  if (role.octave) {
    clip = setOctave(clip, { by: role.octave }).clip;
    tell('octave', `${plural(Math.abs(role.octave), 'octave')} ${role.octave > 0 ? 'up' : 'down'}`, 3);
  }
  if (!card.pedal) {
    const done = settlePedal(clip, { mode: 'length' });
    if (done.changed > 0) tell('pedal', 'the pedal is held in the notes', 2);
    clip = done.clip;
  }
  if (card.bendRange !== DEFAULT_BEND_RANGE && clip.controls.some(({ kind }) => kind === STATUS.pitchBend)) {
    clip = { ...clip, controls: clip.controls.map((one) => bentTo(one, card.bendRange)) };
    tell('bend', `bends for a range of ${plural(card.bendRange, 'semitone')}`, 2);
  }
  clip = placed(clip, role, card, tell);
  const outside = outsideOf(clip, card);
  if (outside > 0) tell('range', `${plural(outside, 'note')} outside of their ${clip.role}`, 4);
  return { clip, changes: changes.sort((a, b) => b.unusual - a.unusual) };
}

/** The lowest and the highest pitch that somebody's sound has. */
export function rangeOf(role: Role, { roles }: Card): [low: number, high: number] {
  const { low = 0, high = 127 } = roles[role] ?? {};
  return [low, high];
}

/** Notes of a clip that somebody's sound does not have. */
export function outsideOf(clip: Clip, card: Card): number {
  const [low, high] = rangeOf(clip.role, card);
  return playedNotes(clip).filter(({ pitch }) => pitch < low || pitch > high).length;
}

function levelFor(clip: Clip, { loud, range = 1 }: RoleCard) {
  if (loud === undefined) return undefined;
  return { loud, range, ...(clip.role === 'drums' ? { except: ['crash' as const] } : {}) };
}

/** Semitones that a bend reaches where nothing else is said (General MIDI 1). */
export const DEFAULT_BEND_RANGE = 2;

/** The same bend where a sound bends farther or less far. */
function bentTo(control: Control, range: number): Control {
  if (control.kind !== STATUS.pitchBend) return control;
  const bend = control.data1 + control.data2 * 128 - 8192;
  const there = Math.round((bend * DEFAULT_BEND_RANGE) / range);
  const value = Math.min(16_383, Math.max(0, there + 8192));
  return { ...control, data1: value % 128, data2: Math.floor(value / 128) };
}

/** Channel, program, volume and place. */
function placed(clip: Clip, role: RoleCard, card: Card, tell: Tell): Clip {
  const controls = louder(clip.controls, role.volume, card.headroomDb, tell);
  return {
    ...clip,
    controls: role.pan === undefined ? controls : [controller(CONTROLLER.pan, role.pan), ...controls],
    channel: role.channel ?? clip.channel,
    program: role.program ?? clip.program,
  };
}

const controller = (data1: number, data2: number): Control => ({
  ...{ tick: 0, kind: STATUS.controller, data1, data2 },
});

const isVolume = ({ kind, data1 }: Control) => kind === STATUS.controller && data1 === CONTROLLER.volume;

/** Volumes as the card has them: the role's own in the place of all others, or those that are there, less the headroom. */
function louder(
  controls: readonly Control[],
  volume: number | undefined,
  headroomDb: number,
  tell: Tell,
): Control[] {
  if (volume === undefined && headroomDb === 0) return [...controls];
  if (volume === undefined && controls.some(isVolume)) {
    tell('volume', `${headroomDb} dB softer`, 0);
    return controls.map((one) =>
      isVolume(one) ? { ...one, data2: volumeDown(one.data2, headroomDb) } : one,
    );
  }
  const there = volumeDown(volume ?? DEFAULT_VOLUME, headroomDb);
  tell('volume', `volume ${there}`, 0);
  return [controller(CONTROLLER.volume, there), ...controls.filter((one) => !isVolume(one))];
}

/** How things leave for somebody whose card this is, where nobody has chosen otherwise. */
export function outOf(card: Card): OutOptions {
  const { as, format, ppq } = card;
  return { ...OUT, as, format, ppq, fitting: 'card' };
}

const midi = () => number().integer().min(0).max(127);

const roleCardSchema = object({
  loud: number().min(0.05, 'A level is at least 5 %').max(1, 'A level is at most 100 %'),
  range: number().min(0).max(4),
  ms: number().min(-1000, 'A shift is at most a second').max(1000, 'A shift is at most a second'),
  octave: number().integer().min(-4).max(4),
  length: number().min(0.05).max(4),
  channel: number().integer().min(0).max(15),
  program: midi().nullable(),
  low: midi(),
  high: midi(),
  volume: midi(),
  pan: midi(),
})
  .noUnknown()
  .test(
    'range',
    'The lowest note of a sound lies below its highest',
    (card) => card?.low === undefined || card.high === undefined || card.low < card.high,
  );

/** What a page or a file may say of a card. */
export const cardSchema: ObjectSchema<Card> = object({
  version: number().oneOf([1]).required(),
  middleC: number().oneOf([3, 4, 5]).required(),
  drumMap: array(tuple([midi().required(), midi().required()]).required())
    .max(128)
    .required()
    .test(
      'once',
      'Each piece of the kit goes to one key',
      (pairs) => new Set(pairs?.map(([from]) => from)).size === pairs?.length,
    ),
  roles: object(Object.fromEntries(ROLES.map((name) => [name, roleCardSchema.optional().default(undefined)])))
    .noUnknown()
    .required(),
  pedal: boolean().required(),
  bendRange: number().integer().min(1).max(24).required(),
  headroomDb: number().min(0).max(24).required(),
  format: number().oneOf([0, 1]).required(),
  ppq: ppqSchema(),
  as: string().oneOf(OUT_AS).required(),
  layout: string().oneOf(PACK_LAYOUTS).required(),
  previews: boolean().required(),
  pattern: string().required('A naming pattern is needed').max(200),
  reads: string().oneOf(READS).required(),
  transposes: string().oneOf(TRANSPOSING).required(),
  clef: string().oneOf(READ_CLEFS),
}).noUnknown() as unknown as ObjectSchema<Card>;

/** A card from a file; what it leaves out is as on a blank card. @throws yup's ValidationError */
export function readCard(value: unknown): Card {
  const given = typeof value === 'object' && value !== null ? value : {};
  return cardSchema.validateSync({ ...BLANK_CARD, ...given }, { strict: true });
}
