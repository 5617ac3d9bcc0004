import { ascending, groups } from 'd3-array';
import type { Take } from '../capture/take.ts';
import { findStreams } from '../capture/streams.ts';
import { KIT_PIECES, kitPiece, programName } from '../midi/gm.ts';
import { pitchName } from '../music/pitch.ts';
import type { Move } from './moves.ts';
import { noteSet } from './note-set.ts';
import type { Role } from './roles.ts';
import { partIndex, partNotes, soundingPitch, type Split } from './split.ts';
import { splitAtPoint } from './split-point.ts';
import { bassChordsTop, twoHands } from './voices.ts';

/** By what the notes of a part can be told apart. Lengths in quarter notes. */
export type Division =
  | { by: 'pitch'; at: number }
  | { by: 'hands' }
  | { by: 'voices' }
  | { by: 'pieces' }
  | { by: 'channel' }
  | { by: 'program' }
  | { by: 'velocity'; at: number }
  | { by: 'length'; at: number };

/** A group of notes that a division would make a part of. */
export interface Group {
  name: string;
  role: Role;
  notes: number[];
}

/**
 * The groups into which a division takes a part apart, those without notes left out; locked notes go with the group
 * that plays with them, so they are not divided. One group or none means that nothing is told apart.
 */
export function groupsOf(take: Take, split: Split, part: string, division: Division): Group[] {
  const index = partIndex(split, part);
  const whole = split.parts[index];
  if (!whole) return [];
  const notes = partNotes(split, index).filter((i) => !split.locked[i]);
  const group = (name: string, chosen: number[], role: Role = whole.role): Group => ({
    name,
    role,
    notes: chosen,
  });
  const groups = (): Group[] => {
    switch (division.by) {
      case 'pitch': {
        const { below, above } = splitAtPoint(take, notes, division.at);
        const at = pitchName(division.at);
        return [group(`${whole.name} from ${at} up`, above), group(`${whole.name} below ${at}`, below)];
      }
      case 'hands': {
        const { left, right } = twoHands(take, notes);
        return [group(`${whole.name}, right hand`, right), group(`${whole.name}, left hand`, left)];
      }
      case 'voices': {
        const { bass, chords, top } = bassChordsTop(take, notes);
        return [
          group(`${whole.name}, top line`, top, 'lead'),
          group(`${whole.name}, chords`, chords),
          group(`${whole.name}, bass`, bass, 'bass'),
        ];
      }
      case 'pieces':
        return KIT_PIECES.map((piece) =>
          group(
            `${whole.name}, ${piece}`,
            notes.filter((i) => kitPiece(soundingPitch(whole.pitchMap, take.notes.pitch[i]!)) === piece),
          ),
        );
      case 'channel':
        return grouped(notes, (i) => take.notes.channel[i]!).map(([channel, chosen]) =>
          group(`${whole.name}, channel ${channel + 1}`, chosen),
        );
      case 'program': {
        const programs = programsOf(take);
        return grouped(notes, (i) => programs[i]!).map(([program, chosen]) =>
          group(program < 0 ? `${whole.name}, no program` : programName(program), chosen),
        );
      }
      case 'velocity':
        return [
          group(
            `${whole.name}, loud`,
            notes.filter((i) => take.notes.velocity[i]! >= division.at),
          ),
          group(
            `${whole.name}, soft`,
            notes.filter((i) => take.notes.velocity[i]! < division.at),
          ),
        ];
      case 'length': {
        const ticks = division.at * take.timing.timeline.ppq;
        return [
          group(
            `${whole.name}, long`,
            notes.filter((i) => take.notes.duration[i]! >= ticks),
          ),
          group(
            `${whole.name}, short`,
            notes.filter((i) => take.notes.duration[i]! < ticks),
          ),
        ];
      }
    }
  };
  return groups().filter(({ notes: chosen }) => chosen.length > 0);
}

const DIVISION_WORDS: Record<Division['by'], string> = {
  pitch: 'pitch',
  hands: 'hands',
  voices: 'voices',
  pieces: 'pieces of the kit',
  channel: 'channel',
  program: 'program',
  velocity: 'velocity',
  length: 'length',
};

/**
 * The move that takes a part apart: the first group stays the part that was there, under its new name. Null where
 * nothing is told apart.
 */
export function divisionMove(take: Take, split: Split, part: string, division: Division): Move | null {
  const [stays, ...others] = groupsOf(take, split, part, division);
  if (!stays || others.length === 0) return null;
  const how = DIVISION_WORDS[division.by];
  const whole = split.parts[partIndex(split, part)]!;
  return {
    move: 'together',
    title: `${whole.name} apart by ${how}`,
    moves: [
      {
        move: 'divide',
        part,
        how,
        into: others.map(({ name, role, notes }) => ({ name, role, notes: noteSet(notes) })),
      },
      { move: 'rename', part, name: stays.name },
      ...(stays.role === whole.role ? [] : [{ move: 'role' as const, part, role: stays.role }]),
    ],
  };
}

function grouped(notes: readonly number[], of: (i: number) => number): [number, number[]][] {
  return groups(notes, of).sort(([a], [b]) => ascending(a, b));
}

/** The program in force at each note; -1 where the file never chose one. */
function programsOf(take: Take): Int16Array {
  const programs = new Int16Array(take.notes.length).fill(-1);
  for (const { program, notes } of findStreams(take)) for (const i of notes) programs[i] = program ?? -1;
  return programs;
}
