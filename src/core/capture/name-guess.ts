import { keyLabel, parseKey, type Key } from '../music/key.ts';

/** What a file's name and folders say of what is in it. Guesses: shown as such, never taken for facts. */
export interface NameGuess {
  bpm?: number;
  key?: Key;
  meter?: { numerator: number; denominator: number };
  section?: string;
  /** The folder that it came in. */
  folder?: string;
}

const SECTIONS =
  /\b(intro|verse|pre-?chorus|chorus|bridge|refrain|break|solo|interlude|ending|outro|coda|fill)\b/i;

/** Meters as file names can spell them: a stroke is not allowed there. */
const METER = /\b(2|3|4|5|6|7|9|12)\s?[-/x]\s?(4|8)\b/;

/** "Bm", "F#min", "Eb major", "A dorian", and a bare letter only after "in" or "key". */
const KEY =
  /\b(?:([A-G][#b♯♭]?)\s?(m|min|minor|maj|major|dorian|phrygian|lydian|mixolydian|locrian)|(?:in|key(?: of)?)\s+([A-G][#b♯♭]?))(?![\w#])/;

/** A guess in a few words, such as "104 BPM, Bm, bridge"; empty where there is none. */
export function guessWords({ bpm, key, meter, section }: NameGuess): string {
  const words = [
    bpm !== undefined && `${bpm} BPM`,
    key && keyLabel(key),
    meter && `${meter.numerator}/${meter.denominator}`,
    section,
  ];
  return words.filter(Boolean).join(', ');
}

/** Reads a path such as "Market/Thistle 104bpm Bm bridge.mid". Underscores and points count as spaces. */
export function guessFromName(path: string): NameGuess {
  const folders = path.split(/[/\\]/);
  const name = folders.pop()!.replace(/\.(midi?|smf|kar|rmi)$/i, '');
  const folder = folders.filter(Boolean).at(-1);
  const words = name.replace(/[_.]+/g, ' ');
  const tempo = /(?<![\d.])(\d{2,3})\s?bpm\b/i.exec(words);
  const bpm = tempo ? Number(tempo[1]) : undefined;
  const keyMatch = KEY.exec(words);
  const key = keyMatch ? parseKey(keyMatch[3] ?? `${keyMatch[1]} ${keyMatch[2]}`) : undefined;
  const meter = METER.exec(words);
  const section = SECTIONS.exec(words)?.[1]?.toLowerCase();
  return {
    ...(bpm !== undefined && bpm >= 20 && bpm <= 400 ? { bpm } : {}),
    ...(key ? { key } : {}),
    ...(meter ? { meter: { numerator: Number(meter[1]), denominator: Number(meter[2]) } } : {}),
    ...(section ? { section } : {}),
    ...(folder ? { folder } : {}),
  };
}
