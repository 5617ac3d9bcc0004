import { keyFromSignature, type Key } from '../music/key.ts';
import {
  DEFAULT_MICROSECONDS,
  makeTimeline,
  type MeterChange,
  type TempoChange,
  type Timeline,
} from '../music/timeline.ts';
import { isMeta, META, ticksPerQuarter, type MidiFile, type Repair, type RepairCode } from './smf.ts';
import { decodeText } from './text.ts';

export interface KeyChange extends Key {
  tick: number;
}

export interface Marker {
  tick: number;
  text: string;
}

/** What the file itself says of time and form. Its changes stand in order of time, as written. */
export interface Timing {
  timeline: Timeline;
  tempos: TempoChange[];
  meters: MeterChange[];
  keys: KeyChange[];
  markers: Marker[];
  /** Ticks to the last end of track. */
  ticks: number;
  repairs: Repair[];
}

/** Changes of one kind that are read: a take of hours that changes with every beat has fewer. */
const MOST_CHANGES = 50_000;

/** The longest note value a meter can reasonably count in: a 64th. */
const SMALLEST_BEAT = 6;

/**
 * Collects tempo, meter, key and markers from all tracks. Impossible values (a tempo of zero, a bar of no
 * beats) are reported and left out. A film-time file runs at its own clock: its tempo events are listed but
 * its timeline is 120 BPM, by which its ticks last what they should.
 */
export function readTiming(file: MidiFile): Timing {
  const timing: Omit<Timing, 'timeline'> = {
    tempos: [],
    meters: [],
    keys: [],
    markers: [],
    ticks: 0,
    repairs: [],
  };
  file.tracks.forEach((events, index) => {
    timing.ticks = Math.max(timing.ticks, events.at(-1)?.tick ?? 0);
    const repair = (code: RepairCode, message: string, tick: number) =>
      timing.repairs.push({ code, message, track: index + 1, tick });
    for (const event of events) {
      const data = event.bytes;
      if (event.status !== 0xff || !data) continue;
      const tick = event.tick;
      if (isMeta(event, META.tempo)) {
        const microseconds = data.length >= 3 ? (data[0]! << 16) | (data[1]! << 8) | data[2]! : 0;
        if (microseconds > 0) timing.tempos.push({ tick, microseconds });
        else repair('tempo-invalid', 'A tempo that means nothing was left out.', tick);
      } else if (isMeta(event, META.meter)) {
        const [numerator = 0, power = 0] = data;
        if (numerator > 0 && power <= SMALLEST_BEAT && data.length >= 2) {
          timing.meters.push({ tick, numerator, denominator: 2 ** power });
        } else repair('meter-invalid', 'A meter that means nothing was left out.', tick);
      } else if (isMeta(event, META.key)) {
        const fifths = data.length >= 2 ? (data[0]! << 24) >> 24 : 99;
        if (Math.abs(fifths) <= 7 && data[1]! <= 1) {
          timing.keys.push({ tick, ...keyFromSignature(fifths, data[1] === 1) });
        } else repair('key-invalid', 'A key signature that means nothing was left out.', tick);
      } else if (isMeta(event, META.marker)) {
        timing.markers.push({ tick, text: decodeText(data) });
      }
    }
  });
  for (const what of ['tempos', 'meters', 'keys', 'markers'] as const) {
    const list = timing[what];
    list.sort((a, b) => a.tick - b.tick);
    if (list.length <= MOST_CHANGES) continue;
    timing.repairs.push({
      code: 'too-many-changes',
      message: `Of ${list.length.toLocaleString('en')} ${what} the first ${MOST_CHANGES.toLocaleString('en')} were read.`,
      track: 0,
      tick: list[MOST_CHANGES]!.tick,
    });
    list.length = MOST_CHANGES;
  }
  const clock =
    file.division.kind === 'smpte' ? [{ tick: 0, microseconds: DEFAULT_MICROSECONDS }] : timing.tempos;
  return { ...timing, timeline: makeTimeline(ticksPerQuarter(file.division), clock, timing.meters) };
}
