import { isMeta, META, type MidiFile } from './smf.ts';
import { decodeText } from './text.ts';
import type { Marker } from './timing.ts';

/** The words of a song as its lyric events tell them (RP-001, FF 05), in order of time. */
export function lyricsIn(file: MidiFile): Marker[] {
  return file.tracks
    .flatMap((events) => events.filter((event) => isMeta(event, META.lyric)))
    .map(({ tick, bytes }) => ({ tick, text: decodeText(bytes ?? new Uint8Array()) }))
    .sort((a, b) => a.tick - b.tick);
}

/** The words as they are read: syllables joined, a line where a sign of a line stands. */
export function lyricLines(lyrics: readonly Marker[]): string[] {
  const text = lyrics.map((one) => one.text.replace(/^[\\/]/, '\n')).join('');
  return text
    .split(/[\r\n]+/)
    .map((line) => line.replace(/-(?=\S)/g, '').trim())
    .filter(Boolean);
}
