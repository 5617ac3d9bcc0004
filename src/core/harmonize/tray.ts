import { parseQuality, type ChordQuality } from '../music/chord-quality.ts';
import { chordNumeral, chordSymbol, chordTones, type ChordName } from '../music/chord.ts';
import { hasMinorThird, keyName, MODE_STEPS, type Key, type Mode } from '../music/key.ts';
import { pitchClass } from '../music/pitch.ts';

/** What a chord does next: it is at rest, on the way, or it pulls. */
export const TRAY_GROUPS = ['rest', 'way', 'pull'] as const;
export type TrayGroup = (typeof TRAY_GROUPS)[number];

export const RICHNESS = ['triad', 'seventh', 'ninth'] as const;
export type Richness = (typeof RICHNESS)[number];

/** A chord that can be chosen in a key. */
export interface TrayChord {
  chord: ChordName;
  symbol: string;
  numeral: string;
  group: TrayGroup;
  richness: Richness;
  /** Where it is borrowed from, in words; null where it is the key's own. */
  borrowed: string | null;
}

/** What each degree of a scale does (common practice): 1, 3 and 6 rest, 2 and 4 are on the way, 5 and 7 pull. */
const DEGREE_GROUPS: readonly TrayGroup[] = ['rest', 'way', 'rest', 'way', 'pull', 'rest', 'pull'];

const THIRDS: Readonly<Record<Richness, number>> = { triad: 3, seventh: 4, ninth: 5 };

/** Sound harsh stacked as they are (a semitone over the root): left to who asks for them by name. */
const HARSH = 1;

/** The chord on a degree of a scale, stacked in thirds of the scale. */
export function diatonic(key: Key, degree: number, richness: Richness): ChordName | undefined {
  const steps = MODE_STEPS[key.mode];
  const at = (k: number) => steps[(degree + 2 * k) % 7]! - steps[degree]!;
  const tones = Array.from({ length: THIRDS[richness] }, (_, k) => pitchClass(at(k)));
  if (richness === 'ninth' && tones[4] === HARSH) return undefined;
  const quality = qualityOfTones(tones);
  const root = pitchClass(key.tonic + steps[degree]!);
  return quality && { root, quality, bass: root };
}

/** A quality by its tones in thirds: third, fifth, seventh, ninth. */
function qualityOfTones([, third, fifth, seventh, ninth]: readonly number[]): ChordQuality | undefined {
  const fifths: Record<number, string> = { 6: 'b5', 7: '', 8: '#5' };
  const minor = third === 3;
  if (seventh === undefined)
    return parseQuality(fifth === 6 ? 'dim' : fifth === 8 ? 'aug' : minor ? 'm' : '');
  if (minor && fifth === 6 && seventh === 9) return parseQuality('dim7');
  const kind = `${minor ? 'm' : ''}${seventh === 11 ? (minor ? 'Maj' : 'maj') : ''}`;
  return parseQuality(`${kind}${ninth === 2 ? '9' : '7'}${fifths[fifth!] ?? ''}`);
}

const named = (root: number, symbol: string): ChordName => ({
  root: pitchClass(root),
  quality: parseQuality(symbol)!,
  bass: pitchClass(root),
});

/**
 * The chords of a key, by what they do next: triads, sevenths and ninths of each degree; borrowed ones with what they are
 * borrowed from; the dominant of each degree and its diminished seventh (common practice, as harmony handbooks list them).
 */
export function trayOf(key: Key): TrayChord[] {
  const entry = (
    chord: ChordName,
    group: TrayGroup,
    richness: Richness,
    borrowed: string | null = null,
  ): TrayChord => ({
    chord,
    symbol: chordSymbol(chord, key),
    numeral: chordNumeral(chord, key),
    group,
    richness,
    borrowed,
  });
  const own = RICHNESS.flatMap((richness) =>
    DEGREE_GROUPS.flatMap((group, degree) => {
      const chord = diatonic(key, degree, richness);
      return chord ? [entry(chord, group, richness)] : [];
    }),
  );
  const all = [
    ...own,
    ...borrowedIn(key).map(({ chord, group, from, richness }) => entry(chord, group, richness, from)),
  ];
  const seen = new Set<string>();
  return all.filter(({ symbol }) => !seen.has(symbol) && seen.add(symbol));
}

interface Borrowed {
  chord: ChordName;
  group: TrayGroup;
  richness: Richness;
  from: string;
}

function borrowedIn(key: Key): Borrowed[] {
  const { tonic } = key;
  const isMinor = hasMinorThird(key.mode);
  const parallel = (mode: Mode) => keyName({ tonic, mode });
  const take = (over: number, symbol: string, group: TrayGroup, from: string): Borrowed => ({
    chord: named(tonic + over, symbol),
    group,
    richness: /7|6/.test(symbol) ? 'seventh' : 'triad',
    from,
  });
  const common: Borrowed[] = [
    take(1, '', 'way', parallel('phrygian')),
    take(6, 'm7b5', 'way', parallel('lydian')),
  ];
  const fromMinor: Borrowed[] = [
    take(5, 'm', 'way', parallel('minor')),
    take(5, 'm6', 'way', parallel('minor')),
    take(8, '', 'way', parallel('minor')),
    take(8, 'maj7', 'way', parallel('minor')),
    take(10, '', 'pull', parallel('mixolydian')),
    take(3, '', 'rest', parallel('minor')),
    take(2, 'm7b5', 'way', parallel('minor')),
    take(0, 'm', 'rest', parallel('minor')),
  ];
  const fromMajor: Borrowed[] = [
    take(7, '', 'pull', 'harmonic minor'),
    take(7, '7', 'pull', 'harmonic minor'),
    take(11, 'dim7', 'pull', 'harmonic minor'),
    take(5, '', 'way', parallel('dorian')),
    take(2, 'm', 'way', parallel('dorian')),
    take(0, '', 'rest', parallel('major')),
  ];
  const secondary = MODE_STEPS[key.mode].slice(1).flatMap((step, k): Borrowed[] => {
    const goal = diatonic(key, k + 1, 'triad');
    if (!goal || goal.quality.symbol === 'dim') return [];
    const of = `the dominant of ${chordNumeral(goal, key)}`;
    return [take(step + 7, '7', 'pull', of), take(step + 11, 'dim7', 'pull', of)];
  });
  return [...(isMinor ? fromMajor : fromMinor), ...common, ...secondary];
}

/** Chords with two notes or more in common with one: they also work in its place. */
export function alsoWorks(chord: ChordName, tray: readonly TrayChord[]): TrayChord[] {
  const notes = new Set(chordTones(chord));
  const common = (other: TrayChord) => chordTones(other.chord).filter((tone) => notes.has(tone)).length;
  return tray
    .filter((one) => one.chord.root !== chord.root || one.chord.quality.symbol !== chord.quality.symbol)
    .filter((one) => common(one) >= 2)
    .sort((a, b) => common(b) - common(a));
}
