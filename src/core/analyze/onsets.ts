import type { Take } from '../capture/take.ts';
import { ticksToSeconds } from '../music/timeline.ts';
import { KICKS, SNARES } from '../split/kit.ts';
import type { Role } from '../split/roles.ts';
import { playingParts, type Split } from '../split/split.ts';

/** One stroke of everything that plays together: notes that begin within a few hundredths of a second. */
export interface Onset {
  /** Of the first of its notes. */
  tick: number;
  /** From the start of the take: the middle of its notes, by weight. */
  seconds: number;
  /** How strongly it is heard: by velocity and number of notes, drums and bass more. */
  weight: number;
  /** The share of it that the bass, or the lowest, has. */
  bass: number;
  /** Kick or another low drum among it. */
  kick: number;
  /** Snare, side stick or clap among it. */
  snare: number;
  /** The longest of its notes, in seconds. */
  length: number;
  /** Pitch classes of its notes as twelve bits, drums left out. */
  pitchClasses: number;
}

/** Notes that begin within this are one stroke, in seconds: a strum, a rolled chord. */
const TOGETHER = 0.045;

const ROLE_STRENGTH: Partial<Record<Role, number>> = {
  drums: 1.2,
  bass: 1.3,
  lead: 0.8,
  voice: 0.8,
  slices: 0.5,
};

/** The strokes of a take in order of time; clicks are strokes too, and strong ones. */
export function onsetsOf(take: Take, split: Split): Onset[] {
  const { notes, timing } = take;
  const playing = playingParts(split);
  const strokes = playing
    .flatMap(({ part, notes: indices }) =>
      indices.map((i) => ({ i, role: part.role, seconds: ticksToSeconds(timing.timeline, notes.tick[i]!) })),
    )
    .sort((a, b) => a.seconds - b.seconds);
  const hasBass = playing.some(({ part }) => part.role === 'bass');
  const onsets: Onset[] = [];
  for (let from = 0; from < strokes.length;) {
    let to = from + 1;
    while (to < strokes.length && strokes[to]!.seconds - strokes[from]!.seconds < TOGETHER) to++;
    onsets.push(strokeOf(take, strokes.slice(from, to), hasBass));
    from = to;
  }
  return onsets;
}

function strokeOf(
  take: Take,
  strokes: readonly { i: number; role: Role; seconds: number }[],
  hasBass: boolean,
): Onset {
  const { notes, timing } = take;
  const byRole = new Map<Role, number>();
  let [weighted, all, bass, kick, snare, length, pitchClasses] = [0, 0, 0, 0, 0, 0, 0];
  let lowest = 128;
  for (const { i, role, seconds } of strokes) {
    const velocity = notes.velocity[i]! / 127;
    const pitch = notes.pitch[i]!;
    const strength = velocity * (ROLE_STRENGTH[role] ?? 1);
    // Six strings at once are one stroke, a little louder.
    byRole.set(role, Math.max(byRole.get(role) ?? 0, strength) + 0.08 * strength);
    weighted += strength * seconds;
    all += strength;
    if (role === 'drums') {
      if (KICKS.has(pitch)) kick = Math.max(kick, velocity);
      if (SNARES.has(pitch)) snare = Math.max(snare, velocity);
      continue;
    }
    if (role === 'bass') bass = Math.max(bass, velocity);
    lowest = Math.min(lowest, pitch);
    pitchClasses |= 1 << (pitch % 12);
    const end = ticksToSeconds(timing.timeline, notes.tick[i]! + notes.duration[i]!);
    length = Math.max(length, end - seconds);
  }
  if (!hasBass && lowest < 55) bass = (55 - lowest) / 40;
  const tick = Math.min(...strokes.map(({ i }) => notes.tick[i]!));
  return {
    tick,
    seconds: all > 0 ? weighted / all : strokes[0]!.seconds,
    weight: [...byRole.values()].reduce((sum, value) => sum + value, 0),
    bass,
    kick,
    snare,
    length,
    pitchClasses,
  };
}
