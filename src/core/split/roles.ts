import { KIT_ENOUGH } from './kit.ts';

/** Roles of parts, and the evidence for them: channel, name, General MIDI program and what is played. */

export const ROLES = [
  'drums',
  'percussion',
  'bass',
  'keys',
  'guitar',
  'strings',
  'pad',
  'brass',
  'reeds',
  'lead',
  'arpeggio',
  'voice',
  'slices',
  'click',
  'other',
] as const;

export type Role = (typeof ROLES)[number];

/** Roles whose pitches are no pitches: never transposed, never counted for key and chords. */
export const UNPITCHED: ReadonlySet<Role> = new Set<Role>(['drums', 'percussion', 'slices', 'click']);

/** Roles that carry a tune, the likeliest first. */
export const TUNE_ROLES: readonly Role[] = ['voice', 'lead', 'reeds'];

export interface RoleFinding {
  role: Role;
  /** 0..1. */
  certainty: number;
  runnerUp: Role;
  reasons: string[];
}

/** What is known of a part before its role is. */
export interface RoleEvidence {
  isDrumChannel: boolean;
  /** 0..127; null where the file never chose one. */
  program: number | null;
  name: string;
  /** Lowest, median and highest pitch. */
  low: number;
  median: number;
  high: number;
  /** Notes that sound together, on average over the time in which anything sounds. */
  polyphony: number;
  /** Onsets a quarter note, over the time from first to last onset. */
  density: number;
  /** Length of the middle note in quarter notes. */
  medianLength: number;
  /** Share of the chords whose notes follow each other one way through the pitches, 0..1. */
  strummed: number;
  /** How likely the notes are a drum kit, 0..1 (`kitLikeness`). */
  kit: number;
  /** Notes whose pitch class nothing else plays in the same bar, 0..1 (`misfit`); null where nothing else plays. */
  misfit: number | null;
  /** Share of the bars in which nothing else begins lower, 0..1; null where nothing else plays. */
  lowest: number | null;
  /** One or two pitches, one on each beat (`isClick`). */
  click: boolean;
  /** Neighboring pitches, each once a cycle (`sliceCycle`). */
  slices: boolean;
}

/** Role of each program, by family of eight, with the exceptions below. General MIDI System Level 1. */
const FAMILY_ROLES: readonly Role[] = [
  'keys',
  'keys',
  'keys',
  'guitar',
  'bass',
  'strings',
  'strings',
  'brass',
  'reeds',
  'reeds',
  'lead',
  'pad',
  'pad',
  'guitar',
  'percussion',
  'other',
];

const PROGRAM_ROLES: Readonly<Record<number, Role>> = {
  47: 'percussion', // timpani
  52: 'voice',
  53: 'voice',
  54: 'voice',
  55: 'other', // orchestra hit
  85: 'voice', // lead 6 (voice)
  87: 'bass', // lead 8 (bass + lead)
  108: 'keys', // kalimba
  109: 'reeds', // bag pipe
  110: 'strings', // fiddle
  111: 'reeds', // shanai
  114: 'keys', // steel drums
};

/** Words in names that tell a role (common practice), in the order in which they are asked. */
const NAME_ROLES: readonly [RegExp, Role][] = [
  [/\b(click|metronome|count)/i, 'click'],
  [/\b(slice|slices|chops?)\b/i, 'slices'],
  [/\b(drums?|drumkit|drumset|kit|kick|snare|hi-?hats?|toms?|cymbals?|beats?)\b/i, 'drums'],
  [/\b(perc|percussion|congas?|bongos?|shaker|tambourine|timpani|claps?)/i, 'percussion'],
  [/\b(bass|contrabass|sub)\b(?!oon)/i, 'bass'],
  [/\b(arp|arpeggio|arpeggiator|sequence)\b/i, 'arpeggio'],
  [/\b(guitars?|gtr|strum|banjo|ukulele|nylon|lute)/i, 'guitar'],
  [/\b(strings?|violins?|violas?|cellos?|celli|pizz)/i, 'strings'],
  [/\b(pad|pads|drone)\b/i, 'pad'],
  [/\b(brass|trumpets?|trombones?|horns?|tuba)/i, 'brass'],
  [/\b(sax|flutes?|clarinets?|oboes?|bassoons?|recorder|reeds?|whistle|harmonica)/i, 'reeds'],
  [/\b(voice|voices|choir|vocals?|vox|aahs|oohs)\b/i, 'voice'],
  [/\b(lead|melody|tune|solo)\b/i, 'lead'],
  [/\b(piano|keys|organ|rhodes|harpsichord|clav|celesta|vibes|marimba|e\.?p\.?)\b/i, 'keys'],
];

/** A name with its words apart: "Piano1" and "Slap_Bass" are as good as "Piano 1" and "Slap Bass". */
function wordsOf(name: string): string {
  return name.replace(/_/g, ' ').replace(/([a-z])(\d)/gi, '$1 $2');
}

/**
 * Weighs the evidence: each fact adds to a role's score; the best and the second are returned with the
 * facts that spoke for the best.
 */
export function findRole(evidence: RoleEvidence): RoleFinding {
  const scores = new Map<Role, number>();
  const reasons: { role: Role; text: string }[] = [];
  const add = (role: Role, score: number, text: string) => {
    scores.set(role, (scores.get(role) ?? 0) + score);
    reasons.push({ role, text });
  };

  if (evidence.isDrumChannel) add('drums', 4, 'on channel 10, which General MIDI keeps for drums');
  const words = wordsOf(evidence.name);
  const named = NAME_ROLES.find(([pattern]) => pattern.test(words));
  if (named) add(named[1], 2.2 * couldBe(named[1], evidence), `called "${evidence.name}"`);
  if (evidence.program !== null && !evidence.isDrumChannel) {
    const role = PROGRAM_ROLES[evidence.program] ?? FAMILY_ROLES[evidence.program >> 3] ?? 'other';
    const worth = isChosen(evidence.program) ? 1.8 : 0.8;
    add(role, worth * couldBe(role, evidence), `plays program ${evidence.program + 1}`);
  }
  if (!evidence.isDrumChannel) addPlayingEvidence(evidence, add);

  const ranked = [...scores].sort((a, b) => b[1] - a[1]);
  const [role, score] = ranked[0] ?? ['other', 1];
  const [runnerUp, second] = ranked[1] ?? [role === 'other' ? 'keys' : 'other', 0.2];
  return {
    role,
    certainty: certaintyOf(role, score / (score + second), isTold(evidence, named !== undefined)),
    runnerUp,
    reasons: reasons.filter((reason) => reason.role === role).map((reason) => reason.text),
  };
}

/** Whether somebody has chosen a program: the first is what a device sends when nobody has. */
function isChosen(program: number | null): program is number {
  return program !== null && program > 0;
}

/**
 * Whether a pitched instrument was chosen: it plays neighboring pitches as a run. Slices of a sample have none, or one
 * that means nothing. Programs from 113 on are percussion and effects.
 */
export function isInstrument(program: number | null): boolean {
  return isChosen(program) && program < 112;
}

/** So little of a part may be strange to the harmony around it for its pitches to be meant as pitches, 0..1. */
const FITS = 0.25;

/** E4, where the highest string of a bass guitar ends on most necks (common practice). */
const ABOVE_BASSES = 64;

/**
 * How much a name or a program may be believed, 0..1: a track called "Drums" that plays the chords of the others is no kit,
 * and chords far above all else are no bass (common practice).
 */
function couldBe(role: Role, evidence: RoleEvidence): number {
  const { isDrumChannel, kit, misfit, polyphony, low, median, lowest } = evidence;
  if (isDrumChannel) return 1;
  if (role === 'drums' || role === 'percussion') {
    if (kit >= KIT_ENOUGH) return 1;
    // Drums of several pitches fit no harmony; a timpani does, one note at a time.
    if (misfit !== null && misfit <= FITS && polyphony >= 1.5) return 0.2;
    return misfit !== null && misfit <= FITS && role === 'drums' ? 0.6 : 1;
  }
  // Alone it may be a bass that was moved; under others' notes it is none.
  if (role === 'bass' && lowest !== null && lowest < 0.5) {
    if (median >= ABOVE_BASSES) return 0.2;
    if (low >= 48 && median >= 57) return polyphony >= 1.5 ? 0.1 : 0.5;
    return polyphony >= 2.2 && median >= 48 ? 0.4 : 1;
  }
  return 1;
}

/** Whether anything but the notes tells what a part is. */
function isTold({ isDrumChannel, program }: RoleEvidence, isNamed: boolean): boolean {
  return isDrumChannel || isNamed || isChosen(program);
}

/** How often a part is what it is heard as where nothing tells but its notes: of 31 real files and the stand-ins. */
const HEARD: Partial<Record<Role, number>> = {
  drums: 0.95,
  click: 0.9,
  slices: 0.85,
  bass: 0.87,
  guitar: 0.85,
  percussion: 0.6,
  pad: 0.75,
  keys: 0.6,
  arpeggio: 0.5,
  lead: 0.1,
  other: 0.08,
};

/**
 * How often a role is right, 0..1, by the best score's share of the best two; fitted to the parts of 31 real files and the
 * stand-ins, see docs/accuracy.md, "How certain".
 */
function certaintyOf(role: Role, share: number, told: boolean): number {
  const certainty = told ? 0.98 - 0.9 * (1 - share) ** 2 : (HEARD[role] ?? 0.3);
  return Math.round(100 * certainty) / 100;
}

/** What is played tells least, and decides where nothing else does. Thresholds: common practice. */
function addPlayingEvidence(
  evidence: RoleEvidence,
  add: (role: Role, score: number, text: string) => void,
): void {
  const { low, median, high, polyphony, density, medianLength, kit, misfit, lowest } = evidence;
  if (evidence.click) return add('click', 3, 'one or two pitches, one on each beat');
  if (evidence.slices) {
    const plays = isInstrument(evidence.program);
    add('slices', plays ? 1 : 3, 'neighboring pitches, each once a cycle');
    if (!plays) return;
  }
  if (kit >= KIT_ENOUGH) return add('drums', 2 + 2 * kit, 'its notes come and go as the pieces of a kit do');
  if (misfit !== null && misfit >= 0.6 && low >= 54 && high <= 81)
    return add('percussion', 1.2, 'fits no harmony, on the pitches of hand percussion');
  const single = polyphony < 1.35;
  const under = lowest ?? (median < 48 ? 0.8 : 0.2);
  if (single && under >= 0.6 && median <= 53) add('bass', 0.4 + under, 'one note at a time, under all else');
  else if (single && median < 45) add('bass', 0.9, 'one note at a time, low');
  else if (polyphony < 1.8 && under >= 0.8 && median <= 46) add('bass', 0.6, 'low, under all else');
  if (evidence.strummed >= 0.6) add('guitar', 1, 'its chords are strummed');
  if (polyphony >= 2.2 && medianLength >= 2) add('pad', 0.9, 'chords held for half a bar and more');
  if (polyphony >= 1.5 && medianLength < 2) add('keys', 0.35, 'chords');
  if (polyphony < 1.6 && density >= 2.6 && high - low >= 10 && median >= 48)
    add('arpeggio', 0.7, 'quick single notes over a wide range');
  if (polyphony < 1.5 && median >= 57 && density < 3) add('lead', 0.5, 'one note at a time, high');
}
