import { groups, range } from 'd3-array';
import { META, metaEvent, type MidiEvent, type MidiFile } from '../midi/smf.ts';
import { encodeText } from '../midi/text.ts';
import { commonResolution } from '../music/timeline.ts';

/** What is known of a file when its likes are looked for. */
export interface PassCandidate {
  /** Name without folders or ending. */
  name: string;
  bars: number;
  bpm: number | null;
}

/** Words by which files that belong together differ (common practice). */
const INSTRUMENT =
  /\b(acoustic|electric|drums?|kit|perc(ussion)?|bass|keys|piano|organ|guitars?|gtr|strings?|pads?|brass|horns?|reeds?|sax|lead|melody|voice|choir|arp(eggio)?|chords?|click|harp|flute|violins?|cello)\b/gi;

/** A name without its instrument: what files of one performance share. Undefined where it names none. */
function stem(name: string): string | undefined {
  const words = name.replace(/[_.-]+/g, ' ').toLowerCase();
  const without = words
    .replace(INSTRUMENT, ' ')
    .replace(/\s+\d{1,2}$/, ' ')
    .replace(/\s+/g, ' ')
    .trim();
  return without !== words.replace(/\s+/g, ' ').trim() && without !== '' ? without : undefined;
}

/**
 * Groups (indices) of files that are passes of one performance by their names and lengths: the same name but for
 * the instrument, the same tempo, and as many bars give or take one.
 */
export function findPasses(files: readonly PassCandidate[]): { name: string; files: number[] }[] {
  const byStem = groups(range(files.length), (index) => stem(files[index]!.name));
  return byStem.flatMap(([name, group]) => {
    if (!name) return [];
    const first = files[group[0]!]!;
    const alike = group.filter((index) => {
      const { bars, bpm } = files[index]!;
      const tempo =
        bpm === first.bpm || (bpm !== null && first.bpm !== null && Math.abs(bpm / first.bpm - 1) < 0.005);
      return tempo && Math.abs(bars - first.bars) <= 1;
    });
    return alike.length > 1
      ? [{ name: name.replace(/^./, (letter) => letter.toUpperCase()), files: alike }]
      : [];
  });
}

/**
 * Passes as one file: all begin at bar one, each keeps its own tracks, and the first one's tempo and meter hold.
 * Ticks stay exact where the resolutions have a common multiple that a file can say.
 */
export function joinPasses(name: string, passes: readonly { name: string; midi: MidiFile }[]): MidiFile {
  const resolutions = passes.map(({ midi }) => (midi.division.kind === 'metrical' ? midi.division.ppq : 480));
  const ppq = commonResolution(resolutions);
  const tracks = passes.flatMap(({ name: passName, midi }, index) => {
    const scale = ppq / resolutions[index]!;
    return midi.tracks
      .map((events) => events.map((event) => ({ ...event, tick: Math.round(event.tick * scale) })))
      .map((events) => (index === 0 ? events : events.filter((event) => !keepsTime(event))))
      .filter((events) => index === 0 || events.some(({ status }) => status < 0xf8))
      .map((events) => named(events, passName));
  });
  const head = passes[0]!.midi.tracks.length > 1 ? [] : [[...timeOf(tracks[0]!, name)]];
  return { format: 1, division: { kind: 'metrical', ppq }, otherChunks: [], tracks: [...head, ...tracks] };
}

/** Whether an event says the tempo, the meter or the key. */
export function keepsTime({ status, data1 }: MidiEvent): boolean {
  return status === 0xff && (data1 === META.tempo || data1 === META.meter || data1 === META.key);
}

function timeOf(events: readonly MidiEvent[], name: string): MidiEvent[] {
  return [metaEvent(0, META.trackName, encodeText(name)), events.at(-1)!];
}

/** A track with notes that has no name is called by its pass. */
function named(events: MidiEvent[], name: string): MidiEvent[] {
  const has = events.some(
    ({ status, data1, bytes }) => status === 0xff && data1 === META.trackName && bytes?.length,
  );
  const plays = events.some(({ status }) => status >= 0x80 && status < 0xa0);
  return has || !plays ? events : [metaEvent(0, META.trackName, encodeText(name)), ...events];
}
