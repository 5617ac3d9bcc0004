import type { ChangesChord } from '../analyze/changes.ts';
import type { MidiFile } from '../midi/smf.ts';
import type { Marker } from '../midi/timing.ts';
import { chordNumeral } from '../music/chord.ts';
import { parseKey, type Key } from '../music/key.ts';
import { beatTicks, meterAt, ticksToSeconds } from '../music/timeline.ts';
import { rebase, rebaseControls } from '../normalize/bars.ts';
import { isPitched, withPlace } from '../phrase/clip.ts';
import { goneRound, readOrWhy } from '../through/sounding.ts';
import { safeFileName, uniqueNames } from '../phrase/naming.ts';
import type { LaidSection, WeaveSound } from '../weave/lay.ts';
import type { Weave } from '../weave/weave.ts';
import { placesOf, tracksToMidi, type TrackOut } from './midi-out.ts';

/** A file a weave leaves as. */
export interface WeaveFile {
  /** With its ending. */
  file: string;
  /** Name of the part; null for a file of several. */
  part: string | null;
  bars: number;
  midi: MidiFile;
}

/** Seconds a weave lasts. */
export function secondsOfWeave({ timeline, length }: WeaveSound): number {
  return ticksToSeconds(timeline, length);
}

/** All parts in one file, with its sections as markers and chords as texts; a part may be left out by its id. */
export function weaveInOneFile(
  weave: Weave,
  laid: WeaveSound,
  without: ReadonlySet<string> = new Set(),
): MidiFile {
  const parts = laid.parts.filter(({ part }) => !without.has(part.id));
  return tracksToMidi(headOf(weave, laid, weave.title, marksOfWeave(laid)), tracksOf(parts));
}

/** A file a part, all from bar one and equally long. */
export function weavePartFiles(weave: Weave, laid: WeaveSound): WeaveFile[] {
  const names = uniqueNames(laid.parts.map(({ part }) => safeFileName(part.name)));
  const tracks = tracksOf(laid.parts);
  return laid.parts.map(({ part }, k) => ({
    file: `${names[k]}.mid`,
    part: part.name,
    bars: laid.bars,
    midi: tracksToMidi(headOf(weave, laid, part.name, sectionMarkers(laid)), [tracks[k]!]),
  }));
}

/** A file a section, each time it is played the same: its first; all parts in it, from its own bar one. */
export function weaveSectionFiles(weave: Weave, laid: WeaveSound): WeaveFile[] {
  const firsts = laid.sections.filter(({ time }) => time === 1);
  const names = uniqueNames(
    firsts.map(({ name }, k) => safeFileName(`${String(k + 1).padStart(2, '0')} ${name}`)),
  );
  return firsts.map((section, k) => {
    const cut = cutTo(laid, section);
    return { file: `${names[k]}.mid`, part: null, bars: section.bars, midi: weaveInOneFile(weave, cut) };
  });
}

/** Some bars of a weave by themselves. */
export function cutTo(laid: WeaveSound, section: LaidSection): WeaveSound {
  const { tick: from, end } = section;
  const timeline = rebase(laid.timeline, from, end);
  const length = end - from;
  return {
    ...{ timeline, length, pickup: 0, bars: section.bars },
    sections: [{ ...section, tick: 0, end: length, bar: 1 }],
    parts: laid.parts.map(({ part, clip }) => ({
      part,
      clip: {
        ...clip,
        ...{ timeline, length, pickup: 0 },
        notes: clip.notes
          .filter(({ tick }) => tick >= from && tick < end)
          .map((note) => withPlace(note, note.tick - from, Math.min(note.duration, end - note.tick))),
        controls: rebaseControls(clip.controls, from, end),
      },
    })),
  };
}

/** Where sections begin, and their chords after them. */
function marksOfWeave(laid: WeaveSound): Marker[] {
  return [...sectionMarkers(laid), ...chordTexts(laid)];
}

function headOf(weave: Weave, laid: WeaveSound, name: string, markers: readonly Marker[]) {
  return { timeline: laid.timeline, keys: keysOfWeave(weave, laid), name, length: laid.length, markers };
}

/** The keys of a weave, each where it begins. */
export function keysOfWeave(weave: Weave, laid: WeaveSound): ({ tick: number } & Key)[] {
  const keys: ({ tick: number } & Key)[] = [];
  let key = parseKey(weave.key);
  for (const { id, tick, time } of laid.sections) {
    if (time > 1) continue;
    key = parseKey(weave.sections.find((one) => one.id === id)!.key) ?? key;
    const last = keys.at(-1);
    if (key && (!last || last.tonic !== key.tonic || last.mode !== key.mode))
      keys.push({ tick: keys.length === 0 ? 0 : tick, ...key });
  }
  return keys;
}

/** Each section by its name where it begins, what is played several times with its number; the pickup and the ending too. */
export function sectionMarkers({ sections, pickup, length }: WeaveSound): Marker[] {
  const times = new Map<string, number>();
  for (const { id } of sections) times.set(id, (times.get(id) ?? 0) + 1);
  const named = sections.map(({ id, name, time, tick }) => ({
    tick,
    text: times.get(id)! > 1 ? `${name} ${time}` : name,
  }));
  const end = sections.at(-1)?.end ?? 0;
  return [
    ...(pickup > 0 ? [{ tick: 0, text: 'pickup' }] : []),
    ...named,
    ...(length > end ? [{ tick: end, text: 'ending' }] : []),
  ];
}

/** Chords where they begin, as markers after the section's. */
function chordTexts(laid: WeaveSound): Marker[] {
  const beat = firstBeat(laid);
  return changesOfWeave(laid).map(({ beat: at, symbol }) => ({
    tick: laid.pickup + Math.round(at * beat),
    text: symbol || 'N.C.',
  }));
}

/** The chords of a weave from bar one, in beats of its first meter whatever those of its sections are; where none are said is a gap. */
export function changesOfWeave(laid: WeaveSound, key: Key | null = null): ChangesChord[] {
  const { sections, timeline, pickup } = laid;
  return sections.flatMap(({ changes, tick, bars }) => {
    const meter = meterAt(timeline, tick);
    const read = changes.trim() ? readOrWhy(changes, meter.numerator) : '';
    if (typeof read === 'string') return [];
    const from = (tick - pickup) / firstBeat(laid);
    const own = beatTicks(timeline.ppq, meter) / firstBeat(laid);
    return goneRound(read, { beatsPerBar: meter.numerator, bars }).map(({ beat, beats, symbol, chord }) => ({
      ...{ beat: from + beat * own, beats: beats * own, symbol },
      numeral: chord && key ? chordNumeral(chord, key) : '',
    }));
  });
}

/** Ticks of a beat of the first meter. */
function firstBeat({ timeline, pickup }: WeaveSound): number {
  return beatTicks(timeline.ppq, meterAt(timeline, pickup));
}

function tracksOf(parts: WeaveSound['parts']): TrackOut[] {
  const places = placesOf(parts.map(({ clip }) => !isPitched(clip)));
  return parts.map(({ part, clip: { program, notes, controls } }, k) => ({
    ...{ name: part.name, program, notes, controls },
    ...places[k]!,
  }));
}
