import { kitPiece } from '../midi/gm.ts';
import { roundedBpm } from '../music/timeline.ts';
import { chordSymbol, movedChord, type ChordName } from '../music/chord.ts';
import { keySignature, hasMinorThird, sameKey, type Key } from '../music/key.ts';
import { sameMeter, type Meter } from '../music/meters.ts';
import { spellPitchClass } from '../music/spelling.ts';
import { QUARTER, type Sign } from './reading-rhythm.ts';

export type Clef = 'treble' | 'treble 8' | 'alto' | 'tenor' | 'bass' | 'percussion' | 'tab';

/** Signs of one staff: its bars, and before them what leads in, where it does. */
export interface Line {
  clef: Clef;
  bars: readonly (readonly Sign[])[];
  /** What sounds beside them in a lower voice; empty bars where nothing does. */
  lowerVoice?: readonly (readonly Sign[])[];
  /** An incomplete bar before bar one; empty where there is none. */
  pickup?: readonly Sign[];
}

/** A part as it is written: on one staff, or on two where it is for both hands. */
export interface Staff extends Line {
  name: string;
  /** The staff under it, of the same part. */
  lower?: Line;
  /** Open strings from the lowest, as pitches, where it is a tablature. */
  strings?: readonly number[];
  /** How its instrument sounds against what is written: the notes and chords here are as they sound. */
  transposes?: Transposing;
  /** Words under the notes of each bar, by the units at which they are sung. */
  words?: readonly ReadonlyMap<number, Word>[];
}

/** A written part sounds so many semitones, and so many steps of the scale, from what is written. */
export interface Transposing {
  chromatic: number;
  diatonic: number;
}

/** A syllable, and where it stands in its word. */
export interface Word {
  text: string;
  syllabic: 'single' | 'begin' | 'middle' | 'end';
}

/** A chord over a place of a bar. */
export interface Harmony {
  /** Units from the beginning of its bar. */
  at: number;
  chord: ChordName;
  symbol: string;
}

/** What stands at the beginning of a bar: said where it is not as before. */
export interface BarHead {
  key: Key | null;
  meter: Meter;
}

/** Bars, from 0, that are played several times and written once. */
export interface Repeat {
  from: number;
  bars: number;
  times: number;
}

export interface Score {
  title: string;
  bpm: number;
  /** Of each bar; there is one at least. */
  heads: readonly BarHead[];
  repeats: readonly Repeat[];
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
  const lead = Math.max(0, ...score.staves.map(leadOf));
  // Bars from 0, and before them an incomplete one where any part leads in.
  const numbers = [...(lead > 0 ? [PICKUP] : []), ...score.heads.keys()];
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
      ...numbers.map((n, at) =>
        measure(score, staff, { n, lead, isFirst: at === 0, harmony: (k === 0 && score.harmony[n]) || [] }),
      ),
      '</part>',
    ]),
    '</score-partwise>',
    '',
  ].join('\n');
}

const BARS_A_LINE = 4;

/** The bar before bar one. */
const PICKUP = -1;

const unitsIn = (signs: readonly Sign[] = []) => signs.reduce((sum, { units }) => sum + units, 0);

/** Units of the bar that leads in. */
const leadOf = ({ pickup, lower }: Staff) => Math.max(unitsIn(pickup), unitsIn(lower?.pickup));

/** A bar by its number from 0; units of the bar that leads in, whichever part does. */
interface Bar {
  n: number;
  lead: number;
  isFirst: boolean;
  harmony: readonly Harmony[];
}

function measure(score: Score, staff: Staff, { n, lead, isFirst, harmony }: Bar): string {
  const head = score.heads[Math.max(0, n)]!;
  const before = isFirst ? null : score.heads[Math.max(0, n - 1)]!;
  const key = writtenKey(head.key, staff);
  // A line has four bars (common practice), after an incomplete one if there is.
  const newLine = n > 0 && n % BARS_A_LINE === 0 ? ['<print new-system="yes"/>'] : [];
  const body = [...newLine, ...barlineBefore(score, n), headXml(staff, head, before)];
  if (isFirst) body.push(tempo(score.bpm));
  const lines = [staff, ...(staff.lower ? [{ ...staff, ...staff.lower }] : [])];
  lines.forEach((line, k) => {
    const upper = n === PICKUP ? led(line.pickup ?? [], lead) : line.bars[n]!;
    const lower = n === PICKUP ? [] : (line.lowerVoice?.[n] ?? []);
    const place = { key, staff: staff.lower ? k + 1 : null, hasTwo: lower.length > 0 };
    if (k > 0) body.push(back(upper));
    const waiting = k === 0 ? [...harmony] : [];
    for (const sign of upper) {
      while (waiting.length > 0 && waiting[0]!.at < sign.at + sign.units) {
        const next = waiting.shift()!;
        body.push(harmonyXml(writtenHarmony(next, staff, key), key, next.at - sign.at));
      }
      const word = k === 0 ? staff.words?.[n]?.get(sign.at) : undefined;
      body.push(...noteXml(sign, line, { ...place, voice: 4 * k + 1, word }));
    }
    if (lower.length === 0) return;
    body.push(back(upper));
    // Where the lower voice rests, the upper one tells how the bar goes.
    for (const sign of lower)
      body.push(
        ...(sign.pitches.length > 0
          ? noteXml(sign, line, { ...place, voice: 4 * k + 2 })
          : [`<forward><duration>${sign.units}</duration></forward>`]),
      );
  });
  body.push(...barlineAfter(score, n));
  const number = n === PICKUP ? 'number="0" implicit="yes"' : `number="${n + 1}"`;
  return `<measure ${number}>${body.join('')}</measure>`;
}

const back = (signs: readonly Sign[]) => `<backup><duration>${unitsIn(signs)}</duration></backup>`;

function barlineBefore({ repeats }: Score, n: number): string[] {
  return repeats.some(({ from }) => from === n)
    ? ['<barline location="left"><bar-style>heavy-light</bar-style><repeat direction="forward"/></barline>']
    : [];
}

/** The end, or where bars are gone back from: how often they are played in all is said where it is not twice. */
function barlineAfter({ repeats, heads }: Score, n: number): string[] {
  const repeat = repeats.find(({ from, bars }) => from + bars - 1 === n);
  if (!repeat && n < heads.length - 1) return [];
  const times = repeat && repeat.times !== 2 ? ` times="${repeat.times}"` : '';
  const sign = repeat ? `<repeat direction="backward"${times}/>` : '';
  const words =
    repeat && repeat.times > 2
      ? [`<direction placement="above"><direction-type><words>${repeat.times} times</words></direction-type></direction>`] // prettier-ignore
      : [];
  return [...words, `<barline location="right"><bar-style>light-heavy</bar-style>${sign}</barline>`];
}

/** What leads in, as long as the longest of those that do: others rest before. */
function led(signs: readonly Sign[], units: number): readonly Sign[] {
  const missing = units - unitsIn(signs);
  const rest: Sign = { at: 0, units: missing, pitches: [], tiedFrom: false, tiedTo: false };
  return missing > 0 ? [rest, ...signs] : signs;
}

/** The key that a part is written in. */
function writtenKey(key: Key | null, { transposes }: Staff): Key | null {
  return key && transposes ? { ...key, tonic: (key.tonic - transposes.chromatic + 24) % 12 } : key;
}

function writtenHarmony(harmony: Harmony, { transposes }: Staff, key: Key | null): Harmony {
  if (!transposes) return harmony;
  const chord = movedChord(harmony.chord, -transposes.chromatic);
  return { ...harmony, chord, symbol: chordSymbol(chord, key) };
}

/** Key and meter where they are not as before; with the first bar, all that is said of a staff. */
function headXml(staff: Staff, head: BarHead, before: BarHead | null): string {
  const key = writtenKey(head.key, staff);
  const mode = key ? `<mode>${hasMinorThird(key.mode) ? 'minor' : 'major'}</mode>` : '';
  const signature = `<key><fifths>${key ? keySignature(key) : 0}</fifths>${mode}</key>`;
  const { numerator, denominator } = head.meter;
  const time = `<time><beats>${numerator}</beats><beat-type>${denominator}</beat-type></time>`;
  if (!before) return attributes(staff, signature + time);
  const changed =
    (equalKeys(head.key, before.key) ? '' : signature) + (sameMeter(head.meter, before.meter) ? '' : time);
  return changed ? `<attributes>${changed}</attributes>` : '';
}

const equalKeys = (a: Key | null, b: Key | null) => a === b || (a !== null && b !== null && sameKey(a, b));

function attributes(staff: Staff, keyAndTime: string): string {
  const clefs = staff.lower
    ? CLEFS[staff.clef].replace('<clef>', '<clef number="1">') +
      CLEFS[staff.lower.clef].replace('<clef>', '<clef number="2">')
    : CLEFS[staff.clef];
  const { transposes } = staff;
  return [
    `<attributes><divisions>${QUARTER}</divisions>`,
    keyAndTime,
    staff.lower ? '<staves>2</staves>' : '',
    clefs,
    staff.strings ? tuning(staff.strings) : '',
    transposes
      ? `<transpose><diatonic>${transposes.diatonic}</diatonic><chromatic>${transposes.chromatic}</chromatic></transpose>`
      : '',
    '</attributes>',
  ].join('');
}

const CLEFS: Readonly<Record<Clef, string>> = {
  treble: '<clef><sign>G</sign><line>2</line></clef>',
  'treble 8': '<clef><sign>G</sign><line>2</line><clef-octave-change>-1</clef-octave-change></clef>',
  bass: '<clef><sign>F</sign><line>4</line></clef>',
  alto: '<clef><sign>C</sign><line>3</line></clef>',
  tenor: '<clef><sign>C</sign><line>4</line></clef>',
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

/** Where a note stands: its key, voice, staff of its part where that has two, and whether another voice sounds beside it. */
interface NotePlace {
  key: Key | null;
  voice: number;
  staff: number | null;
  hasTwo: boolean;
  word?: Word | undefined;
}

function noteXml(sign: Sign, staff: Staff, { key, voice, staff: at, hasTwo, word }: NotePlace): string[] {
  const { units, pitches, tiedFrom, tiedTo } = sign;
  const [type, dots, triplet] = TYPES[units] ?? ['', 0, false];
  const ratio = triplet
    ? '<time-modification><actual-notes>3</actual-notes><normal-notes>2</normal-notes></time-modification>'
    : '';
  const written =
    `<voice>${voice}</voice>` + (type ? `<type>${type}</type>${'<dot/>'.repeat(dots)}` : '') + ratio;
  const stem = hasTwo ? `<stem>${voice % 4 === 1 ? 'up' : 'down'}</stem>` : '';
  const onStaff = at === null ? '' : `<staff>${at}</staff>`;
  if (pitches.length === 0) return [`<note><rest/><duration>${units}</duration>${written}${onStaff}</note>`];
  const ties = `${tiedFrom ? '<tie type="stop"/>' : ''}${tiedTo ? '<tie type="start"/>' : ''}`;
  const tied = `${tiedFrom ? '<tied type="stop"/>' : ''}${tiedTo ? '<tied type="start"/>' : ''}`;
  const frets = staff.strings ? fingered(pitches, staff.strings) : [];
  const up = -(staff.transposes?.chromatic ?? 0);
  return pitches.map((pitch, k) => {
    const chord = k > 0 ? '<chord/>' : '';
    const place = frets[k]
      ? `<technical><string>${frets[k].string}</string><fret>${frets[k].fret}</fret></technical>`
      : '';
    const notations = tied || place ? `<notations>${tied}${place}</notations>` : '';
    const sounds = staff.clef === 'percussion' ? unpitchedXml(pitch) : pitchXml(pitch + up, key);
    const sung = word && k === 0 && !tiedFrom ? lyricXml(word) : '';
    const head = staff.clef === 'percussion' && isMetal(pitch) ? '<notehead>x</notehead>' : '';
    return `<note>${chord}${sounds}<duration>${units}</duration>${ties}${written}${stem}${head}${onStaff}${notations}${sung}</note>`;
  });
}

function lyricXml({ text, syllabic }: Word): string {
  return `<lyric><syllabic>${syllabic}</syllabic><text>${escaped(text)}</text></lyric>`;
}

function pitchXml(pitch: number, key: Key | null): string {
  const { step, alter, octave } = spelled(pitch, key);
  return `<pitch><step>${step}</step>${alter === 0 ? '' : `<alter>${alter}</alter>`}<octave>${octave}</octave></pitch>`;
}

/** Hats and cymbals, which are written with a cross (common practice). */
function isMetal(pitch: number): boolean {
  return ['closed hat', 'pedal hat', 'open hat', 'ride', 'crash'].includes(kitPiece(pitch));
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
