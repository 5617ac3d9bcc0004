import { channelOf, kindOf, META, metaEvent, STATUS, type MidiEvent } from './smf.ts';

/** Events of several tracks as one, in order of time; at one tick what ends, then all else, then what begins. */
export function inOrderOfTime(tracks: readonly (readonly MidiEvent[])[]): MidiEvent[] {
  return tracks
    .flatMap(ranked)
    .map((one, order) => ({ ...one, order }))
    .sort((a, b) => a.event.tick - b.event.tick || a.rank - b.rank || a.order - b.order)
    .map(({ event }) => event);
}

/** Events of a track with their rank at their tick: what ends, then all else, then what begins, and what ends as it begins. */
function ranked(events: readonly MidiEvent[]): { event: MidiEvent; rank: number }[] {
  const began = new Map<number, number>();
  return events.map((event) => {
    const { tick, status, data1, data2 } = event;
    const kind = kindOf(status);
    if (status >= 0xf0 || kind > STATUS.noteOn) return { event, rank: 1 };
    const key = channelOf(status) * 128 + data1;
    if (kind === STATUS.noteOn && data2 > 0) {
      began.set(key, tick);
      return { event, rank: 2 };
    }
    return { event, rank: began.get(key) === tick ? 3 : 0 };
  });
}

/** Events in order of time, closed at a tick or with the last of them. */
export function closed(events: MidiEvent[], end: number): MidiEvent[] {
  const last = Math.max(end, events.at(-1)?.tick ?? 0);
  return [...events, metaEvent(last, META.endOfTrack, new Uint8Array())];
}
