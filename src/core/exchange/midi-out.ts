import type { Take } from '../capture/take.ts';
import { GM_DRUM_CHANNEL } from '../midi/gm.ts';
import { DEFAULT_RELEASE } from '../midi/notes.ts';
import {
  channelEvent,
  isMeta,
  META,
  metaEvent,
  meterEvent,
  tempoEvent,
  STATUS,
  type Division,
  type MidiEvent,
  type MidiFile,
} from '../midi/smf.ts';
import { closed, inOrderOfTime } from '../midi/order.ts';
import { encodeText } from '../midi/text.ts';
import { keySignature, type Key } from '../music/key.ts';
import type { Timeline } from '../music/timeline.ts';
import type { Marker } from '../midi/timing.ts';
import { LEAVING_PPQ, setResolution } from '../normalize/resolution.ts';
import type { Clip, Control } from '../phrase/clip.ts';

/** One track to be written. */
export interface TrackOut {
  name: string;
  channel: number;
  program: number | null;
  /** From which tick on it has its program; 0 where none is given. */
  programTick?: number;
  /** Port 0..127 of a file with more instruments than sixteen channels hold. */
  port?: number;
  notes: readonly { tick: number; duration: number; pitch: number; velocity: number; release: number }[];
  controls: readonly Control[];
  /** What it says of itself besides its name. */
  texts?: readonly string[];
}

/** Channels of a port that are not the drums'. */
export const PITCHED_CHANNELS = [...Array(16).keys()].filter((channel) => channel !== GM_DRUM_CHANNEL);

/**
 * Where parts that sound at once are played: drums on the tenth channel, everything else on one of its own, from a free
 * one on; what sixteen channels cannot hold is on further ports, and then every track says which.
 */
export function placesOf(kits: readonly boolean[], firstFree = 0): { channel: number; port?: number }[] {
  const room = PITCHED_CHANNELS.length;
  const hasPorts = kits.filter((kit) => !kit).length > room;
  let next = firstFree;
  return kits.map((kit) => {
    const place = kit ? null : next++;
    const channel = place === null ? GM_DRUM_CHANNEL : PITCHED_CHANNELS[place % room]!;
    return hasPorts ? { channel, port: place === null ? 0 : Math.floor(place / room) } : { channel };
  });
}

/** A clip as a format 1 file: a conductor track with tempo, meter and key, then the notes; plain without its program. */
export function clipToMidi(given: Clip, name: string, { plain = false }: { plain?: boolean } = {}): MidiFile {
  // Film time has no whole number of ticks a quarter note; a file of bars needs one.
  const clip = Number.isInteger(given.timeline.ppq) ? given : setResolution(given, { ppq: LEAVING_PPQ }).clip;
  const { timeline, key, length } = clip;
  const keys = key ? [{ tick: 0, ...key }] : [];
  return tracksToMidi({ timeline, keys, name, length, markers: pickupMarkers(clip, 0) }, [
    {
      ...{ name, channel: clip.channel, program: plain ? null : clip.program },
      ...{ notes: clip.notes, controls: clip.controls },
    },
  ]);
}

/** A pickup stands in a bar of its own before bar one: the file says so, for whoever counts its bars. */
export function pickupMarkers({ pickup }: Pick<Clip, 'pickup'>, at: number): Marker[] {
  if (pickup === 0) return [];
  return [
    { tick: at, text: 'pickup' },
    { tick: at + pickup, text: 'bar 1' },
  ];
}

/** A format 1 file of several tracks over one timeline. */
export function tracksToMidi(
  head: {
    timeline: Timeline;
    /** In order of time. */
    keys: readonly ({ tick: number } & Key)[];
    name: string;
    length: number;
    markers?: readonly Marker[];
    /** Where it is not the timeline's ticks a quarter note. */
    division?: Division;
  },
  tracks: readonly TrackOut[],
): MidiFile {
  let end = head.length;
  for (const { notes } of tracks)
    for (const { tick, duration } of notes) end = Math.max(end, tick + duration);
  return {
    format: 1,
    division: head.division ?? { kind: 'metrical', ppq: head.timeline.ppq },
    otherChunks: [],
    tracks: [
      closed(conductorEvents(head), end),
      ...tracks.flatMap((track) => trackEvents(track).map((events) => closed(events, end))),
    ],
  };
}

function conductorEvents(head: Parameters<typeof tracksToMidi>[0]): MidiEvent[] {
  const { tempos, meters } = head.timeline;
  return [
    metaEvent(0, META.trackName, encodeText(head.name)),
    ...tempos.map(({ tick, microseconds }) => tempoEvent(tick, microseconds)),
    ...meters.map((meter) => meterEvent(meter.tick, meter)),
    ...head.keys.map((key) => metaEvent(key.tick, META.key, keyBytes(key))),
    ...(head.markers ?? []).map(({ tick, text }) => metaEvent(tick, META.marker, encodeText(text))),
  ].sort((a, b) => a.tick - b.tick);
}

/** A key signature knows only major and minor: a mode is written as the major key with the same notes. */
function keyBytes(key: Key): Uint8Array {
  return Uint8Array.of(keySignature(key) & 0xff, key.mode === 'minor' ? 1 : 0);
}

/**
 * Events of one track, without its end. Notes of one pitch pair first in, first out when read: where one
 * outlasts a later one, it goes to a further track, so that reading gives the same notes back.
 */
export function trackEvents(track: TrackOut): MidiEvent[][] {
  return firstInFirstOut(track.notes).map((notes, layer) => {
    const events: { event: MidiEvent; order: number }[] = [];
    const put = (order: number, event: MidiEvent) => events.push({ event, order });
    if (layer === 0) {
      for (const { tick, kind, data1, data2 } of track.controls) {
        put(1, channelEvent(tick, kind, track.channel, data1, data2));
      }
    }
    for (const note of notes) {
      put(2, channelEvent(note.tick, STATUS.noteOn, track.channel, note.pitch, note.velocity));
      const end = note.tick + note.duration;
      // A note-on of velocity 0 is a note-off with the default release, and keeps running status going.
      const off =
        note.release === DEFAULT_RELEASE
          ? channelEvent(end, STATUS.noteOn, track.channel, note.pitch, 0)
          : channelEvent(end, STATUS.noteOff, track.channel, note.pitch, note.release);
      // At one tick, what ends comes before what begins; a note of no length ends after it began.
      put(note.duration === 0 ? 3 : 0, off);
    }
    events.sort((a, b) => a.event.tick - b.event.tick || a.order - b.order);
    const setUp = [metaEvent(0, META.trackName, encodeText(track.name))];
    if (layer === 0)
      setUp.push(...(track.texts ?? []).map((text) => metaEvent(0, META.text, encodeText(text))));
    if (track.port !== undefined) setUp.push(metaEvent(0, META.port, Uint8Array.of(track.port)));
    const { program, programTick = 0 } = track;
    if (program !== null) setUp.push(channelEvent(programTick, STATUS.program, track.channel, program));
    return setUp.concat(events.map(({ event }) => event));
  });
}

/** A file on one track, as format 0 has it: the name of the file, what every track says, and nothing twice. */
export function inOneTrack(file: MidiFile): MidiFile {
  const [conductor = [], ...tracks] = file.tracks;
  const isName = (event: MidiEvent) => isMeta(event, META.trackName);
  const isEnd = (event: MidiEvent) => isMeta(event, META.endOfTrack);
  const end = Math.max(0, ...file.tracks.map((events) => events.at(-1)?.tick ?? 0));
  const events = inOrderOfTime(
    [conductor, ...tracks.map((one) => one.filter((event) => !isName(event)))].map((one) =>
      one.filter((event) => !isEnd(event)),
    ),
  );
  return { ...file, format: 0, tracks: [closed(events, end)] };
}

/** Notes in as few layers as let every pitch pair first in, first out. Always at least one. */
function firstInFirstOut<N extends TrackOut['notes'][number]>(notes: readonly N[]): N[][] {
  const layers: { notes: N[]; ends: Map<number, number> }[] = [{ notes: [], ends: new Map() }];
  for (const note of [...notes].sort((a, b) => a.tick - b.tick)) {
    const end = note.tick + note.duration;
    let layer = layers.find(({ ends }) => (ends.get(note.pitch) ?? -1) <= end);
    if (!layer) {
      layer = { notes: [], ends: new Map() };
      layers.push(layer);
    }
    layer.notes.push(note);
    layer.ends.set(note.pitch, end);
  }
  return layers.map((layer) => layer.notes);
}

/**
 * Some notes of a take as a file of their own, at the take's own resolution, with its tempo, meter and key: the key that
 * is given, else those that its own file says.
 */
export function takeNotesToMidi(
  take: Take,
  name: string,
  tracks: readonly TrackOut[],
  key: Key | null = null,
): MidiFile {
  const { timeline, ticks, markers } = take.timing;
  const keys = key ? [{ tick: 0, ...key }] : take.timing.keys;
  return tracksToMidi({ timeline, keys, name, length: ticks, markers, division: take.file.division }, tracks);
}
