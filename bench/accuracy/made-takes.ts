import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readTakes, takeFrom, type Take } from '../../src/core/capture/take.ts';
import { writeMidiFile } from '../../src/core/midi/write.ts';
import type { Mishap } from '../../src/core/standins/mishaps.ts';
import { performanceFile, type Performance } from '../../src/core/standins/performance.ts';
import { seededRandom } from '../../src/core/random.ts';
import { STAND_INS, standInById } from '../../src/core/standins/stand-ins.ts';

/** A take whose parts are known because it was made of them. */
export interface MadeTake {
  name: string;
  take: Take;
  /** By note: the part it was made as. */
  truth: string[];
}

/** What the band is asked to play: keys and moods enough that nothing depends on one. */
const CHARTS = [
  'Dm | Bb | Gm | A7',
  'G | C | D7 | G | Em | C | D7 | G',
  'F#m | D | A | E',
  'Eb | Cm | Ab | Bb7',
  'Am7 | D7 | Gmaj7 | Cmaj7',
  'C | Am | F | G7',
];

/** Every stand-in with every mishap by itself, none, and two or three at once. */
export function standInTakes(count: number): MadeTake[] {
  const random = seededRandom(5);
  const pick = <Value>(list: readonly Value[]) => list[Math.floor(random() * list.length)]!;
  const each = STAND_INS.flatMap(({ id, mishaps }) => [
    { id: id as string, mishaps: [] as Mishap[] },
    ...mishaps.map((mishap) => ({ id: id as string, mishaps: [mishap as Mishap] })),
  ]);
  return Array.from({ length: count }, (_, n) => {
    const { id, mishaps } = each[n % each.length]!;
    const standIn = standInById(id);
    const more = n < each.length ? [] : [pick(standIn.mishaps), pick(standIn.mishaps)];
    const all = [...new Set([...mishaps, ...more])];
    const settings = { ...standIn.defaults, seed: n + 1, bpm: 72 + Math.floor(random() * 80) };
    for (const field of standIn.fields) {
      if (field.kind === 'choice') Object.assign(settings, { [field.name]: pick(field.options).value });
    }
    if ('chart' in settings) Object.assign(settings, { chart: pick(CHARTS) });
    return madeTake(
      `${standIn.title}${all.length > 0 ? `: ${all.join(', ')}` : ''}`,
      standIn.play(settings, all),
      {
        ...standIn.play(
          settings,
          all.filter((mishap) => mishap !== 'oneTrack'),
        ),
      },
    );
  });
}

/** `apart` is the same performance with its parts on tracks of their own. */
function madeTake(name: string, played: Performance, apart: Performance): MadeTake {
  const take = takeFrom(performanceFile(played));
  const partsAt = new Map<string, string[]>();
  for (const part of apart.parts) {
    for (const { tick, pitch, velocity } of part.notes) {
      const key = `${tick} ${pitch} ${velocity}`;
      const made = part.name.replace(/ (pickup|ending)$/, '');
      partsAt.set(key, [...(partsAt.get(key) ?? []), made]);
    }
  }
  const { notes } = take;
  const truth = Array.from({ length: notes.length }, (_, i) => {
    const waiting = partsAt.get(`${notes.tick[i]} ${notes.pitch[i]} ${notes.velocity[i]}`);
    return waiting?.shift() ?? 'unknown';
  });
  return { name, take, truth };
}

const ABC_KEYS = ['C', 'G', 'D', 'A', 'F', 'Bb', 'Eb', 'Am', 'Em', 'Dm'];
/**
 * Tunes with chords, bass and drums, sounded by Debian's `abc2midi` (package abcmidi) and put into one track; with
 * `oneChannel` onto one channel too, where nothing but the notes tells what is what.
 */
export function abcTakes(count: number, oneChannel: boolean): MadeTake[] {
  const folder = mkdtempSync(join(tmpdir(), 'abc-'));
  try {
    return Array.from({ length: count }, (_, n) => {
      const source = join(folder, `${n}.abc`);
      const target = join(folder, `${n}.mid`);
      writeFileSync(source, abcTune(n + 1));
      execFileSync('abc2midi', [source, '-quiet', '-o', target], { stdio: 'ignore' });
      return inOneTrack(`abc2midi tune ${n + 1}`, readTakes(readFileSync(target))[0]!, oneChannel);
    });
  } finally {
    rmSync(folder, { recursive: true });
  }
}

const ABC_PARTS: Record<number, string> = { 0: 'tune', 1: 'bass', 2: 'chords', 9: 'drums' };

function inOneTrack(name: string, made: Take, oneChannel: boolean): MadeTake {
  const events = made.file.tracks
    .flat()
    .filter((event) => event.status !== 0xff || event.data1 !== 0x2f)
    .map((event) => ({ event, order: event.status >= 0xf0 ? 0 : event.status >> 4 === 0x9 ? 2 : 1 }))
    .sort((a, b) => a.event.tick - b.event.tick || a.order - b.order)
    .map(({ event }) => event);
  const end = made.timing.ticks;
  const track = [...events, { tick: end, status: 0xff, data1: 0x2f, data2: 0, bytes: new Uint8Array() }];
  const together = readTakes(writeMidiFile({ ...made.file, format: 0, tracks: [track] }))[0]!;
  const truth = Array.from(together.notes.channel, (channel) => ABC_PARTS[channel] ?? 'other');
  if (!oneChannel) return { name, take: together, truth };
  // Channels are taken from the notes that were paired, so that one pitch of two parts does not end the other.
  const { notes } = together;
  const flat = { ...together, notes: { ...notes, channel: new Uint8Array(notes.length) } };
  const plain = flat.file.tracks.map((events) =>
    events
      .filter((event) => event.status >= 0xf0 || event.status >> 4 !== 0xc)
      .map((event) => (event.status < 0xf0 ? { ...event, status: event.status & 0xf0 } : event)),
  );
  return { name, take: { ...flat, file: { ...flat.file, tracks: plain } }, truth };
}

/** A tune of eight bars over chords in a key, with one of three accompaniments. */
function abcTune(seed: number): string {
  const random = seededRandom(seed);
  const pick = <Value>(list: readonly Value[]) => list[Math.floor(random() * list.length)]!;
  const key = pick(ABC_KEYS);
  const chordNames = chordsIn(key);
  const accompaniment = pick([
    { gchord: 'fzczfzcz', drum: 'dddddddd 36 42 38 42 36 42 38 42 110 80 100 80 110 80 100 80' },
    { gchord: 'fzczGzcz', drum: 'd2ddd2dd 36 42 42 38 42 42 110 80 80 100 80 80' },
    { gchord: 'fcfcfcfc', drum: 'dzddzddz 36 46 38 36 38 110 80 100 90 100' },
  ]);
  const bars = Array.from({ length: 8 }, (_, bar) => {
    const chord = bar % 8 === 0 || bar === 7 ? chordNames[0]! : pick(chordNames);
    const notes = Array.from({ length: 4 }, () =>
      pick(['G2', 'A2', 'B2', 'c2', 'd2', 'e2', 'f2', 'g2', 'GA', 'cd', 'ed', 'e>d']),
    );
    return `"${chord}"${notes.join('')}`;
  });
  return [
    'X:1',
    `T:Tune ${seed}`,
    'M:4/4',
    'L:1/8',
    `Q:1/4=${80 + Math.floor(random() * 60)}`,
    `K:${key}`,
    `%%MIDI program ${pick([73, 40, 56, 71])}`,
    `%%MIDI gchord ${accompaniment.gchord}`,
    `%%MIDI chordprog ${pick([24, 0, 21])}`,
    `%%MIDI bassprog ${pick([32, 33])}`,
    '%%MIDI gchordon',
    `%%MIDI drum ${accompaniment.drum}`,
    '%%MIDI drumon',
    `${bars.slice(0, 4).join('|')}|`,
    `${bars.slice(4).join('|')}|`,
    '',
  ].join('\n');
}

/** The plain chords of a key, the tonic first. */
function chordsIn(key: string): string[] {
  const names = ['C', 'Db', 'D', 'Eb', 'E', 'F', 'F#', 'G', 'Ab', 'A', 'Bb', 'B'];
  const minor = key.endsWith('m');
  const tonic = names.indexOf(minor ? key.slice(0, -1) : key);
  const at = (step: number, suffix: string) => names[(tonic + step) % 12]! + suffix;
  return minor
    ? [at(0, 'm'), at(5, 'm'), at(7, '7'), at(8, ''), at(10, '')]
    : [at(0, ''), at(5, ''), at(7, '7'), at(9, 'm'), at(2, 'm')];
}
