import type { WireMessage } from '../midi/message.ts';
import { STATUS } from '../midi/smf.ts';
import { parseChart } from '../music/chart.ts';
import { chordTones, parseSymbol } from '../music/chord.ts';
import { parsePitch } from '../music/pitch.ts';
import { barTicks, beatTicks, msPerQuarter } from '../music/timeline.ts';
import { playedNotes, type Clip } from '../phrase/clip.ts';
import { closeVoicing } from './chords.ts';
import { PPQ } from './performance.ts';
import type { Held } from './stand-in.ts';

/** Where the chords of a chart are held: about middle C. */
const HELD_AROUND = 60;
const HELD_VELOCITY = 90;

const FOUR_FOUR = { numerator: 4, denominator: 4 };

/** A chart as keys that are held, each chord as long as it stands there; in ticks of the stand-ins. @throws ChartError */
export function heldChart(chart: string, meter = FOUR_FOUR): Held[] {
  const bar = barTicks(PPQ, meter);
  const beatTick = beatTicks(PPQ, meter);
  return parseChart(chart, meter.numerator).flatMap((chords, at) =>
    chords.flatMap(({ tones, beat, beats }) =>
      closeVoicing(tones, HELD_AROUND).map((pitch) => ({
        ...{ pitch, velocity: HELD_VELOCITY },
        tick: at * bar + beat * beatTick,
        end: at * bar + (beat + beats) * beatTick,
      })),
    ),
  );
}

/** Changes as keys that are held, each chord for its beats from bar one; what names no chord is silent. */
export function heldChanges(
  changes: readonly { beat: number; beats: number; symbol: string }[],
  meter = FOUR_FOUR,
): Held[] {
  const beatTick = beatTicks(PPQ, meter);
  return changes.flatMap(({ beat, beats, symbol }) => {
    const chord = parseSymbol(symbol);
    if (!chord) return [];
    return closeVoicing(chordTones(chord), HELD_AROUND).map((pitch) => ({
      ...{ pitch, velocity: HELD_VELOCITY, tick: beat * beatTick, end: (beat + beats) * beatTick },
    }));
  });
}

/** The notes of a phrase as keys that are held, from bar one; in ticks of the stand-ins. */
export function heldOf(clip: Clip): Held[] {
  const scale = PPQ / clip.timeline.ppq;
  return playedNotes(clip)
    .filter(({ tick }) => tick >= clip.pickup)
    .map(({ tick, duration, pitch, velocity }) => ({
      ...{ pitch, velocity },
      tick: Math.round((tick - clip.pickup) * scale),
      end: Math.round((tick - clip.pickup + duration) * scale),
    }));
}

/** Pitches as people write them: "C3 E3 G3". What is none is left out. */
export function pitchesIn(text: string): number[] {
  return text
    .split(/[\s,]+/)
    .filter(Boolean)
    .flatMap((word) => parsePitch(word) ?? []);
}

/** The same pitches held from bar one on, for as long as it is listened. */
export function heldPitches(pitches: readonly number[]): Held[] {
  return pitches.map((pitch) => ({ tick: 0, end: null, pitch, velocity: HELD_VELOCITY }));
}

/**
 * Held keys as a device is sent them, in milliseconds from bar one: moved by semitones, those that no key is left for left out, and let go
 * at `until` (ticks of the stand-ins) at the latest. At one moment, what ends comes before what begins.
 */
export function heldMessages(
  held: readonly Held[],
  { bpm, semitones, channel, until }: { bpm: number; semitones: number; channel: number; until: number },
): WireMessage[] {
  const ms = msPerQuarter(bpm) / PPQ;
  return held
    .filter(({ tick, pitch }) => tick < until && pitch + semitones >= 0 && pitch + semitones <= 127)
    .flatMap(({ tick, end, pitch, velocity }) => [
      { ms: tick * ms, bytes: [STATUS.noteOn | channel, pitch + semitones, velocity] },
      { ms: Math.min(end ?? until, until) * ms, bytes: [STATUS.noteOff | channel, pitch + semitones, 64] },
    ])
    .sort((a, b) => a.ms - b.ms || (a.bytes[0]! & 0xf0) - (b.bytes[0]! & 0xf0));
}
