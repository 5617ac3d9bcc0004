import { roundedBpm } from '../music/timeline.ts';
import type { ChordName } from '../music/chord.ts';
import { keySignature, hasMinorThird, type Key } from '../music/key.ts';
import { spellPitchClass } from '../music/spelling.ts';
import { QUARTER, type Sign } from './reading-rhythm.ts';

/** A staff: what it is called, its clef, and its signs bar by bar. */
export interface Staff {
  name: string;
  clef: 'treble' | 'treble 8' | 'bass' | 'percussion' | 'tab';
  bars: readonly Sign[][];
  /** Open strings from the lowest, as pitches, and the place of each pitch of a sign; where it is a tablature. */
  strings?: readonly number[];
}

/** A chord over a place of a bar. */
export interface Harmony {
  /** Units from the beginning of its bar. */
  at: number;
  chord: ChordName;
  symbol: string;
}

export interface Score {
  title: string;
  key: Key | null;
  bpm: number;
  meter: { numerator: number; denominator: number };
  staves: readonly Staff[];
  /** Chords of each bar, over the first staff. */
  harmony: readonly (readonly Harmony[])[];
}

/** Kinds of chords as MusicXML 4.0 names them (W3C, "MusicXML 4.0", 2021; from memory); what is not here is "other", with its symbol. */
const KINDS: Readonly<Record<string, string>> = {
  '': 'major',
  m: 'minor',
  '7': 'dominant',
  m7: 'minor-seventh',
  maj7: 'major-seventh',
  sus4: 'suspended-fourth',
  sus2: 'suspended-second',
  dim: 'diminished',
  m7b5: 'half-diminished',
  dim7: 'diminished-seventh',
  '6': 'major-sixth',
  m6: 'minor-sixth',
  '9': 'dominant-ninth',
  maj9: 'major-ninth',
  m9: 'minor-ninth',
  aug: 'augmented',
  mMaj7: 'major-minor',
  '5': 'power',
};

/** A score as MusicXML 4.0, part by part. */
export function writeMusicXml(score: Score): string {
  const parts = score.staves.map((staff, k) => ({ staff, id: `P${k + 1}` }));
  return [
    '<?xml version="1.0" encoding="UTF-8"?>',
    '<!DOCTYPE score-partwise PUBLIC "-//Recordare//DTD MusicXML 4.0 Partwise//EN" "http://www.musicxml.org/dtds/partwise.dtd">',
    '<score-partwise version="4.0">',
    `<work><work-title>${escaped(score.title)}</work-title></work>`,
    '<part-list>',
    ...parts.map(
      ({ staff, id }) => `<score-part id="${id}"><part-name>${escaped(staff.name)}</part-name></score-part>`,
    ),
    '</part-list>',
    ...parts.flatMap(({ staff, id }, k) => [
      `<part id="${id}">`,
      ...staff.bars.map((bar, n) => measure(score, staff, bar, n, k === 0 ? (score.harmony[n] ?? []) : [])),
      '</part>',
    ]),
    '</score-partwise>',
    '',
  ].join('\n');
}

function measure(
  score: Score,
  staff: Staff,
  signs: readonly Sign[],
  n: number,
  harmony: readonly Harmony[],
): string {
  const body: string[] = [];
  if (n === 0) body.push(attributes(score, staff), tempo(score.bpm));
  const waiting = [...harmony];
  for (const sign of signs) {
    while (waiting.length > 0 && waiting[0]!.at < sign.at + sign.units) {
      const next = waiting.shift()!;
      body.push(harmonyXml(next, score.key, next.at - sign.at));
    }
    body.push(...noteXml(sign, staff, score.key));
  }
  const isLast = n === staff.bars.length - 1;
  if (isLast) body.push('<barline location="right"><bar-style>light-heavy</bar-style></barline>');
  return `<measure number="${n + 1}">${body.join('')}</measure>`;
}

function attributes({ key, meter }: Score, staff: Staff): string {
  const fifths = key ? keySignature(key) : 0;
  const mode = key ? `<mode>${hasMinorThird(key.mode) ? 'minor' : 'major'}</mode>` : '';
  return [
    `<attributes><divisions>${QUARTER}</divisions>`,
    `<key><fifths>${fifths}</fifths>${mode}</key>`,
    `<time><beats>${meter.numerator}</beats><beat-type>${meter.denominator}</beat-type></time>`,
    CLEFS[staff.clef],
    staff.strings ? tuning(staff.strings) : '',
    '</attributes>',
  ].join('');
}

const CLEFS: Readonly<Record<Staff['clef'], string>> = {
  treble: '<clef><sign>G</sign><line>2</line></clef>',
  'treble 8': '<clef><sign>G</sign><line>2</line><clef-octave-change>-1</clef-octave-change></clef>',
  bass: '<clef><sign>F</sign><line>4</line></clef>',
  percussion: '<clef><sign>percussion</sign></clef>',
  tab: '<clef><sign>TAB</sign><line>5</line></clef>',
};

function tuning(strings: readonly number[]): string {
  const each = strings.map((pitch, k) => {
    const { step, alter, octave } = spelled(pitch, null);
    const sharp = alter === 0 ? '' : `<tuning-alter>${alter}</tuning-alter>`;
    return `<staff-tuning line="${k + 1}"><tuning-step>${step}</tuning-step>${sharp}<tuning-octave>${octave}</tuning-octave></staff-tuning>`;
  });
  return `<staff-details><staff-lines>${strings.length}</staff-lines>${each.join('')}</staff-details>`;
}

function tempo(bpm: number): string {
  const rounded = roundedBpm(bpm);
  return (
    `<direction placement="above"><direction-type><metronome><beat-unit>quarter</beat-unit>` +
    `<per-minute>${rounded}</per-minute></metronome></direction-type><sound tempo="${rounded}"/></direction>`
  );
}

function harmonyXml({ chord, symbol }: Harmony, key: Key | null, offset: number): string {
  const root = letters(spellPitchClass(chord.root, key));
  const alter = (name: string, value: number) => (value === 0 ? '' : `<${name}>${value}</${name}>`);
  const kind = KINDS[chord.quality.symbol] ?? 'other';
  const bass = chord.bass === chord.root ? null : letters(spellPitchClass(chord.bass, key));
  return [
    '<harmony>',
    `<root><root-step>${root.step}</root-step>${alter('root-alter', root.alter)}</root>`,
    `<kind text="${escaped(kind === 'other' ? symbolAfterRoot(symbol) : chord.quality.symbol)}">${kind}</kind>`,
    bass ? `<bass><bass-step>${bass.step}</bass-step>${alter('bass-alter', bass.alter)}</bass>` : '',
    offset > 0 ? `<offset>${offset}</offset>` : '',
    '</harmony>',
  ].join('');
}

const symbolAfterRoot = (symbol: string) => symbol.replace(/^[A-G][#b]*/, '').replace(/\/[A-G][#b]*$/, '');

/** Type, dots and whether it is of a triplet, by units. */
const TYPES: Readonly<Record<number, [type: string, dots: number, triplet: boolean]>> = {
  48: ['whole', 0, false],
  36: ['half', 1, false],
  24: ['half', 0, false],
  18: ['quarter', 1, false],
  12: ['quarter', 0, false],
  9: ['eighth', 1, false],
  8: ['quarter', 0, true],
  6: ['eighth', 0, false],
  4: ['eighth', 0, true],
  3: ['16th', 0, false],
};

function noteXml(sign: Sign, staff: Staff, key: Key | null): string[] {
  const { units, pitches, tiedFrom, tiedTo } = sign;
  const [type, dots, triplet] = TYPES[units] ?? ['', 0, false];
  const written = type ? `<type>${type}</type>${'<dot/>'.repeat(dots)}` : '';
  const ratio = triplet
    ? '<time-modification><actual-notes>3</actual-notes><normal-notes>2</normal-notes></time-modification>'
    : '';
  if (pitches.length === 0) return [`<note><rest/><duration>${units}</duration>${written}${ratio}</note>`];
  const ties = `${tiedFrom ? '<tie type="stop"/>' : ''}${tiedTo ? '<tie type="start"/>' : ''}`;
  const tied = `${tiedFrom ? '<tied type="stop"/>' : ''}${tiedTo ? '<tied type="start"/>' : ''}`;
  const frets = staff.strings ? fingered(pitches, staff.strings) : [];
  return pitches.map((pitch, k) => {
    const chord = k > 0 ? '<chord/>' : '';
    const place = frets[k]
      ? `<technical><string>${frets[k].string}</string><fret>${frets[k].fret}</fret></technical>`
      : '';
    const notations = tied || place ? `<notations>${tied}${place}</notations>` : '';
    const sounds = staff.clef === 'percussion' ? unpitchedXml(pitch) : pitchXml(pitch, key);
    return `<note>${chord}${sounds}<duration>${units}</duration>${ties}${written}${ratio}${notations}</note>`;
  });
}

function pitchXml(pitch: number, key: Key | null): string {
  const { step, alter, octave } = spelled(pitch, key);
  return `<pitch><step>${step}</step>${alter === 0 ? '' : `<alter>${alter}</alter>`}<octave>${octave}</octave></pitch>`;
}

/** Where a drum stands on its staff: kick low, snare in the middle, hats and cymbals high (common practice). */
function unpitchedXml(pitch: number): string {
  const [step, octave] =
    pitch <= 36
      ? ['F', 4]
      : pitch <= 40
        ? ['C', 5]
        : pitch <= 50 && ![42, 44, 46, 49].includes(pitch)
          ? ['A', 4]
          : ['G', 5];
  return `<unpitched><display-step>${step}</display-step><display-octave>${octave}</display-octave></unpitched>`;
}

function letters(name: string): { step: string; alter: number } {
  const signs = name.slice(1);
  return { step: name[0]!, alter: signs.startsWith('b') ? -signs.length : signs.length };
}

/** Letter, accidental and octave of a pitch in a key; middle C is C4. */
function spelled(pitch: number, key: Key | null): { step: string; alter: number; octave: number } {
  const { step, alter } = letters(spellPitchClass(pitch % 12, key));
  // The octave is the letter's: B sharp under middle C is B3, C flat over it C4.
  return { step, alter, octave: Math.floor((pitch - alter) / 12) - 1 };
}

/** A string and a fret for each pitch, low to high: each on the highest free string that has it. Strings count from the top. */
export function fingered(
  pitches: readonly number[],
  strings: readonly number[],
): ({ string: number; fret: number } | null)[] {
  let free = strings.length;
  const result = [...pitches]
    .map((pitch, k) => ({ pitch, k }))
    .sort((a, b) => b.pitch - a.pitch)
    .map(({ pitch, k }) => {
      let at = free - 1;
      while (at >= 0 && strings[at]! > pitch) at--;
      if (at < 0) return { k, place: null };
      free = at;
      return { k, place: { string: strings.length - at, fret: pitch - strings[at]! } };
    });
  return result.sort((a, b) => a.k - b.k).map(({ place }) => place);
}

function escaped(text: string): string {
  return text
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;');
}
