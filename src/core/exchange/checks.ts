import { readMidiFile } from '../midi/read.ts';
import { readTakes } from '../capture/take.ts';
import { CONTROLLER, kindOf, STATUS } from '../midi/smf.ts';
import { pitchName } from '../music/pitch.ts';
import { keyName, sameKey, type Key } from '../music/key.ts';
import { barTicks, meterAt, roundedBpm } from '../music/timeline.ts';
import { bpmOfClip, isPitched, playedNotes, type Clip } from '../phrase/clip.ts';
import { meantBy } from '../phrase/rights.ts';
import { plural } from '../words.ts';
import { outsideOf, rangeOf, type Card } from './card.ts';
import { sheafGroups } from './handoff.ts';
import { placesSound } from './leaving.ts';

/** What is looked at before something leaves. */
export const CHECKS = [
  'notes',
  'reads back',
  'bars',
  'tempos',
  'channels',
  'doubled',
  'ends settled',
  'range',
  'plain',
  'sheaf',
  'names',
  'previews',
  'key',
  'rights',
] as const;
export type CheckName = (typeof CHECKS)[number];

export interface Check {
  check: CheckName;
  /** Warnings leave; what stops does not, until it is put right. */
  state: 'pass' | 'warn' | 'stop';
  /** Name of the phrase or sheaf; empty for the pack as a whole. */
  place: string;
  /** Id of the phrase; null where it is about several. */
  id: string | null;
  text: string;
}

/** Something that leaves, as far as it is looked at. */
export interface Leaving {
  /** Of its phrase; null where it is none of the library. */
  id: string | null;
  name: string;
  /** Without folders, with its ending. */
  file: string;
  clip: Clip;
  /** The file's bytes. */
  bytes: Uint8Array;
  rights: string;
  sheaf: { id: string; name: string } | null;
  /** The key it was captured in; null where unknown or unpitched. */
  capturedKey: Key | null;
  /** Ticks of empty bars before it in the file. */
  countIn?: number;
  /** The loudest sample of its preview, 0..1; undefined where it has none. */
  peak?: number | undefined;
}

/** Quieter than this a preview says nothing (-60 dBFS). */
const SILENT_PEAK = 0.001;

/** The longest name that every file system takes, with its ending. */
const LONGEST_NAME = 124;

/** What somebody who opens the pack would stumble over: each kind of check, passed or with its place. */
export function checksOf(
  leaving: readonly Leaving[],
  { plain = false, card = null }: { plain?: boolean; card?: Card | null } = {},
): Check[] {
  const found = [
    ...leaving.flatMap((one) => [
      ...checkNotes(one),
      ...checkReadBack(one),
      ...checkBars(one),
      ...checkDoubled(one),
      ...checkEnds(one),
      ...(plain ? checkPlain(one) : []),
      ...(card ? checkRange(one, card) : []),
      ...checkKey(one),
      ...checkRights(one),
      ...checkPreview(one),
    ]),
    ...checkTempos(leaving),
    ...checkChannels(leaving),
    ...checkSheaves(leaving),
    ...checkNames(leaving),
  ];
  const told = new Set(found.map(({ check }) => check));
  const looked = CHECKS.filter(
    (check) =>
      (check !== 'plain' || plain) &&
      (check !== 'range' || card !== null) &&
      (check !== 'previews' || leaving.some(({ peak }) => peak !== undefined)),
  );
  return [
    ...found.sort((a, b) => Number(b.state === 'stop') - Number(a.state === 'stop')),
    ...looked
      .filter((check) => !told.has(check))
      .map((check): Check => ({ check, state: 'pass', place: '', id: null, text: PASSED[check] })),
  ];
}

const PASSED: Readonly<Record<CheckName, string>> = {
  notes: 'Everything has notes.',
  'reads back': 'Every file reads back as it was written.',
  bars: 'Everything begins with bar one and lasts whole bars.',
  tempos: 'One tempo throughout.',
  channels: 'Drums are on channel 10, nothing else is, and sixteen channels are enough.',
  doubled: 'No pitch is struck while it still sounds.',
  'ends settled': 'Pedals are up and bends straight at the end.',
  range: 'Every note lies in what their sounds have.',
  plain: 'Nothing in the files chooses sounds.',
  sheaf: 'What sounds together is equally long.',
  names: 'No two files have one name; every name opens on any system.',
  previews: 'Every preview sounds.',
  key: 'Everything leaves in the key it was captured in.',
  rights: 'Everything may leave.',
};

type Place = Pick<Leaving, 'id' | 'name'> | string;

const tell = (check: CheckName, state: Check['state'], place: Place, text: string): Check[] => [
  {
    ...{ check, state, text },
    ...(typeof place === 'string' ? { place, id: null } : { place: place.name, id: place.id }),
  },
];

function checkNotes(one: Leaving): Check[] {
  const { name, clip } = one;
  if (playedNotes(clip).length > 0) return [];
  return tell('notes', 'stop', one, `"${name}" has no notes: take it out, or choose other bars.`);
}

/** The file read again: the same notes at the same ticks. */
function checkReadBack(one: Leaving): Check[] {
  const { file, clip, bytes, countIn = 0 } = one;
  const { repairs } = readMidiFile(bytes);
  const [take] = readTakes(bytes);
  const notes = take?.notes;
  const back = notes
    ? Array.from({ length: notes.tick.length }, (_, i) => [
        notes.tick[i]!,
        notes.pitch[i]!,
        notes.velocity[i]!,
      ])
    : [];
  const written = clip.notes.map(({ tick, pitch, velocity }) => [tick + countIn, pitch, velocity]);
  const order = (list: number[][]) => list.map((note) => note.join()).sort();
  const [a, b] = [order(written), order(back)];
  if (repairs.length === 0 && a.length === b.length && a.every((note, i) => note === b[i])) return [];
  return tell('reads back', 'stop', one, `${file} does not read back as it was written: report this.`);
}

function checkBars(one: Leaving): Check[] {
  const { name, clip } = one;
  const bar = barTicks(clip.timeline.ppq, meterAt(clip.timeline, Math.max(0, clip.length - 1)));
  const within = clip.timeline.meters.length === 1 && (clip.length - clip.pickup) % bar !== 0;
  return within ? tell('bars', 'warn', one, `"${name}" does not last whole bars.`) : [];
}

function checkDoubled(one: Leaving): Check[] {
  const { name, clip } = one;
  const until = new Map<number, number>();
  let doubled = 0;
  for (const { tick, duration, pitch } of clip.notes) {
    if ((until.get(pitch) ?? 0) > tick) doubled++;
    until.set(pitch, Math.max(until.get(pitch) ?? 0, tick + duration));
  }
  if (doubled === 0 || !isPitched(clip)) return [];
  return tell(
    'doubled',
    'warn',
    one,
    `In "${name}" ${plural(doubled, 'note')} ${doubled === 1 ? 'is' : 'are'} struck while the same pitch still sounds.`,
  );
}

function checkEnds(one: Leaving): Check[] {
  const {
    name,
    clip: { controls },
  } = one;
  const last = (which: (control: Clip['controls'][number]) => boolean) => controls.findLast(which);
  const pedal = last(({ kind, data1 }) => kind === STATUS.controller && data1 === CONTROLLER.sustain);
  const bend = last(({ kind }) => kind === STATUS.pitchBend);
  const open = [
    pedal && pedal.data2 >= 64 ? 'its pedal is down' : '',
    bend && !(bend.data1 === 0 && bend.data2 === 64) ? 'it is bent' : '',
  ].filter(Boolean);
  if (open.length === 0) return [];
  return tell('ends settled', 'warn', one, `At the end of "${name}" ${open.join(' and ')}.`);
}

/** In a plain pack nothing says which sound plays. */
function checkPlain(one: Leaving): Check[] {
  const { name, bytes } = one;
  const chooses = readMidiFile(bytes).file.tracks.some((events) =>
    events.some(
      ({ status, data1 }) => kindOf(status) === STATUS.program || placesSound(kindOf(status), data1),
    ),
  );
  return chooses ? tell('plain', 'stop', one, `"${name}" chooses a sound, and the pack is plain.`) : [];
}

/** Notes that somebody's sound does not have are silent there. */
function checkRange(one: Leaving, card: Card): Check[] {
  const outside = outsideOf(one.clip, card);
  if (outside === 0) return [];
  const { middleC } = card;
  const [from, to] = rangeOf(one.clip.role, card).map((pitch) => pitchName(pitch, { middleC }));
  const text =
    `${plural(outside, 'note')} of "${one.name}" ${outside === 1 ? 'lies' : 'lie'} outside of what their ` +
    `${one.clip.role} has, ${from} to ${to}.`;
  return tell('range', 'warn', one, text);
}

function checkKey(one: Leaving): Check[] {
  const { name, clip, capturedKey } = one;
  if (!clip.key || !capturedKey || sameKey(clip.key, capturedKey)) return [];
  return tell(
    'key',
    'warn',
    one,
    `"${name}" leaves in ${keyName(clip.key)}, and was captured in ${keyName(capturedKey)}.`,
  );
}

function checkRights(one: Leaving): Check[] {
  const { name, rights } = one;
  switch (meantBy(rights)) {
    case 'not to leave':
      return tell('rights', 'stop', one, `"${name}" is not to leave: take it out.`);
    case "from somebody's song":
      return tell('rights', 'warn', one, `"${name}" is from somebody's song: ask before it leaves.`);
    case 'unknown':
      return tell('rights', 'warn', one, `Whether "${name}" may leave is not known: say its rights.`);
    default:
      return [];
  }
}

function checkPreview(one: Leaving): Check[] {
  const { name, peak } = one;
  if (peak === undefined || peak >= SILENT_PEAK) return [];
  return tell('previews', 'warn', one, `The preview of "${name}" is silent.`);
}

function checkTempos(leaving: readonly Leaving[]): Check[] {
  const tempos = [...new Set(leaving.map(({ clip }) => roundedBpm(bpmOfClip(clip))))];
  if (tempos.length < 2) return [];
  return tell('tempos', 'warn', '', `There are ${tempos.length} tempos; each file carries its own.`);
}

function checkChannels(leaving: readonly Leaving[]): Check[] {
  const wrong = leaving.filter(
    ({ clip }) => !isPitched(clip) && clip.role !== 'slices' && clip.channel !== 9,
  );
  const found = wrong.flatMap((one) =>
    tell('channels', 'warn', one, `"${one.name}" has drums on another channel than 10.`),
  );
  const most = Math.max(
    0,
    ...groupsOf(leaving).map((group) => group.filter(({ clip }) => isPitched(clip)).length),
  );
  if (most > 15)
    return [
      ...found,
      ...tell('channels', 'warn', '', `${most} parts sound together, and fifteen channels hold them.`),
    ];
  return found;
}

/** What sounds together, a group each. */
function groupsOf(leaving: readonly Leaving[]): Leaving[][] {
  return sheafGroups(leaving).map((group) => group.map((i) => leaving[i]!));
}

function checkSheaves(leaving: readonly Leaving[]): Check[] {
  return groupsOf(leaving).flatMap((group) => {
    const lengths = new Set(
      group.map(({ clip }) => Math.round(((clip.length - clip.pickup) / clip.timeline.ppq) * 960)),
    );
    if (lengths.size === 1) return [];
    const { name } = group[0]!.sheaf!;
    return tell('sheaf', 'warn', name, `The parts of "${name}" are not equally long.`);
  });
}

function checkNames(leaving: readonly Leaving[]): Check[] {
  const seen = new Set<string>();
  return leaving.flatMap((one) => {
    const { file } = one;
    const lower = file.toLowerCase();
    const isTwin = seen.has(lower);
    seen.add(lower);
    if (isTwin) return tell('names', 'stop', one, `Two files are called ${file}.`);
    return file.length > LONGEST_NAME ? tell('names', 'stop', one, `${file} is too long a name.`) : [];
  });
}
