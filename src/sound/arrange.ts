import { bpmOf, meterAt, tempoAt } from '../core/music/timeline.ts';
import { DEFAULT_BEND_RANGE, onCard, type Card } from '../core/exchange/card.ts';
import { fitted, isFitting, type Fitting } from '../core/normalize/fitting.ts';
import { HOUSE } from '../core/normalize/house.ts';
import { loudMark } from '../core/normalize/step.ts';
import { withVelocity, type Clip } from '../core/phrase/clip.ts';
import { keyLabel } from '../core/music/key.ts';
import { throughOthers } from '../core/normalize/through.ts';
import { inProject, keyOfProject, type ProjectSetting } from '../core/reuse/in-project.ts';
import { speedAt, type Layer } from './layers.ts';
import { nextBarLine, passSeconds, soundProgram, type Lane } from './program.ts';

/** The project in whose key and tempo things can be heard. */
export interface HeardProject extends ProjectSetting {
  name: string;
  /** Its chart; empty where it has none. */
  chords?: string;
}

/** Something to listen to. */
export interface Listening {
  /** The same id again is the same music: changes are taken over without starting anew. */
  id: string;
  title: string;
  subtitle: string;
  lanes: Lane[];
}

/** Something that goes on playing while other things are tried. */
export interface Pin extends Lane {
  title: string;
  /** The phrase it is, where it is one: what suits it can be looked for. */
  phraseId?: string;
}

/** By which a lane of what is heard is pinned: a phrase's by its own, so that it is known again wherever it is heard. */
function pinId(listening: Listening, lane: Lane): string {
  return isPhrase(listening, lane) ? lane.id : `${listening.id} ${lane.id}`;
}

const isPhrase = (listening: Listening, lane: Lane) => listening.id === `phrase ${lane.id}`;

/** What is heard, as what goes on playing: parts of a take, a section, a phrase. */
export function pinsOf(listening: Listening): Pin[] {
  const { title, subtitle, lanes } = listening;
  return lanes.map((lane) => {
    const id = pinId(listening, lane);
    if (isPhrase(listening, lane)) return { ...lane, id, title, phraseId: lane.id };
    return {
      ...lane,
      id,
      title: lanes.length === 1 ? `${title}, ${subtitle}` : `${title}, ${lane.clip.role}`,
    };
  });
}

/** For which sound what is heard is fitted: for none, as its phrase is, or as somebody's card says. */
export type FittedFor = 'none' | 'own' | { id: string; name: string; card: Card };

/** How things are heard. */
export interface HowHeard {
  /** BPM chosen by hand; null plays at the own or the project's tempo. */
  tempo: number | null;
  /** GM program 0..127 for everything pitched; null plays each part's own. */
  sound: number | null;
  loop: boolean;
  project: HeardProject | null;
  /** Whether the project's key and tempo are used, and whether what has chords is also taken through the project's. */
  inProject: boolean;
  throughChords: boolean;
  fittedFor: FittedFor;
  pins: readonly Pin[];
}

/** What sounds together: layers over one clock, its tempo (BPM), and a bar and the longest pin's round in seconds. */
export interface Arranged {
  layers: Layer[];
  tempo: number;
  bar: number;
  round: number;
}

/** A clip as it is heard: its own, in the project's key and tempo, or through its chords. */
function asHeard<Heard extends Lane>(lane: Heard, how: HowHeard): Heard {
  const { inProject: forProject, project, fittedFor } = how;
  const clip =
    forProject && project ? inProject(throughItsChords(lane, how) ?? lane.clip, project) : lane.clip;
  // Last of all: milliseconds are those of the tempo it is heard at.
  return { ...lane, clip: fittedTo(clip, lane.fitting ?? {}, fittedFor) };
}

function fittedTo(clip: Clip, fitting: Fitting, fittedFor: FittedFor): Clip {
  if (fittedFor === 'none') return clip;
  if (fittedFor === 'own') return isFitting(fitting) ? fitted(clip, fitting) : clip;
  // The keys of their kit and the range of their bends are their instrument's: here they would sound as others.
  const card: Card = { ...fittedFor.card, drumMap: [], bendRange: DEFAULT_BEND_RANGE };
  return onCard(clip, fitting, card).clip;
}

/** A clip through the project's chords; undefined where that is not asked for, or it has none to come from. */
function throughItsChords({ clip, over }: Lane, { throughChords, project }: HowHeard): Clip | undefined {
  if (!throughChords || !project?.chords || over === undefined || over === '') return undefined;
  const key = keyOfProject(project);
  const step = { from: over, to: project.chords, ...(key ? { key: keyLabel(key) } : {}) };
  return throughOthers(clip, step).clip;
}

/** What is listened to, with nothing beside it. */
export function alone(listening: Listening, state: HowHeard, fromTick: number): Arranged {
  const lanes = listening.lanes.map((lane) => asHeard(lane, state));
  const program = soundProgram(lanes, state.sound);
  const own = bpmOf(tempoAt(program.timeline, 0).microseconds);
  const layer: Layer = {
    ...{ id: listening.id, role: lanes[0]!.clip.role, program, from: 0, until: Infinity, isPin: false },
    playing: {
      speed: state.tempo === null ? 1 : state.tempo / own,
      loop: state.loop,
      fromTick: fromTick < program.length ? fromTick : 0,
    },
  };
  return { layers: [layer], tempo: state.tempo ?? own, bar: 0, round: 0 };
}

/**
 * A layer that ends at its next bar line, and the changed version of what it plays, which goes on from there on the same channels.
 * `now` and `ahead` are seconds of the clock: the line is at least so far ahead.
 */
export function changedAtBar(
  layer: Layer,
  listening: Listening,
  state: HowHeard,
  { now, ahead }: { now: number; ahead: number },
): Layer[] {
  const line = nextBarLine(layer.program, layer.playing, Math.max(0, now + ahead - layer.from));
  const at = layer.from + line.seconds;
  // Behind the last bar of what is heard once nothing comes any more.
  if (!layer.playing.loop && line.tick === 0) return [layer];
  const next = alone(listening, state, line.tick).layers[0]!;
  return [
    { ...layer, until: at },
    { ...next, from: at },
  ];
}

/** The first channels (`freeChannel`), behind the pins', that what is tried has in turn: the old one's ends do not reach the new one. */
export const TRIED_ON = [8, 12] as const;

/** The pins, each going round by itself, and what is tried over them. */
export function besidePins(listening: Listening, state: HowHeard): Arranged {
  const own = new Set(listening.lanes.flatMap((lane) => [lane.id, pinId(listening, lane)]));
  const pins = state.pins.filter(({ id }) => !own.has(id));
  const heard = pins.map((lane) => asHeard(lane, state));
  const first = heard[0]?.clip ?? asHeard(listening.lanes[0]!, state).clip;
  const tempo =
    state.tempo ??
    (state.inProject && state.project ? state.project.bpm : bpmOf(tempoAt(first.timeline, 0).microseconds));
  const layers = heard.map((lane, k) => layerOf(lane.id, [lane], tempo, state.sound, k, 0, true));
  const meter = meterAt(first.timeline, 0);
  const bar = ((60 / tempo) * 4 * meter.numerator) / meter.denominator;
  const round = Math.max(bar, ...layers.map(({ program, playing }) => passSeconds(program, playing.speed)));
  layers.push(triedLayer(listening, tempo, state, TRIED_ON[0], 0));
  return { layers, tempo, bar, round };
}

/** What is tried, from a moment of the clock on. */
export function triedLayer(
  listening: Listening,
  tempo: number,
  state: HowHeard,
  channel: number,
  from: number,
): Layer {
  const lanes = listening.lanes.map((lane) => asHeard(atRoleLevel(lane), state));
  return layerOf(listening.id, lanes, tempo, state.sound, channel, from, false);
}

function layerOf(
  id: string,
  lanes: readonly Lane[],
  tempo: number,
  sound: number | null,
  channel: number,
  from: number,
  isPin: boolean,
): Layer {
  const program = soundProgram(lanes, sound, channel);
  const { speed } = speedAt(bpmOf(tempoAt(program.timeline, 0).microseconds), tempo);
  const playing = { speed, loop: true, fromTick: 0 };
  return { id, role: lanes[0]!.clip.role, program, playing, from, until: Infinity, isPin };
}

/** The louder always wins (common practice): what is tried is heard at the level of its role. For listening only. */
function atRoleLevel(lane: Lane): Lane {
  const { notes, role } = lane.clip;
  const mark = loudMark(notes);
  const factor = mark > 0 ? (HOUSE.roles[role].loud * 127) / mark : 1;
  const levelled = notes.map((note) =>
    withVelocity(note, Math.min(127, Math.max(1, Math.round(note.velocity * factor)))),
  );
  return { ...lane, clip: { ...lane.clip, notes: levelled } };
}
