import type { HandOff, PhraseOut } from '../../core/exchange/handoff.ts';
import { symbolIn } from '../../core/exchange/leaving.ts';
import type { Marker } from '../../core/midi/timing.ts';
import { bpmOfClip } from '../../core/phrase/clip.ts';
import { meterAt, roundedBpm } from '../../core/music/timeline.ts';
import { sheetHeading } from '../../core/notation/chord-sheet.ts';
import { partsOnSheet, sheetXml, type SheetKind } from '../../core/notation/sheet.ts';
import { asChart } from '../../core/through/as-chart.ts';
import { LibraryError } from '../library/errors.ts';

/** A sheet as it is seen and leaves: MusicXML, or chords as text. */
export interface SheetOut {
  kind: 'musicxml' | 'text';
  file: string;
  text: string;
}

/** A sheet of something that leaves, for whoever reads. @throws LibraryError 422 where there is nothing of that kind in it */
export function sheetOut(
  handOff: HandOff,
  as: SheetKind,
  file: string,
  words: readonly Marker[] = [],
): SheetOut {
  const phrases = soundingTogether(handOff);
  if (phrases.length === 0) throw new LibraryError(422, 'There is nothing chosen that has notes.');
  const teller = phrases.find(({ changes }) => (changes?.length ?? 0) > 0);
  const key = phrases.find(({ clip }) => clip.key)?.clip.key ?? null;
  const changes = (teller?.changes ?? []).map((chord) => ({
    ...chord,
    symbol: symbolIn(chord.symbol, teller!.capturedKey, teller!.clip.key ?? key),
  }));
  const { title, card } = handOff;
  const bars = Math.max(...phrases.map((phrase) => phrase.bars));
  if (as === 'chords') {
    if (!teller) throw new LibraryError(422, 'No chords are known of it.');
    const { clip } = teller;
    const meter = meterAt(clip.timeline, clip.pickup);
    const heading = sheetHeading(title, key, { bpm: roundedBpm(bpmOfClip(clip)), meter });
    const text = [...heading, asChart(changes, meter.numerator), ''].join('\n');
    return { kind: 'text', file: `${file}-chords.txt`, text };
  }
  const parts = phrases.map(({ name, clip }) => ({ name, clip }));
  const chosen = partsOnSheet(as, parts);
  if (typeof chosen === 'string') throw new LibraryError(422, chosen);
  const { transposes = 'C', clef } = card ?? {};
  const keys = phrases.find((phrase) => phrase.keys)?.keys ?? [];
  const text = sheetXml(as, chosen, { title, key, keys, bars, changes, words, transposes, clef });
  return { kind: 'musicxml', file: `${file}-${as}.musicxml`, text };
}

/** What sounds together and can stand on one sheet: a take, a weave, a sheaf; of phrases that do not, the first. */
function soundingTogether({ phrases }: HandOff): PhraseOut[] {
  const [first] = phrases;
  if (!first) return [];
  return first.sheaf ? phrases.filter(({ sheaf }) => sheaf?.id === first.sheaf!.id) : [first];
}
