import { pitchClass } from './pitch.ts';

/** Degrees a chord is built of: 3 is the second or fourth where it is suspended, 7 the sixth where it has one in its place. */
export const DEGREES = [1, 3, 5, 7, 9, 11, 13] as const;
export type Degree = (typeof DEGREES)[number];

/** Semitones over the root, 0..11, by degree; a degree that is left out does not sound. */
export type Degrees = Readonly<Partial<Record<Degree, number>>>;

/** A kind of chord. */
export interface ChordQuality {
  /** After the root in a symbol: "" for major. */
  symbol: string;
  /** Shorthand, or degrees, after the colon (Harte et al., "Symbolic representation of musical chords", ISMIR 2005). */
  harte: string;
  degrees: Degrees;
  /** Its tones in semitones over the root, root first. */
  tones: readonly number[];
  /** Written in a Roman numeral after the degree. */
  figure: string;
  /** Whether the degree is written small. */
  small: boolean;
}

const MAJOR: Degrees = { 1: 0, 3: 4, 5: 7 };
const MINOR: Degrees = { 1: 0, 3: 3, 5: 7 };

const heard = (
  symbol: string,
  harte: string,
  degrees: Degrees,
  figure = symbol,
  small = false,
): ChordQuality => ({ symbol, harte, degrees, tones: tonesOf(degrees), figure, small });

/** The chords that are heard in music (common practice), commonest first: of equals the earlier is taken. */
export const CHORD_QUALITIES: readonly ChordQuality[] = [
  heard('', 'maj', MAJOR),
  heard('m', 'min', MINOR, '', true),
  heard('7', '7', { ...MAJOR, 7: 10 }),
  heard('m7', 'min7', { ...MINOR, 7: 10 }, '7', true),
  heard('maj7', 'maj7', { ...MAJOR, 7: 11 }),
  heard('sus4', 'sus4', { 1: 0, 3: 5, 5: 7 }),
  heard('sus2', 'sus2', { 1: 0, 3: 2, 5: 7 }),
  heard('dim', 'dim', { 1: 0, 3: 3, 5: 6 }, '°', true),
  heard('m7b5', 'hdim7', { 1: 0, 3: 3, 5: 6, 7: 10 }, 'ø7', true),
  heard('dim7', 'dim7', { 1: 0, 3: 3, 5: 6, 7: 9 }, '°7', true),
  heard('6', 'maj6', { ...MAJOR, 7: 9 }),
  heard('m6', 'min6', { ...MINOR, 7: 9 }, '6', true),
  heard('add9', 'maj(9)', { ...MAJOR, 9: 2 }),
  heard('7sus4', 'sus4(b7)', { 1: 0, 3: 5, 5: 7, 7: 10 }),
  heard('9', '9', { ...MAJOR, 7: 10, 9: 2 }),
  heard('maj9', 'maj9', { ...MAJOR, 7: 11, 9: 2 }),
  heard('m9', 'min9', { ...MINOR, 7: 10, 9: 2 }, '9', true),
  heard('aug', 'aug', { 1: 0, 3: 4, 5: 8 }, '+'),
  heard('mMaj7', 'minmaj7', { ...MINOR, 7: 11 }, 'maj7', true),
  heard('maj9#11', 'maj9(#11)', { ...MAJOR, 7: 11, 9: 2, 11: 6 }),
  heard('5', '(1,5)', { 1: 0, 5: 7 }),
];

function tonesOf(degrees: Degrees): number[] {
  return [...new Set(DEGREES.flatMap((degree) => degrees[degree] ?? []))];
}

/** The quality with such degrees, spelled in one way however it was written. */
export function qualityOf(degrees: Degrees): ChordQuality {
  const symbol = symbolOf(degrees);
  const known = CHORD_QUALITIES.find((quality) => quality.symbol === symbol);
  if (known) return known;
  const small = degrees[3] === 3;
  return {
    symbol,
    harte: `(${DEGREES.flatMap((degree) => harteDegree(degree, degrees[degree])).join(',')})`,
    degrees,
    tones: tonesOf(degrees),
    figure: small ? symbol.replace(/^m(?!aj)/, '').replace(/^Maj/, 'maj') : symbol,
    small,
  };
}

/** Semitones over the root of each degree in its plain form, and what is written before it where it lies elsewhere. */
const PLAIN: Record<Degree, number> = { 1: 0, 3: 4, 5: 7, 7: 11, 9: 2, 11: 5, 13: 9 };

function signed(degree: Degree, semitones: number): string {
  const by = ((semitones - PLAIN[degree] + 18) % 12) - 6;
  return `${by < 0 ? 'b'.repeat(-by) : '#'.repeat(by)}${degree}`;
}

function harteDegree(degree: Degree, semitones: number | undefined): string[] {
  if (semitones === undefined) return [];
  if (degree === 3 && semitones !== 3 && semitones !== 4) return [semitones === 2 ? '2' : '4'];
  if (degree === 7 && semitones === 9) return ['6'];
  return [signed(degree, semitones)];
}

/** The one spelling of some degrees: "m7b5", "13#11", "6/9". Read back by `parseQuality`. */
function symbolOf(degrees: Degrees): string {
  const { 3: third, 5: fifth, 7: seventh, 9: ninth, 11: eleventh, 13: thirteenth } = degrees;
  const [said, tensions] = stem(degrees);
  const left = new Map<Degree, number>();
  const tension = (degree: Degree, semitones: number | undefined) => {
    if (semitones !== undefined && !tensions.includes(degree)) left.set(degree, semitones);
  };
  tension(9, ninth);
  tension(11, eleventh);
  tension(13, thirteenth);
  const isStacked = seventh === 10 || seventh === 11;
  const fifthSaid = /dim|aug/.test(said) || fifth === 7 || fifth === undefined;
  const altered = [
    ...(fifthSaid ? [] : [signed(5, fifth!)]),
    ...[...left].map(([degree, semitones]) =>
      isStacked && semitones !== PLAIN[degree]
        ? signed(degree, semitones)
        : `add${signed(degree, semitones)}`,
    ),
  ].join('');
  const sus = third === 5 ? 'sus4' : third === 2 ? 'sus2' : '';
  const impliesNoThird = said === '5' || said.startsWith('11');
  const noThird = third === undefined && !impliesNoThird ? 'no3' : '';
  const noFifth = fifth === undefined ? 'no5' : '';
  return said + altered + sus + noThird + noFifth;
}

/** What a symbol begins with, and the tensions that are said by it. */
function stem(degrees: Degrees): [string, Degree[]] {
  const { 3: third, 5: fifth, 7: seventh, 9: ninth, 11: eleventh, 13: thirteenth } = degrees;
  const small = third === 3 ? 'm' : '';
  if (seventh === undefined || seventh === 9) {
    if (third === 3 && fifth === 6) return [seventh === 9 ? 'dim7' : 'dim', []];
    if (seventh === 9) return ninth === 2 ? [`${small}6/9`, [9]] : [`${small}6`, []];
    if (third === 4 && fifth === 8) return ['aug', []];
    if (third === undefined && fifth === 7 && ninth === undefined) return ['5', []];
    return [small, []];
  }
  const kind = seventh === 11 ? (small ? 'mMaj' : 'maj') : small;
  // A number says the seventh and what lies under it, as far as it is there.
  if (thirteenth === 9 && ninth !== undefined) {
    return [`${kind}13`, [...(ninth === 2 ? [9 as const] : []), 13]];
  }
  if (eleventh === 5 && ninth !== undefined && (third === undefined || third === 3)) {
    return [`${kind}11`, [...(ninth === 2 ? [9 as const] : []), 11]];
  }
  return ninth === 2 ? [`${kind}9`, [9]] : [`${kind}7`, []];
}

/** Other ways to write what stands in a symbol (common practice), each by what it is here. */
const OTHERWISE: readonly [RegExp, string][] = [
  [/♭/g, 'b'],
  [/♯/g, '#'],
  [/[(),\s]/g, ''],
  [/^(?:Δ|\^)$/, 'maj7'],
  [/Δ(?=9|11|13)|\^(?=\d)/g, 'maj'],
  [/Δ7?/g, 'maj7'],
  [/\^/g, 'maj'],
  [/^(m|-)\/?(?:maj?|M)(?=\d)/i, 'mmaj'],
  [/^min?(?!aj)/, 'm'],
  [/^-/, 'm'],
  [/^(?:Maj|ma(?!j)|M)(?=\d|$|[b#+]|add|sus)/, 'maj'],
  [/M(?=7)|maj?(?=7)/g, 'maj'],
  [/^dom/, '7'],
  [/^(?:°|o)/, 'dim'],
  [/^(?:ø|h)7?/, 'm7b5'],
  [/^alt7?$|^7alt$/, '7#5#9'],
  [/^aug7$|^7aug$|^7\+$|^\+7$/, '7#5'],
  [/^\+maj7$/, 'maj7#5'],
  [/^9\+$/, '9#5'],
  [/^\+(?!\d)/, 'aug'],
  [/6\/9|69|6add9/, '6add9'],
  [/^67/, '7add13'],
  [/^b9sus4?$/, '7b9sus4'],
  [/sus24|sus4add9/, 'sus4add9'],
  [/omit/g, 'no'],
  [/^m\+$/, 'm#5'],
];

/**
 * Reads what stands after the root of a symbol: "m7b5", "13", "C6/9" without its C. Undefined where it is no chord, or one
 * that is read in several ways ("2", "4").
 */
export function parseQuality(text: string): ChordQuality | undefined {
  const plain = OTHERWISE.reduce((now, [from, to]) => now.replace(from, to), text.trim());
  const [, kind = '', number, rest = ''] =
    /^(mmaj|maj|m|dim|aug)?(5(?!\d)|6|7|9|11|13)?(.*)$/.exec(plain) ?? [];
  const stemmed = stemDegrees(kind, number);
  if (!stemmed) return undefined;
  const degrees = further(stemmed, rest);
  return degrees && qualityOf(degrees);
}

type Growing = Partial<Record<Degree, number>>;

function stemDegrees(kind: string, number: string | undefined): Growing | undefined {
  const degrees: Growing = {
    1: 0,
    3: kind === 'm' || kind === 'mmaj' || kind === 'dim' ? 3 : 4,
    5: kind === 'dim' ? 6 : kind === 'aug' ? 8 : 7,
  };
  const major = kind === 'maj' || kind === 'mmaj';
  switch (number) {
    case undefined:
      return kind === 'mmaj' ? undefined : degrees;
    case '5':
      return kind === '' ? { 1: 0, 5: 7 } : undefined;
    case '6':
      return { ...degrees, 7: 9 };
    default: {
      const seventh = major ? 11 : kind === 'dim' ? (number === '7' ? 9 : 10) : 10;
      const stacked: Growing = { ...degrees, 7: seventh };
      if (number !== '7') stacked[9] = 2;
      if (number === '11') {
        stacked[11] = 5;
        // An eleventh a ninth over a major third is left to the chords that say it (common practice).
        if (degrees[3] === 4 && !major) delete stacked[3];
      }
      if (number === '13') stacked[13] = 9;
      return stacked;
    }
  }
}

const ALTERED: Readonly<Record<string, [Degree, number]>> = {
  b5: [5, 6],
  '#5': [5, 8],
  '+5': [5, 8],
  '-5': [5, 6],
  b6: [13, 8],
  b9: [9, 1],
  '-9': [9, 1],
  '#9': [9, 3],
  '+9': [9, 3],
  '#4': [11, 6],
  '+4': [11, 6],
  '#11': [11, 6],
  '+11': [11, 6],
  b13: [13, 8],
  '-13': [13, 8],
  maj7: [7, 11],
};

const ADDED: Readonly<Record<string, [Degree, number]>> = {
  '2': [9, 2],
  '4': [11, 5],
  '6': [13, 9],
  '9': [9, 2],
  '11': [11, 5],
  '13': [13, 9],
};

/** What is written after the stem, taken in order; undefined where something cannot be read. */
function further(stemmed: Growing, rest: string): Growing | undefined {
  let degrees = stemmed;
  let left = rest;
  while (left !== '') {
    const [token = ''] = /^(?:sus[24]?|no[35]|add[b#]?\d+|maj7|[b#+-]\d+)/.exec(left) ?? [];
    if (token === '') return undefined;
    left = left.slice(token.length);
    const next = withToken(degrees, token);
    if (!next) return undefined;
    degrees = next;
  }
  return degrees;
}

function withToken(degrees: Growing, token: string): Growing | undefined {
  if (token.startsWith('sus')) {
    return degrees[3] === 3 ? undefined : { ...degrees, 3: token === 'sus2' ? 2 : 5 };
  }
  if (token.startsWith('no')) {
    const { [Number(token.slice(2)) as Degree]: _, ...others } = degrees;
    return others;
  }
  const added = token.startsWith('add') ? token.slice(3) : undefined;
  const [degree, semitones] = (added === undefined ? ALTERED[token] : (ADDED[added] ?? ALTERED[added])) ?? [];
  if (degree === undefined) return undefined;
  // A sixth beside no seventh is what "6" says.
  if (degree === 13 && semitones === 9 && degrees[7] === undefined) return { ...degrees, 7: 9 };
  // Two ninths, two elevenths: no chord of this vocabulary.
  if (degree >= 9 && degrees[degree] !== undefined && degrees[degree] !== PLAIN[degree]) return undefined;
  return { ...degrees, [degree]: pitchClass(semitones!) };
}
