import { channelOf } from '../../core/midi/smf.ts';
import { STREAM, type MessageLog } from '../../core/capture/message-log.ts';
import { beginsNote, endsNote } from '../../core/midi/message.ts';
import type { DrawnNotes } from '../../ui/drawing/strand.ts';

/** Notes of one source and stream as columns that grow; times in ms. A note that sounds has no end yet. */
export interface RollLane extends DrawnNotes {
  source: number;
  input: boolean;
  tick: number[];
  duration: number[];
  pitch: number[];
  velocity: number[];
  channel: number[];
  low: number;
  high: number;
}

/** What has come in so far. */
export interface RollNotes {
  lanes: RollLane[];
  /** Where notes that sound stand in their lane, the first that began first. */
  sounding: Map<string, { lane: RollLane; index: number }[]>;
  marks: number[];
}

export function createRoll(): RollNotes {
  return { lanes: [], sounding: new Map(), marks: [] };
}

/** Reads what has come in since the last time. */
export function readMore(roll: RollNotes, log: MessageLog): void {
  for (let i = 0; i < log.length; i++) {
    const stream = log.stream[i]!;
    const ms = log.ms[i]!;
    if (stream === STREAM.mark) {
      roll.marks.push(ms);
      continue;
    }
    const [status, pitch, velocity] = [log.status[i]!, log.data1[i]!, log.data2[i]!];
    const source = log.source[i]!;
    const key = `${source} ${stream} ${channelOf(status)} ${pitch}`;
    if (beginsNote(status, velocity)) {
      const lane = laneOf(roll, source, stream === STREAM.input);
      roll.sounding.set(key, [...(roll.sounding.get(key) ?? []), { lane, index: lane.length }]);
      lane.tick.push(ms);
      lane.duration.push(Infinity);
      lane.pitch.push(pitch);
      lane.velocity.push(velocity);
      lane.channel.push(channelOf(status));
      lane.length++;
      lane.low = Math.min(lane.low, pitch);
      lane.high = Math.max(lane.high, pitch);
    } else if (endsNote(status, velocity)) {
      const note = roll.sounding.get(key)?.shift();
      if (note) note.lane.duration[note.index] = ms - note.lane.tick[note.index]!;
    }
  }
}

function laneOf(roll: RollNotes, source: number, input: boolean): RollLane {
  let lane = roll.lanes.find((one) => one.source === source && one.input === input);
  if (!lane) {
    lane = {
      source,
      input,
      length: 0,
      tick: [],
      duration: [],
      pitch: [],
      velocity: [],
      channel: [],
      low: 127,
      high: 0,
    };
    roll.lanes.push(lane);
    // What set a source off stands above what it played.
    roll.lanes.sort((a, b) => a.source - b.source || Number(b.input) - Number(a.input));
  }
  return lane;
}

/** When the last note that was drawn began, in ms; 0 of none. */
export function lastOnset(lanes: readonly RollLane[]): number {
  return lanes.reduce((end, { tick }) => Math.max(end, tick.at(-1) ?? 0), 0);
}
