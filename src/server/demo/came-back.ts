import { unzipSync, zipSync } from 'fflate';
import { readMidiFile } from '../../core/midi/read.ts';
import { kindOf, STATUS, type MidiEvent } from '../../core/midi/smf.ts';
import { writeMidiFile } from '../../core/midi/write.ts';
import type { Library } from '../db/client.ts';
import { packBasket } from '../library/handoff/packing.ts';
import { layDownPack } from '../library/handoff/packs-in.ts';

/** The basket that came back. */
export const CAME_BACK = 'Market, first act';

/**
 * The string player has sent a pack back: all of it sounds late at her place, she struck some notes of one part otherwise, left one part at
 * home, and put an answer of her own beside.
 */
export async function seedCameBack(library: Library, basketId: string): Promise<void> {
  const now = new Date();
  const { bytes } = await packBasket(library, basketId, now.toISOString(), new AbortController().signal);
  const files = unzipSync(bytes);
  const named = (role: string) =>
    Object.keys(files).find((name) => name.includes(role) && name.endsWith('.mid') && !name.includes('together'))!; // prettier-ignore
  const [bass, guitar, kit] = [named('bass'), named('guitar'), named('drums')];
  const { [kit]: _, ...others } = files;
  const back = {
    ...others,
    [bass]: cameBack(files[bass]!, 4),
    [guitar]: cameBack(files[guitar]!, 0),
    'answer/Fiddle answer.mid': cameBack(files[guitar]!, 3),
  };
  await layDownPack(library, zipSync(back, { mtime: now }), { at: now });
}

/** All of it a little later, and every so many notes a whole tone higher. */
function cameBack(midi: Uint8Array, every: number): Uint8Array {
  const { file } = readMidiFile(midi);
  const later = file.division.kind === 'metrical' ? Math.round(file.division.ppq / 16) : 0;
  const tracks = file.tracks.map((events) => {
    let struck = 0;
    const raised = new Set<number>();
    return events.map((event): MidiEvent => {
      const kind = event.status < 0xf0 ? kindOf(event.status) : 0;
      if (kind !== STATUS.noteOn && kind !== STATUS.noteOff) return event;
      const isStrike = kind === STATUS.noteOn && event.data2 > 0;
      const isTheOne = isStrike && every > 0 && ++struck % every === 0;
      if (isTheOne) raised.add(event.data1);
      const isRaised = isStrike ? isTheOne : raised.has(event.data1);
      if (!isStrike) raised.delete(event.data1);
      return { ...event, tick: event.tick + later, data1: isRaised ? event.data1 + 2 : event.data1 };
    });
  });
  return writeMidiFile({ ...file, tracks: tracks.map(endedLast) });
}

/** The end of a track is where nothing comes after it. */
function endedLast(events: readonly MidiEvent[]): MidiEvent[] {
  const last = Math.max(...events.map(({ tick }) => tick));
  return events.map((event, i) => (i === events.length - 1 ? { ...event, tick: last } : event));
}
