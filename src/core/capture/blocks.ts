import {
  channelOf,
  isMeta,
  kindOf,
  META,
  metaEvent,
  meterEvent,
  STATUS,
  tempoEvent,
  type MidiEvent,
  type MidiFile,
} from '../midi/smf.ts';
import { beginsNote, endsNote } from '../midi/message.ts';
import { closed, inOrderOfTime } from '../midi/order.ts';
import { encodeText } from '../midi/text.ts';
import {
  barStart,
  barsUntil,
  commonResolution,
  EARLY,
  meantBar,
  meterAt,
  tempoAt,
} from '../music/timeline.ts';
import type { BarNumber, Ticks } from '../music/units.ts';
import { keepsTime } from './passes.ts';
import { trackName, type Take } from './take.ts';

/** How takes are joined: passes of one performance over each other, or blocks one after another, in the order they are named. */
export const JOIN_WAYS = ['over', 'after'] as const;
export type JoinWay = (typeof JOIN_WAYS)[number];

/** A take that is laid behind another: so many bars of it, from bar one where nothing else is said. */
export interface Block {
  name: string;
  take: Take;
  bars: number;
  fromBar?: BarNumber;
}

/** What a last round plays that is shorter than the pattern: its beginning, or its last bars, so that its turn or fill ends what is filled. */
export const LAST_ROUNDS = ['cut', 'ending'] as const;
export type LastRound = (typeof LAST_ROUNDS)[number];

/** Bars in which something begins; what is a little ahead of a bar line is meant for it. */
export function barsOfBlock({ timing: { timeline, ticks }, notes }: Take): number {
  let last = -1;
  for (const tick of notes.tick) last = Math.max(last, tick);
  return last < 0 ? barsUntil(timeline, ticks) : meantBar(timeline, last);
}

/** The rounds of one block that fill so many bars; where the last one does not come out, it is cut or plays the last bars. */
export function roundsThatFill(
  { name, take }: Pick<Block, 'name' | 'take'>,
  bars: number,
  last: LastRound = 'cut',
): Block[] {
  const own = Math.max(1, barsOfBlock(take));
  return Array.from({ length: Math.ceil(bars / own) }, (_, k) => {
    const played = Math.min(own, bars - k * own);
    return { name, take, bars: played, ...(last === 'ending' ? { fromBar: own - played + 1 } : {}) };
  });
}

/**
 * Takes one after another as one file, each the whole bars it is given and in its own tempo and meter; tracks of one name and channel go
 * on as one. What begins behind a block's bars is left out; what rings on does so until its pitch is struck by what comes.
 */
export function joinBlocks(name: string, blocks: readonly Block[]): MidiFile {
  const ppq = commonResolution(blocks.map(({ take }) => Math.max(1, Math.round(take.timing.timeline.ppq))));
  const conductor: MidiEvent[] = [metaEvent(0, META.trackName, encodeText(name))];
  const tracks = new Map<string, MidiEvent[]>();
  let at = 0;
  for (const { name: block, take, bars, fromBar = 1 } of blocks) {
    const { timeline } = take.timing;
    const scale = ppq / timeline.ppq;
    const from = barStart(timeline, fromBar);
    const placed = (tick: Ticks) => at + Math.round((tick - from) * scale);
    const length = Math.round((barStart(timeline, fromBar + bars) - from) * scale);
    conductor.push(
      ...timeEvents(take, from, placed, at + length),
      metaEvent(at, META.marker, encodeText(block)),
    );
    take.file.tracks.forEach((events, index) => {
      const own = events.filter((event) => !isOfConductor(event));
      const moved = fromTick(own, from, EARLY * timeline.ppq).map((event) => ({
        ...event,
        tick: placed(event.tick),
      }));
      const kept = withinBlock(moved, at + length);
      const first = kept.find(({ status }) => status < 0xf0);
      if (!first) return;
      const called = trackName(take.file, index);
      const key = `${channelOf(first.status)} ${called}`;
      const before = tracks.get(key) ?? (called ? [metaEvent(0, META.trackName, encodeText(called))] : []);
      tracks.set(key, [...endedAtStrikes(before, kept), ...kept]);
    });
    at += length;
  }
  return {
    ...{ format: 1, division: { kind: 'metrical', ppq }, otherChunks: [] },
    tracks: [conductor, ...tracks.values()].map((events) => closed(inOrderOfTime([events]), at)),
  };
}

/** Tempo, meter and key belong to the first track; names and ends are written anew. */
function isOfConductor(event: MidiEvent): boolean {
  return keepsTime(event) || isMeta(event, META.endOfTrack) || isMeta(event, META.trackName);
}

/** Tempo, meter and key of a block, from a tick of it to where it ends. */
function timeEvents(
  { file, timing: { timeline } }: Take,
  from: Ticks,
  placed: (tick: Ticks) => Ticks,
  end: Ticks,
): MidiEvent[] {
  const at = placed(from);
  const moved = file.tracks
    .flatMap((events) => events.filter((event) => keepsTime(event) && event.tick >= from))
    .map((event) => ({ ...event, tick: placed(event.tick) }))
    .filter(({ tick }) => tick < end);
  const says = (kind: number) => moved.some((event) => event.tick === at && isMeta(event, kind));
  // A block that says nothing must not take over what the one before it said.
  return [
    ...(says(META.tempo) ? [] : [tempoEvent(at, tempoAt(timeline, from).microseconds)]),
    ...(says(META.meter) ? [] : [meterEvent(at, meterAt(timeline, from))]),
    ...moved,
  ];
}

/** Events from a tick on: of what was set before, how it stands then; notes that were meant for it begin with it, and those before stay out. */
function fromTick(events: readonly MidiEvent[], from: Ticks, early: Ticks): MidiEvent[] {
  const stands = new Map<string, MidiEvent>();
  const later: MidiEvent[] = [];
  for (const event of events) {
    const { tick, status, data1, data2 } = event;
    if (tick >= from) later.push(event);
    else if (status >= 0xf0 || endsNote(status, data2)) continue;
    else if (!beginsNote(status, data2))
      stands.set(`${status} ${kindOf(status) === STATUS.controller ? data1 : ''}`, { ...event, tick: from });
    else if (tick >= from - early) later.push({ ...event, tick: from });
  }
  return [...stands.values(), ...later];
}

/** The events of a block, without notes that begin behind its end; the ends of those that began before it stay. */
function withinBlock(events: readonly MidiEvent[], end: number): MidiEvent[] {
  const sounding = new Map<number, number>();
  return events.filter((event) => {
    const { tick, status, data1, data2 } = event;
    if (status >= 0xf0) return tick < end;
    const key = channelOf(status) * 128 + data1;
    if (beginsNote(status, data2)) {
      if (tick >= end) return false;
      sounding.set(key, (sounding.get(key) ?? 0) + 1);
    } else if (endsNote(status, data2)) {
      const count = sounding.get(key) ?? 0;
      if (count === 0) return false;
      sounding.set(key, count - 1);
    } else return tick < end;
    return true;
  });
}

/** Ends of notes that would come after their pitch is struck by what follows, moved to that strike. */
function endedAtStrikes(events: readonly MidiEvent[], comes: readonly MidiEvent[]): MidiEvent[] {
  const strikes = new Map<number, number>();
  for (const { tick, status, data1, data2 } of comes) {
    const key = channelOf(status) * 128 + data1;
    if (status < 0xf0 && beginsNote(status, data2) && !strikes.has(key)) strikes.set(key, tick);
  }
  return events.map((event) => {
    const { tick, status, data1, data2 } = event;
    if (status >= 0xf0 || !endsNote(status, data2)) return event;
    return { ...event, tick: Math.min(tick, strikes.get(channelOf(status) * 128 + data1) ?? tick) };
  });
}
