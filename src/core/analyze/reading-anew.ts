import { keyName, sameKey } from '../music/key.ts';
import type { Proposal } from '../split/proposals.ts';
import { plural } from '../words.ts';
import { symbolsOfBars, type ChordFinding } from './chords.ts';
import { mean } from '../numbers.ts';
import type { PartLoop } from './part-loops.ts';
import { READING_METHOD, type Reading } from './reading.ts';

/** What a newer reading of a take says otherwise than the one it was told; nothing where both say the same. */
export interface ReadingChanges {
  /** Names of the keys, as told and as found today; null where they are the same. */
  key: { was: string; is: string } | null;
  /** Where the key changes lies elsewhere. */
  spans: boolean;
  /** Bars (from 1) whose chords are others. */
  chordBars: number[];
  /** Loops that are found today only, and those that are not found today. */
  loopsMore: number;
  loopsLess: number;
  /** Sections begin at other bars, or share their names otherwise. */
  sections: boolean;
}

/** How two readings of the same bars of a take differ. */
export function readingChanges(told: Reading, today: Reading, bars: number): ReadingChanges {
  const [was, is] = [told.keys[0], today.keys[0]];
  const otherKey = was && is ? !sameKey(was, is) : was !== is;
  const symbolsTold = symbolsOfBars(told.chords, bars);
  const symbolsToday = symbolsOfBars(today.chords, bars);
  const [loopsTold, loopsToday] = [told.loops.map(placeOf), today.loops.map(placeOf)];
  const named = (key: typeof was) => (key ? keyName(key) : 'none');
  return {
    key: otherKey ? { was: named(was), is: named(is) } : null,
    spans: spansText(told) !== spansText(today),
    chordBars: symbolsTold.flatMap((symbols, k) => (symbols === symbolsToday[k] ? [] : [k + 1])),
    loopsMore: loopsToday.filter((loop) => !loopsTold.includes(loop)).length,
    loopsLess: loopsTold.filter((loop) => !loopsToday.includes(loop)).length,
    sections: sectionsText(told) !== sectionsText(today),
  };
}

/** The offer to hear a take anew, with what it would change; none where nothing would. */
export function readingHeardAnew(told: Reading, today: Reading, bars: number): Proposal[] {
  const changes = readingChanges(told, today, bars);
  const what = changesInWords(changes);
  if (what.length === 0) return [];
  return [
    {
      id: `hear anew ${READING_METHOD}`,
      kind: 'hearAnew',
      parts: [],
      text: `The music is heard otherwise today: ${what.join('; ')}. Hear it so?`,
      why: 'Nothing changes until you say so, and it can be taken back; what was said by hand stays.',
      certainty: changes.key ? (today.keys[0]?.certainty ?? 0) : mean(today.chords.map(certaintyOf)),
      ways: [{ title: 'Hear anew', move: { move: 'hearAnew', method: READING_METHOD } }],
    },
  ];
}

function changesInWords(changes: ReadingChanges): string[] {
  const { key, spans, chordBars, loopsMore, loopsLess, sections } = changes;
  return [
    ...(key ? [`key ${key.is} for ${key.was}`] : spans ? ['the key changes elsewhere'] : []),
    ...(chordBars.length > 0 ? [`other chords in ${plural(chordBars.length, 'bar')}`] : []),
    ...(loopsMore > 0 ? [`${plural(loopsMore, 'loop')} more`] : []),
    ...(loopsLess > 0 ? [`${plural(loopsLess, 'loop')} fewer`] : []),
    ...(sections ? ['other sections'] : []),
  ];
}

const certaintyOf = ({ certainty }: ChordFinding) => certainty;

const placeOf = ({ part, startBar, bars }: PartLoop) => `${part} ${startBar} ${bars}`;

function spansText({ keySpans }: Reading): string {
  return keySpans.map(({ tonic, mode, startBar }) => `${startBar} ${tonic} ${mode}`).join();
}

/** Where sections begin, and which of them have one name: what the names are is no matter. */
function sectionsText({ sections }: Reading): string {
  const labels = [...new Set(sections.map(({ label }) => label))];
  return sections.map(({ startBar, label }) => `${startBar} ${labels.indexOf(label)}`).join();
}
