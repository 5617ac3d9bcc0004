import { keyLabel } from '../music/key.ts';
import { barsUntil, meterAt, roundedBpm } from '../music/timeline.ts';
import { bpmOfClip, type Clip } from './clip.ts';

/** Names from a pattern with tokens in braces, such as "{project}_{role}_{bars}bar_{tempo}_{key}_{number}". */

/** What a file name of a hand-off can say. */
export const NAME_TOKENS = [
  'name',
  'project',
  'role',
  'bars',
  'tempo',
  'key',
  'meter',
  'source',
  'number',
] as const;

export type NameToken = (typeof NAME_TOKENS)[number];

export const DEFAULT_PATTERN = '{number}_{name}_{role}_{tempo}_{key}';

/** The longest name of a file, in characters, so that it fits every file system. */
const LONGEST_FILE = 120;
/** The longest name made: its ending, and a number behind a twin, have room. */
const LONGEST = LONGEST_FILE - 10;

/** What the name of a phrase can say. */
export const PHRASE_TOKENS = [
  'take',
  'part',
  'source',
  'project',
  'role',
  'key',
  'tempo',
  'meter',
  'bars',
  'start',
  'number',
] as const;

export type PhraseToken = (typeof PHRASE_TOKENS)[number];

/** The pattern's tokens that do not exist. */
export function unknownTokens(pattern: string, tokens: readonly string[] = NAME_TOKENS): string[] {
  return [...pattern.matchAll(/\{([^{}]*)\}/g)]
    .map((match) => match[1]!)
    .filter((token) => !tokens.includes(token));
}

/** Puts values in the place of the tokens that have one; others stay as they are written. */
function filled(pattern: string, values: Partial<Record<string, string>>): string {
  return pattern.replace(/\{([^{}]*)\}/g, (whole, token: string) =>
    Object.hasOwn(values, token) ? (values[token] ?? '') : whole,
  );
}

/** What a clip itself says: role, key, tempo to a hundredth, meter and bars. */
export function clipFacts(clip: Clip) {
  const meter = meterAt(clip.timeline, clip.pickup);
  return {
    role: clip.role as string,
    key: clip.key ? keyLabel(clip.key) : '',
    tempo: String(roundedBpm(bpmOfClip(clip))),
    meter: `${meter.numerator}-${meter.denominator}`,
    bars: String(barsUntil(clip.timeline, clip.length) - (clip.pickup > 0 ? 1 : 0)),
  };
}

/** The name of a clip's phrase from a pattern. */
export function phraseName(pattern: string, clip: Clip): string {
  const { take = '', part = '', source = '', project = '', start = 1, number = 1 } = clip.labels ?? {};
  return nameFrom(pattern, {
    ...clipFacts(clip),
    take,
    part: part.toLowerCase(),
    source,
    project,
    start: String(start),
    number: String(number),
  });
}

/** A name from a pattern; what has no value leaves no gap. At most 200 characters, never empty. */
export function nameFrom(pattern: string, values: Record<PhraseToken, string>): string {
  const name = filled(pattern, values);
  const tidy = name
    .replace(/\s+/g, ' ')
    .replace(/([,;:_-] ?)(?=\1)/g, '')
    .replace(/^[\s,;:_-]+|[\s,;:_-]+$/g, '');
  return tidy.slice(0, 200) || values.role;
}

/** A name that no other has: with its bars where the bare one is taken, and with a number where that is taken too. */
export function withoutTwin(
  name: string,
  taken: ReadonlySet<string>,
  { startBar, bars }: { startBar: number; bars: number },
): string {
  if (!taken.has(name)) return name;
  const where = bars === 1 ? `bar ${startBar}` : `bars ${startBar} to ${startBar + bars - 1}`;
  const told = `${name.slice(0, 160)}, ${where}`;
  for (let n = 1; ; n++) {
    const tried = n === 1 ? told : `${told}, ${n}`;
    if (!taken.has(tried)) return tried;
  }
}

/** Puts values into a pattern, and makes the result a name that every file system takes; `end` stands behind it, however long it is. */
export function fileName(pattern: string, values: Record<NameToken, string>, end = ''): string {
  return safeFileName(filled(pattern, values)).slice(0, LONGEST - end.length) + end;
}

/**
 * Letters, digits, dots, dashes and underscores; everything else becomes a dash, "#" becomes "sharp". Never
 * empty, never hidden, never a path, never a name that Windows keeps for devices. A word of the pattern that is empty leaves no gap.
 */
export function safeFileName(text: string): string {
  const plain = text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .replace(/#/g, 'sharp')
    .replace(/[^\p{L}\p{N}._-]+/gu, '-')
    .replace(/-*_-*/g, '_')
    .replace(/([-_.])\1+/g, '$1')
    .replace(/^[-_.]+|[-_.]+$/g, '')
    .slice(0, LONGEST);
  if (/^(con|prn|aux|nul|com\d|lpt\d)$/i.test(plain.split('.')[0]!)) return `${plain}-file`;
  return plain || 'unnamed';
}

/** The names, with "-2", "-3" behind those that came before. Upper and lower case count as the same. */
export function uniqueNames(names: readonly string[], gap = '-'): string[] {
  const taken = new Set<string>();
  return names.map((name) => {
    let unique = name;
    for (let n = 2; taken.has(unique.toLowerCase()); n++) unique = `${name}${gap}${n}`;
    taken.add(unique.toLowerCase());
    return unique;
  });
}
