import { PITCHED_CHANNELS, tracksToMidi, type TrackOut } from '../exchange/midi-out.ts';
import { GM_DRUM_CHANNEL } from '../midi/gm.ts';
import type { MidiFile } from '../midi/smf.ts';
import type { Marker } from '../midi/timing.ts';
import type { Key } from '../music/key.ts';
import { barTicks } from '../music/timeline.ts';
import { UNPITCHED } from '../split/roles.ts';
import { passOfBar, type Choice } from './choice.ts';
import type { Joined } from './join.ts';
import type { Aligned } from './passes.ts';
import type { Row } from './rows.ts';

/** What became of the bars and notes of all passes. */
export interface CompTally {
  bars: { in: number; used: number; notUsed: number };
  notes: { in: number; used: number; notUsed: number };
  balanced: boolean;
}

/** Counts bars (those beside the chart too) and notes that play: every one is used or not. */
export function tallyOf(aligned: Aligned, rows: readonly Row[], choice: Choice, joined: Joined): CompTally {
  const { passes, beside } = aligned;
  const barsIn =
    passes.reduce((sum, { barAt }) => sum + barAt.filter((bar) => bar !== null).length, 0) +
    beside.reduce((sum, { bars }) => sum + bars.length, 0);
  const usedBars = new Set<string>();
  rows.forEach((row, at) =>
    choice[at]!.forEach((pass, bar) => {
      if (pass !== null && row.parts[pass] && passes[pass]!.barAt[bar] !== null)
        usedBars.add(`${pass} ${bar}`);
    }),
  );
  // Rounds of one take share its notes.
  const takes = new Map(passes.map((pass) => [pass.id, pass]));
  const notesIn = [...takes.values()].reduce(
    (sum, { split }) => sum + split.owner.filter((owner) => owner >= 0).length,
    0,
  );
  const chosen = joined.rows.flatMap(({ notes }) => notes);
  const used = new Set(chosen.map(({ pass, origin }) => `${passes[pass]!.id} ${origin}`));
  const arePlaying = chosen.every(({ pass, origin }) => passes[pass]!.split.owner[origin]! >= 0);
  return {
    bars: { in: barsIn, used: usedBars.size, notUsed: barsIn - usedBars.size },
    notes: { in: notesIn, used: used.size, notUsed: notesIn - used.size },
    balanced: arePlaying && used.size === chosen.length && usedBars.size <= barsIn,
  };
}

/** The result as a file: a track a row, and a marker where another pass begins, so that each bar says whence. */
export function compToMidi(
  name: string,
  { aligned, rows, choice, joined, key }: { aligned: Aligned; rows: readonly Row[]; choice: Choice; joined: Joined; key: Key | null }, // prettier-ignore
): MidiFile {
  const { timeline, lead, length } = joined;
  const channels = channelsOf(rows);
  const sounding = joined.rows.filter(({ notes }) => notes.length > 0);
  const tracks = sounding.map(({ row, notes, controls }): TrackOut => {
    const { name: called, program } = rows[row]!;
    return { name: called, channel: channels[row]!, program, notes, controls };
  });
  const keys = key ? [{ tick: 0, ...key }] : [];
  return tracksToMidi(
    { timeline, keys, name, length, markers: whenceMarkers(aligned, choice, lead, barTicks(timeline.ppq, aligned.meter)) }, // prettier-ignore
    tracks,
  );
}

/** Each row on the channel it came on; where two would share one, the later on a free one. */
function channelsOf(rows: readonly Row[]): number[] {
  const taken = new Set<number>();
  return rows.map(({ channel, role }) => {
    const isKit = UNPITCHED.has(role) && channel === GM_DRUM_CHANNEL;
    if (isKit) return channel;
    const own = taken.has(channel) ? PITCHED_CHANNELS.find((one) => !taken.has(one)) : channel;
    taken.add(own ?? channel);
    return own ?? channel;
  });
}

/** Where all rows that play go over to another pass, its name; where they differ, "several". */
function whenceMarkers({ passes, chart }: Aligned, choice: Choice, lead: number, bar: number): Marker[] {
  const markers: Marker[] = lead > 0 ? [{ tick: 0, text: 'pickup' }] : [];
  let before: string | null = null;
  chart.forEach((_, at) => {
    const chosen = choice.some((bars) => bars[at] !== null);
    const pass = passOfBar(choice, at);
    const text = pass !== null ? passes[pass]!.name : chosen ? 'several passes' : 'nothing';
    if (text !== before) markers.push({ tick: lead + at * bar, text });
    before = text;
  });
  return markers;
}
