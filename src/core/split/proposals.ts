import type { Take } from '../capture/take.ts';
import { GM_DRUM_CHANNEL, programName } from '../midi/gm.ts';
import { plural } from '../words.ts';
import { isClick } from './click.ts';
import { divisionMove, groupsOf } from './division.ts';
import { doublesAmong, doubledBy, layeredParts } from './doubles.ts';
import { guessDrumMap } from './drum-map.ts';
import { keySwitches } from './key-switches.ts';
import { kitAmong, layersOf, without, type Layer } from './mixed.ts';
import { applyMoves, type Move, type SingleMove } from './moves.ts';
import { noteSet } from './note-set.ts';
import { piecesOfOne } from './pieces.ts';
import { listenAmong } from './playing.ts';
import { isInstrument, UNPITCHED, type Role } from './roles.ts';
import { sliceCycle } from './slices.ts';
import { partNotes, playingParts, type Part, type PlayingPart, type Split } from './split.ts';

/** Something that could be done to a split, with the reason. Nothing is done unasked. */
export interface Proposal {
  /** Stays the same while the parts it is about do, so that a refusal lasts. */
  id: string;
  kind: (typeof PROPOSALS)[number];
  /** Ids of the parts it is about. */
  parts: string[];
  /** One line, ending in a question. */
  text: string;
  why: string;
  /** 0..1. */
  certainty: number;
  /** What can be done, the usual way first. */
  ways: { title: string; move: Move }[];
}

/** What mends a take, and what could be taken further: the second is never part of "accept all". */
const MENDS = [
  'merge',
  'mixedKit',
  'layers',
  'kit',
  'doubled',
  'click',
  'slices',
  'keySwitches',
  'drumMap',
] as const;
const OFFERS = ['role', 'layered', 'hands', 'voices'] as const;
/** What newer methods hear otherwise in the music. */
const OF_THE_READING = ['hearAnew'] as const;
/** Of the time and the harmony: found by analysis, not here. */
const OF_THE_MUSIC = ['bars', 'meter', 'silence', 'time', 'countIn', 'late', 'tail', 'chart'] as const;
/** What the takes of its source usually need. */
const OF_THE_SOURCE = ['habits'] as const;
const PROPOSALS = [...OF_THE_SOURCE, ...MENDS, ...OFFERS, ...OF_THE_READING, ...OF_THE_MUSIC] as const;

export function isMend({ kind }: Proposal): boolean {
  return (MENDS as readonly string[]).includes(kind);
}

/** What could be done to a split as it stands, mends first, without what was refused. */
export function proposalsFor(take: Take, split: Split): Proposal[] {
  return [...mendsFor(take, split), ...offersFor(take, split)];
}

/** What would mend a split as it stands. */
export function mendsFor(take: Take, split: Split): Proposal[] {
  const playing = playingParts(split);
  const heard = listenAmong(
    take,
    playing.map(({ notes }) => notes),
  );
  return inOrder(split, [
    ...mergeProposals(take, split),
    ...doubledProposals(take, playing),
    ...playing.flatMap((one, index) => [
      ...mixedProposals(take, one, playing),
      ...layerProposals(take, one, playing),
      ...kitProposals(one, heard(index).kit),
      ...clickProposals(take, one),
      ...sliceProposals(take, one),
      ...keySwitchProposals(take, split, one),
      ...drumMapProposals(take, one),
    ]),
  ]);
}

/** What could be taken further where it is wanted. */
export function offersFor(take: Take, split: Split): Proposal[] {
  return inOrder(split, [
    ...layeredProposals(take, split),
    ...playingParts(split).flatMap((one) => [
      ...handProposals(take, split, one),
      ...voiceProposals(take, split, one),
    ]),
  ]);
}

/** What was found, in the order of its kinds, without what was refused. */
export function inOrder(split: Split, found: Proposal[]): Proposal[] {
  const order = ({ kind }: Proposal) => PROPOSALS.indexOf(kind);
  return found.filter(({ id }) => !split.refused.includes(id)).sort((a, b) => order(a) - order(b));
}

/**
 * Accepts what mends a take, each in its usual way, until nothing is left to mend; only what is at least as certain
 * as asked. Null where there is nothing.
 */
export function acceptAll(take: Take, split: Split, certainty = 0): Move | null {
  const moves: SingleMove[] = [];
  let accepted = 0;
  let now = split;
  for (let round = 0; round < MOST_ACCEPTED; round++) {
    // One after the other: what is accepted may answer, or raise, another.
    const next = mendsFor(take, now).find((proposal) => proposal.certainty >= certainty);
    if (!next) break;
    const move = next.ways[0]!.move;
    moves.push(...(move.move === 'together' ? move.moves : [move]));
    now = applyMoves(now, take.notes, [move]);
    accepted++;
  }
  if (accepted === 0) return null;
  return { move: 'together', title: `accept ${plural(accepted, 'proposal')}`, moves };
}

/** A split with all accepted that is at least so certain: itself where there is nothing. */
export function mended(take: Take, split: Split, certainty = 0): Split {
  const move = acceptAll(take, split, certainty);
  return move ? applyMoves(split, take.notes, [move]) : split;
}

/** A take has so many at the most; more would be a proposal that does not settle what it proposes. */
const MOST_ACCEPTED = 64;

function mergeProposals(take: Take, split: Split): Proposal[] {
  return piecesOfOne(take, split).map((group) => {
    const parts = group.map((index) => split.parts[index]!);
    const [first] = parts;
    const ids = parts.map(({ id }) => id);
    return {
      id: `merge ${ids.join(' ')}`,
      kind: 'merge',
      parts: ids,
      text: `${plural(parts.length, 'track')} of one ${first!.role === 'other' ? 'instrument' : first!.role}, never together: merge?`,
      why: `${parts.map(({ name }) => `"${name}"`).join(', ')} play ${programName(first!.program)} on channel ${first!.channel + 1}, one after the other.`,
      certainty: 0.95,
      ways: [{ title: 'Merge', move: { move: 'merge', parts: ids } }],
    };
  });
}

/** Program with which a kit stands on channel 10: the standard kit. */
const KIT_SOUND = { channel: GM_DRUM_CHANNEL, program: 0 };

function kitProposals({ part, notes }: PlayingPart, kit: number): Proposal[] {
  const inSpite = part.found && kit >= KIT_IN_SPITE_OF_PROGRAM && notes.length >= GROOVE_IN_SPITE_OF_PROGRAM;
  const isKit = part.role === 'drums' || inSpite;
  if (part.channel === GM_DRUM_CHANNEL || !isKit) return [];
  const sound: SingleMove = { move: 'sound', part: part.id, ...KIT_SOUND };
  const role: SingleMove = { move: 'role', part: part.id, role: 'drums' };
  return [
    {
      id: `kit ${part.id}`,
      kind: 'kit',
      parts: [part.id],
      text: `"${part.name}" on channel ${part.channel + 1} is a drum kit: treat it as drums?`,
      why:
        part.role === 'drums' && part.reasons.length > 0
          ? `${part.reasons.join('; ')}.`
          : 'Its notes come and go as the pieces of a kit do, and fit no harmony.',
      certainty: part.role === 'drums' ? Math.max(part.certainty, kit) : kit,
      ways: [
        {
          title: 'As drums',
          move: {
            move: 'together',
            title: `${part.name} as drums`,
            moves: part.role === 'drums' ? [sound] : [role, sound],
          },
        },
      ],
    },
  ];
}

/** How much a part must behave like a kit although its program or name says otherwise. */
const KIT_IN_SPITE_OF_PROGRAM = 0.85;
const GROOVE_IN_SPITE_OF_PROGRAM = 32;

function mixedProposals(
  take: Take,
  { part, notes }: PlayingPart,
  playing: readonly PlayingPart[],
): Proposal[] {
  if (UNPITCHED.has(part.role) || part.channel === GM_DRUM_CHANNEL) return [];
  // A sound that was chosen and is played as such hides no kit, nor does who has a kit of its own.
  if (part.program > 0 && part.certainty >= 0.8) return [];
  if (playing.some(({ part: other }) => other.role === 'drums')) return [];
  const kit = kitAmong(take, notes);
  if (kit.length === 0) return [];
  return [
    {
      id: `mixedKit ${part.id}`,
      kind: 'mixedKit',
      parts: [part.id],
      text: `A drum kit of ${plural(kit.length, 'note')} among those of "${part.name}": take it out?`,
      why: 'Notes of one length come back on the same places of the bar, on the pitches of kick, snare and hat.',
      certainty: 0.85,
      ways: [
        {
          title: 'Take out',
          move: {
            move: 'divide',
            part: part.id,
            how: 'what plays like a kit',
            into: [{ name: 'Drum kit', role: 'drums', notes: noteSet(kit), ...KIT_SOUND }],
          },
        },
      ],
    },
  ];
}

const LAYER_NAMES: Record<Layer['kind'], { name: string; role: Role }> = {
  held: { name: 'Held chords', role: 'pad' },
  chords: { name: 'Chords', role: 'keys' },
  line: { name: 'Line', role: 'lead' },
  bass: { name: 'Bass', role: 'bass' },
};

/** Only of a stream that is known to hold several instruments: a kit was taken out of it. */
function layerProposals(
  take: Take,
  { part, notes }: PlayingPart,
  playing: readonly PlayingPart[],
): Proposal[] {
  const held = part.from[0];
  const isShared = playing.some(
    ({ part: other }) =>
      other !== part &&
      other.role === 'drums' &&
      other.from[0] === held &&
      other.from.length === part.from.length,
  );
  if (!isShared || !part.found || UNPITCHED.has(part.role) || part.takenOutOf) return [];

  const layers = layersOf(take, notes);
  if (layers.length < 2) return [];
  const [stays, ...others] = layers.map(({ kind, notes: chosen }) => ({
    ...LAYER_NAMES[kind],
    notes: noteSet(chosen),
  }));
  return [
    {
      id: `layers ${part.id}`,
      kind: 'layers',
      parts: [part.id],
      text: `${plural(layers.length, 'instrument')} on the one stream of "${part.name}": take them apart?`,
      why: 'A line lies under all else, or the notes are of clearly different lengths.',
      certainty: 0.7,
      ways: [
        {
          title: 'Take apart',
          move: {
            move: 'together',
            title: `${part.name} apart by layers`,
            moves: [
              { move: 'divide', part: part.id, how: 'layers', into: others },
              { move: 'rename', part: part.id, name: stays!.name },
              { move: 'role', part: part.id, role: stays!.role },
            ],
          },
        },
      ],
    },
  ];
}

/** A few notes that come twice are a drummer's flam or a hand's trill. */
const DOUBLED_SHARE = 0.3;

function doubledProposals(take: Take, playing: readonly PlayingPart[]): Proposal[] {
  const found = playing.flatMap(({ part, notes }) => {
    const doubles = doublesAmong(take, notes);
    const enough = doubles.length >= 4 && 2 * doubles.length >= DOUBLED_SHARE * notes.length;
    return enough ? [{ part, doubles }] : [];
  });
  if (found.length === 0) return [];
  const count = found.reduce((sum, { doubles }) => sum + doubles.length, 0);
  const where = found.length === 1 ? `"${found[0]!.part.name}"` : plural(found.length, 'part');
  return [
    {
      id: `doubled ${found.map(({ part }) => part.id).join(' ')}`,
      kind: 'doubled',
      parts: found.map(({ part }) => part.id),
      text: `${plural(count, 'note')} of ${where} came twice: set the doubles aside?`,
      why: 'One pitch twice within 10 ms: a generator was still on while its notes were played back, or two ports carry the same.',
      certainty: 0.95,
      ways: [
        {
          title: 'Set aside',
          move: {
            move: 'together',
            title: `set ${plural(count, 'double')} aside`,
            moves: found.map(({ part, doubles }) => ({
              move: 'setAside',
              part: part.id,
              reason: 'doubled',
              notes: noteSet(doubles),
            })),
          },
        },
      ],
    },
  ];
}

function layeredProposals(take: Take, split: Split): Proposal[] {
  return layeredParts(take, split).map(([firstIndex, secondIndex]) => {
    const [first, second] = [split.parts[firstIndex]!, split.parts[secondIndex]!];
    const doubles = doubledBy(take, partNotes(split, secondIndex), partNotes(split, firstIndex));
    const ids = [first.id, second.id];
    return {
      id: `layered ${ids.join(' ')}`,
      kind: 'layered',
      parts: ids,
      text: `"${second.name}" plays the notes of "${first.name}": one of them is enough?`,
      why: 'The same pitches at the same times: one part layered on two sounds.',
      certainty: 0.9,
      ways: [
        {
          title: 'Join',
          move: {
            move: 'together',
            title: `join ${first.name} and ${second.name}`,
            moves: [
              { move: 'setAside', part: second.id, reason: 'doubled', notes: noteSet(doubles) },
              { move: 'merge', parts: ids },
            ],
          },
        },
        {
          title: `Set "${second.name}" aside`,
          move: { move: 'setAside', part: second.id, reason: 'doubled' },
        },
      ],
    };
  });
}

/** GM percussion on which a kept click sounds: high wood block on the first of the bar, low on the others. */
const CLICK_FIRST = 76;
const CLICK_OTHER = 77;

function clickProposals(take: Take, { part, notes }: PlayingPart): Proposal[] {
  const isOne = part.found ? part.role === 'click' || isClick(take, notes) : false;
  if (!isOne || part.pitchMap.length > 0) return [];
  const first = take.notes.pitch[notes[0]!]!;
  const others = [...new Set(notes.map((i) => take.notes.pitch[i]!))].filter((pitch) => pitch !== first);
  return [
    {
      id: `click ${part.id}`,
      kind: 'click',
      parts: [part.id],
      text: `"${part.name}" is a click: set it aside?`,
      why: 'One or two pitches, one on each beat, the first of the bar different.',
      certainty: 0.9,
      ways: [
        { title: 'Set aside', move: { move: 'setAside', part: part.id, reason: 'click' } },
        {
          title: 'Keep as wood block',
          move: {
            move: 'together',
            title: `keep ${part.name} as wood block`,
            moves: [
              { move: 'role', part: part.id, role: 'click' },
              { move: 'sound', part: part.id, ...KIT_SOUND },
              {
                move: 'pitchMap',
                part: part.id,
                pairs: [
                  [first, CLICK_FIRST],
                  ...others.map((pitch): [number, number] => [pitch, CLICK_OTHER]),
                ],
              },
            ],
          },
        },
      ],
    },
  ];
}

function sliceProposals(take: Take, { part, notes }: PlayingPart): Proposal[] {
  if (!part.found || UNPITCHED.has(part.role) || isInstrument(part.program)) return [];
  const cycle = sliceCycle(take, notes);
  if (!cycle) return [];
  return [
    {
      id: `slices ${part.id}`,
      kind: 'slices',
      parts: [part.id],
      text: `"${part.name}" triggers slices of a sample: lock its pitches?`,
      why: `${cycle.length} neighboring pitches, each once a cycle.`,
      certainty: 0.8,
      ways: [{ title: 'As slices', move: { move: 'role', part: part.id, role: 'slices' } }],
    },
  ];
}

function keySwitchProposals(take: Take, split: Split, { part, notes }: PlayingPart): Proposal[] {
  if (UNPITCHED.has(part.role)) return [];
  const body = notes.filter((i) => !split.locked[i]);
  if (body.length < notes.length) return [];
  const switches = keySwitches(take, body);
  if (switches.length === 0) return [];
  const isBelow = take.notes.pitch[switches[0]!]! < take.notes.pitch[without(body, switches)[0]!]!;
  return [
    {
      id: `keySwitches ${part.id}`,
      kind: 'keySwitches',
      parts: [part.id],
      text: `${plural(switches.length, 'key switch', 'key switches')} ${isBelow ? 'below' : 'above'} "${part.name}": lock?`,
      why: 'Few pitches an octave and more from the others, one at a time: they choose how it plays. Locked, they stay with it, are never transposed and count for no harmony.',
      certainty: 0.85,
      ways: [{ title: 'Lock', move: { move: 'lock', part: part.id, notes: noteSet(switches), on: true } }],
    },
  ];
}

function drumMapProposals(take: Take, { part, notes }: PlayingPart): Proposal[] {
  if (part.role !== 'drums' || part.pitchMap.length > 0 || notes.length < 16) return [];
  const pairs = guessDrumMap(take, notes);
  if (pairs.length === 0) return [];
  return [
    {
      id: `drumMap ${part.id}`,
      kind: 'drumMap',
      parts: [part.id],
      text: `"${part.name}" lies off the General MIDI map: translate it?`,
      why: `${plural(pairs.length, 'pitch', 'pitches')} would sound as kick, snare and hat by where they fall in the bar. The captured notes stay.`,
      certainty: 0.6,
      ways: [{ title: 'Translate', move: { move: 'pitchMap', part: part.id, pairs } }],
    },
  ];
}

/** Shares of the notes that each hand, or line, must have before it is told of. */
const HAND_SHARE = 0.2;

const HANDED: ReadonlySet<Role> = new Set<Role>(['keys', 'other', 'pad', 'strings']);

function handProposals(take: Take, split: Split, { part, notes }: PlayingPart): Proposal[] {
  if (!HANDED.has(part.role) || part.takenOutOf) return [];
  const groups = groupsOf(take, split, part.id, { by: 'hands' });
  if (groups.length < 2 || !areApart(take, groups, notes.length)) return [];
  return [
    offer(take, split, part, 'hands', 'two hands', 'Neither spans more than a tenth, and both play at once.'),
  ];
}

function voiceProposals(take: Take, split: Split, { part, notes }: PlayingPart): Proposal[] {
  if (!HANDED.has(part.role) || part.takenOutOf) return [];
  const groups = groupsOf(take, split, part.id, { by: 'voices' });
  if (groups.length < 3 || groups.some((group) => group.notes.length < 0.1 * notes.length)) return [];
  if (!areApart(take, [groups[0]!, groups[2]!], notes.length)) return [];
  return [
    offer(
      take,
      split,
      part,
      'voices',
      'bass, chords and a top line',
      'Single notes move under and over what lies between.',
    ),
  ];
}

function offer(
  take: Take,
  split: Split,
  part: Part,
  by: 'hands' | 'voices',
  what: string,
  why: string,
): Proposal {
  return {
    id: `${by} ${part.id}`,
    kind: by,
    parts: [part.id],
    text: `"${part.name}" is ${what}: take it apart?`,
    why,
    certainty: 0.6,
    ways: [{ title: 'Take apart', move: divisionMove(take, split, part.id, { by })! }],
  };
}

/** Whether two groups are of some size, lie an octave apart on average, and play in the same bars. */
function areApart(take: Take, [upper, lower]: readonly { notes: number[] }[], all: number): boolean {
  if (Math.min(upper!.notes.length, lower!.notes.length) < HAND_SHARE * all * 0.5) return false;
  const mean = (notes: readonly number[]) =>
    notes.reduce((sum, i) => sum + take.notes.pitch[i]!, 0) / notes.length;
  if (mean(upper!.notes) - mean(lower!.notes) < 12) return false;
  const bar = take.timing.timeline.ppq * 4;
  const barsOf = (notes: readonly number[]) =>
    new Set(notes.map((i) => Math.floor(take.notes.tick[i]! / bar)));
  const [one, other] = [barsOf(upper!.notes), barsOf(lower!.notes)];
  const both = [...one].filter((at) => other.has(at)).length;
  return both >= 0.6 * Math.max(one.size, other.size);
}
