import { GM_DRUM_CHANNEL } from '../midi/gm.ts';
import type { ChartChord } from '../music/chart.ts';
import { pitchClass } from '../music/pitch.ts';
import { barTicks } from '../music/timeline.ts';
import { PPQ, type Performance, type Played, type PlayedPart } from './performance.ts';
import { seededRandom } from '../random.ts';

/** What goes wrong with real devices, each a switch. */
export const MISHAPS = {
  drumChannel: 'drums on another channel than the tenth',
  oneTrack: 'everything on one track and channel',
  pieces: 'one part in several tracks',
  lateStart: 'begins a beat and a half late',
  wrongThird: 'a suspended chord with its third in it',
  hungNote: 'a note that never ends',
  doubled: 'every note twice',
  tailBars: 'bars after what was asked',
  oneBar: 'one bar only, of a pattern that should repeat',
  click: 'a click track along with it',
  layered: 'one part on two sounds',
} as const;

export type Mishap = keyof typeof MISHAPS;

/** Bars that a device adds unasked: usually two, sometimes one or four (common practice). */
export function addedBars(seed: number): number {
  const kind = seed % 11;
  return kind === 5 || kind === 9 ? 4 : kind === 8 || kind === 10 ? 1 : 2;
}

/** A hand may be a little ahead of the bar, in ticks. */
const EARLY = PPQ / 8;

/** Milliseconds between a note and its double: a generator that hears its own notes answers about so fast. */
const DOUBLE_MS = 4;

/** The chart with each suspended chord's second or fourth made a major third, where that mishap is on. */
export function mistaken(chart: ChartChord[][], mishaps: readonly Mishap[]): ChartChord[][] {
  if (!mishaps.includes('wrongThird')) return chart;
  return chart.map((bar) =>
    bar.map((chord) => {
      if (!/sus/.test(chord.symbol)) return chord;
      const third = pitchClass(chord.root + 4);
      return {
        ...chord,
        tones: chord.tones.map((tone) => ([2, 5].includes(pitchClass(tone - chord.root)) ? third : tone)),
      };
    }),
  );
}

/** A performance with its mishaps, in the order in which they happen to devices. */
export function withMishaps(clean: Performance, mishaps: readonly Mishap[], seed: number): Performance {
  const has = (mishap: Mishap) => mishaps.includes(mishap);
  let parts = clean.parts;
  if (has('oneBar'))
    parts = eachNote(parts, (note) => (note.tick < barTicks(PPQ, clean.meter) - EARLY ? [note] : []));
  if (has('tailBars')) parts = withTail({ ...clean, parts }, seed);
  if (has('hungNote')) parts = withHungNote(parts, seed);
  if (has('doubled')) {
    const later = Math.max(1, Math.round((DOUBLE_MS / 60_000) * clean.bpm * PPQ));
    parts = eachNote(parts, (note) => [note, { ...note, tick: note.tick + later }]);
  }
  if (has('lateStart')) parts = eachNote(parts, (note) => [{ ...note, tick: note.tick + PPQ * 1.5 }]);
  if (has('drumChannel')) parts = withDrumsElsewhere(parts);
  if (has('pieces')) parts = inPieces({ ...clean, parts });
  if (has('layered')) parts = withLayer(parts);
  if (has('click')) parts = withClick({ ...clean, parts });
  if (has('oneTrack')) {
    const notes = parts.flatMap((part) => part.notes);
    parts = [{ name: clean.title, channel: 0, program: null, notes }];
  }
  return { ...clean, parts };
}

function eachNote(parts: PlayedPart[], change: (note: Played) => Played[]): PlayedPart[] {
  return parts.map((part) => ({ ...part, notes: part.notes.flatMap(change) }));
}

/** How devices go on behind the end: most begin again, some let their last chord ring, some close with the drums (common practice). */
function withTail(performance: Performance, seed: number): PlayedPart[] {
  const added = addedBars(seed);
  const kind = seed % 5;
  if (kind === 1) return withRing(performance, added);
  return kind === 4 ? withClose(performance, added) : withBeginning(performance, added);
}

/** The first bars again after the end. */
function withBeginning({ parts, bars, meter }: Performance, added: number): PlayedPart[] {
  const end = bars * barTicks(PPQ, meter);
  const tail = added * barTicks(PPQ, meter);
  return eachNote(parts, (note) =>
    note.tick < tail - EARLY ? [note, { ...note, tick: note.tick + end }] : [note],
  );
}

/** What each part strikes first, once more, and held to the last of the added bars. */
function withRing({ parts, bars, meter }: Performance, added: number): PlayedPart[] {
  const end = bars * barTicks(PPQ, meter);
  const tail = added * barTicks(PPQ, meter);
  return parts.map((part) => {
    const first = Math.min(...part.notes.map(({ tick }) => tick));
    const stroke = part.notes.filter(({ tick }) => tick < first + EARLY);
    // Somebody has to keep the last of the bars.
    const again = [0, tail - barTicks(PPQ, meter)].filter((at, k) => k === 0 || at > 0);
    const ring = again.flatMap((at, k) =>
      stroke.map((note) => ({
        ...note,
        tick: end + at,
        length: (k === again.length - 1 ? tail - at : again[k + 1]! - at) - EARLY,
      })),
    );
    return { ...part, notes: [...part.notes, ...ring] };
  });
}

/** A chord once, and the kit that runs down in sixteenths to a last stroke. */
function withClose(performance: Performance, added: number): PlayedPart[] {
  const { bars, meter } = performance;
  const end = bars * barTicks(PPQ, meter);
  const tail = added * barTicks(PPQ, meter);
  return withRing(performance, added).map((part) => {
    if (part.channel !== GM_DRUM_CHANNEL) return part;
    const toms = [50, 48, 47, 45, 43, 41];
    const run = Array.from({ length: Math.floor((tail - PPQ) / (PPQ / 4)) }, (_, k) => ({
      ...{ tick: end + k * (PPQ / 4), length: PPQ / 8 },
      ...{ pitch: toms[Math.floor(k / 4) % toms.length]!, velocity: 70 + (k % 4) * 8 },
    }));
    return { ...part, notes: [...part.notes.filter(({ tick }) => tick < end), ...run] };
  });
}

/** One note of the first half whose end is never sent. */
function withHungNote(parts: PlayedPart[], seed: number): PlayedPart[] {
  const random = seededRandom(seed);
  const part =
    parts.find(({ channel, notes }) => channel !== GM_DRUM_CHANNEL && notes.length > 0) ?? parts[0];
  if (!part) return parts;
  const hung = part.notes[Math.floor((random() * part.notes.length) / 2)];
  const notes = part.notes.map((note) => (note === hung ? { ...note, hung: true } : note));
  return parts.map((other) => (other === part ? { ...part, notes } : other));
}

function freeChannel(parts: readonly PlayedPart[]): number {
  const taken = new Set([...parts.map(({ channel }) => channel), GM_DRUM_CHANNEL]);
  return [...Array(16).keys()].find((channel) => !taken.has(channel)) ?? 15;
}

/** The last pitched part again, on another sound. */
function withLayer(parts: PlayedPart[]): PlayedPart[] {
  const whole = parts.findLast(({ channel, notes }) => channel !== GM_DRUM_CHANNEL && notes.length > 0);
  if (!whole) return parts;
  const layer = {
    ...whole,
    name: `${whole.name} layer`,
    channel: freeChannel(parts),
    program: LAYER_PROGRAM,
  };
  return [...parts, layer];
}

/** String Ensemble 1, from 0: what sounds are layered with. */
const LAYER_PROGRAM = 48;

/** Pitches of a click on a device without a drum channel: high on the first of the bar. */
const CLICK_FIRST = 84;
const CLICK_OTHER = 79;

function withClick({ parts, bars, meter }: Performance): PlayedPart[] {
  const beat = (PPQ * 4) / meter.denominator;
  const notes = Array.from({ length: bars * meter.numerator }, (_, at) => ({
    tick: at * beat,
    length: PPQ / 8,
    pitch: at % meter.numerator === 0 ? CLICK_FIRST : CLICK_OTHER,
    velocity: at % meter.numerator === 0 ? 112 : 92,
  }));
  return [...parts, { name: 'Track 9', channel: freeChannel(parts), program: null, notes }];
}

function withDrumsElsewhere(parts: PlayedPart[]): PlayedPart[] {
  const free = freeChannel(parts);
  return parts.map((part) =>
    part.channel === GM_DRUM_CHANNEL ? { ...part, channel: free, program: null } : part,
  );
}

/** The bass (or the first part) as three tracks: its line, what leads into every fourth bar, and its ending. */
function inPieces({ parts, bars, meter }: Performance): PlayedPart[] {
  const bar = barTicks(PPQ, meter);
  const beat = (PPQ * 4) / meter.denominator;
  const whole = parts.find(({ name }) => name === 'Bass') ?? parts[0];
  if (!whole) return parts;
  const kind = ({ tick }: Played) => {
    const at = tick + EARLY;
    if (at >= bars * bar) return 'ending';
    return Math.floor(at / bar) % 4 === 3 && at % bar >= bar - beat ? 'pickup' : 'line';
  };
  const piece = (suffix: string, wanted: string): PlayedPart => ({
    ...whole,
    name: whole.name + suffix,
    notes: whole.notes.filter((note) => kind(note) === wanted),
  });
  const pieces = [piece('', 'line'), piece(' pickup', 'pickup'), piece(' ending', 'ending')];
  // Devices that write pieces also write tracks with nothing on them.
  const empty: PlayedPart = { name: 'Lyrics', channel: 15, program: null, notes: [] };
  return [...parts.flatMap((part) => (part === whole ? pieces : [part])), empty];
}
