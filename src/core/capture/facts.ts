import { keyName } from '../music/key.ts';
import { barsUntil, bpmOf, ticksToSeconds } from '../music/timeline.ts';
import { findStreams } from './streams.ts';
import { trackName, type Take } from './take.ts';

/**
 * What there is to know of a take at a glance, counted as people count: tracks, channels, programs from 1.
 * These are the fields that `read` promises on the command line.
 */
export interface TakeFacts {
  format: 0 | 1 | 2;
  /** Ticks a quarter note; null for film time. */
  ppq: number | null;
  tracks: number;
  notes: number;
  ticks: number;
  /** To the last end of track. */
  seconds: number;
  bars: number;
  tempos: { tick: number; bpm: number }[];
  meters: { tick: number; numerator: number; denominator: number }[];
  keys: { tick: number; tonic: string; mode: string }[];
  markers: { tick: number; text: string }[];
  streams: StreamFacts[];
  repairs: { code: string; message: string; track: number; tick: number }[];
}

export interface StreamFacts {
  track: number;
  channel: number;
  /** 1 where the file never chose one. */
  program: number;
  name: string;
  notes: number;
  low: number;
  high: number;
}

export function takeFacts(take: Take): TakeFacts {
  const { file, timing, notes } = take;
  return {
    format: file.format,
    ppq: file.division.kind === 'metrical' ? file.division.ppq : null,
    tracks: file.tracks.length,
    notes: notes.length,
    ticks: timing.ticks,
    seconds: ticksToSeconds(timing.timeline, timing.ticks),
    bars: barsUntil(timing.timeline, timing.ticks),
    tempos: timing.tempos.map(({ tick, microseconds }) => ({ tick, bpm: bpmOf(microseconds) })),
    meters: timing.meters,
    keys: timing.keys.map(({ tick, ...key }) => {
      const [tonic = '', mode = ''] = keyName(key).split(' ');
      return { tick, tonic, mode };
    }),
    markers: timing.markers,
    streams: findStreams(take).map((stream) => {
      const pitches = stream.notes.map((i) => notes.pitch[i]!);
      return {
        track: stream.track + 1,
        channel: stream.channel + 1,
        program: (stream.program ?? 0) + 1,
        name: trackName(file, stream.track),
        notes: stream.notes.length,
        low: pitches.reduce((low, pitch) => Math.min(low, pitch), 127),
        high: pitches.reduce((high, pitch) => Math.max(high, pitch), 0),
      };
    }),
    repairs: take.repairs,
  };
}
