import { bisector } from 'd3-array';
import {
  barStart,
  barTicks,
  beatTicks,
  bpmOf,
  commonResolution,
  EARLY,
  steadyTimeline,
  tempoAt,
  type Timeline,
} from '../music/timeline.ts';
import { usualControl } from '../normalize/controls.ts';
import { controlKey } from '../normalize/bars.ts';
import { controlsOf, type Control } from '../phrase/clip.ts';
import { UNPITCHED } from '../split/roles.ts';
import type { PlayingPart } from '../split/split.ts';
import { runsOf, type Choice, type Run } from './choice.ts';
import { cutBetween, stepsBetween, type HeardNote, type JointSteps } from './joint.ts';
import type { Aligned, Pass } from './passes.ts';
import { pitchOf, type Row } from './rows.ts';

/** A note of the result, with the pass and the captured note (an index into its take's) that it is. */
export interface JoinedNote extends HeardNote {
  release: number;
  pass: number;
  origin: number;
}

/** Where a row goes from one pass (or silence) to another. */
export interface Joint extends JointSteps {
  row: number;
  /** Of the chart, from 0: the bar that begins with it. */
  bar: number;
  /** Where it is cut, in ticks of the result. */
  tick: number;
  from: number | null;
  to: number | null;
  /** Notes begun before it that ring on, and notes that end because their pitch is struck. */
  rings: number;
  ended: number;
}

export interface JoinedRow {
  row: number;
  notes: JoinedNote[];
  controls: Control[];
}

/** What the chosen bars sound like together. */
export interface Joined {
  timeline: Timeline;
  /** Ticks before bar one, where a pickup stands: a bar, or none. */
  lead: number;
  length: number;
  rows: JoinedRow[];
  joints: Joint[];
}

/** The tempo (BPM) in which a pass begins. */
export function tempoOfPass({ take, fromTick }: Pick<Pass, 'take' | 'fromTick'>): number {
  return bpmOf(tempoAt(take.timing.timeline, fromTick).microseconds);
}

/**
 * The chosen bars one after another: ticks stay exact where the passes' resolutions have a common multiple that a file can
 * say, and at one tempo. Where all of one pass is taken, its notes come out as they were.
 */
export function joinChosen(aligned: Aligned, rows: readonly Row[], choice: Choice, bpm?: number): Joined {
  const { passes, meter, chart } = aligned;
  const ppq = commonResolution(passes.map(({ take }) => Math.max(1, Math.round(take.timing.timeline.ppq))));
  const bar = barTicks(ppq, meter);
  const first = choice.flatMap((bars) => bars[0] ?? [])[0];
  const lead = choice.some((bars) => bars[0] != null && passes[bars[0]]!.pickup > 0) ? bar : 0;
  const tempo = bpm ?? tempoOfPass(passes[first ?? 0]!);
  const place = { ...{ ppq, bar, lead, bars: chart.length }, beat: beatTicks(ppq, meter) };
  const joined = rows.map((row, at) => joinRow(row, at, choice[at]!, passes, place));
  return {
    timeline: steadyTimeline(ppq, tempo, meter.numerator, meter.denominator),
    ...{ lead, length: lead + chart.length * bar },
    rows: joined.map(({ joints: _, ...row }) => row),
    joints: joined.flatMap(({ joints }) => joints).sort((a, b) => a.bar - b.bar || a.row - b.row),
  };
}

/** Sizes of the result, in its ticks. */
interface Place {
  ppq: number;
  bar: number;
  beat: number;
  lead: number;
  bars: number;
}

/** A run with a bar of its pass before and behind it, in ticks of the result. */
interface Laid {
  run: Run;
  notes: JoinedNote[];
  controls: Control[];
}

function joinRow(
  row: Row,
  at: number,
  bars: readonly (number | null)[],
  passes: readonly Pass[],
  place: Place,
): JoinedRow & { joints: Joint[] } {
  const runs = runsOf(
    bars,
    passes.map((pass, k) => pass.barAt.map((bar) => (row.parts[k] === null ? null : bar))),
  );
  const played = new Map<number, Played>();
  for (const { pass } of runs)
    if (!played.has(pass)) played.set(pass, playedBy(passes[pass]!, row.parts[pass]!));
  const laid = runs.map((run) => layRun(run, row, passes[run.pass]!, played.get(run.pass)!, place));
  const isPitched = !UNPITCHED.has(row.role);
  const cuts = laid.map((one, k) => cutsOf(laid[k - 1], one, laid[k + 1], place));
  const notes: JoinedNote[] = [];
  const joints: Joint[] = [];
  laid.forEach((one, k) => {
    const [from, to] = cuts[k]!;
    const own = one.notes.filter(({ tick }) => tick >= from && tick < to);
    const { bar } = place;
    const line = place.lead + one.run.from * bar;
    if (one.run.from > 0) {
      const before = laid[k - 1]?.run.to === one.run.from - 1 ? laid[k - 1]! : null;
      const sounding = notes.filter(({ tick, duration }) => tick + duration > from);
      const heardBefore = notes.filter(({ tick }) => tick >= line - bar && tick < from);
      const heardAfter = own.filter(({ tick }) => tick < line + bar);
      const ended = endAtStrikes(notes, own);
      joints.push({
        ...{ row: at, bar: one.run.from, tick: from, from: before?.run.pass ?? null, to: one.run.pass },
        ...{ rings: sounding.length - ended, ended },
        ...stepsBetween(heardBefore, heardAfter, isPitched),
      });
    }
    notes.push(...own);
  });
  notes.sort((a, b) => a.tick - b.tick || a.pitch - b.pitch);
  return { row: at, notes, controls: settledControls(laid, cuts, place), joints };
}

/** A part of a pass: its notes in order of time, and its controls. */
interface Played {
  /** Note indices. */
  notes: number[];
  controls: Control[];
}

function playedBy({ take }: Pass, { part, notes }: PlayingPart): Played {
  const { tick } = take.notes;
  return {
    notes: [...notes].sort((a, b) => tick[a]! - tick[b]! || a - b),
    controls: controlsOf(take, part.from),
  };
}

/** What a part plays in a run of bars, and a bar before and behind it, where the chart has them. */
function layRun(run: Run, row: Row, pass: Pass, played: Played, place: Place): Laid {
  const playing = row.parts[run.pass]!;
  const { take } = pass;
  const { timeline } = take.timing;
  const { tick, duration, pitch, velocity, release } = take.notes;
  const scale = place.ppq / timeline.ppq;
  const start = barStart(timeline, pass.barAt[run.from]!);
  const shift = place.lead + run.from * place.bar;
  const move = (from: number) => shift + Math.round((from - start) * scale);
  // What is counted in belongs to no bar.
  const counted = pass.fromTick - EARLY * timeline.ppq;
  const begins = run.from === 0 ? counted : Math.max(counted, start - place.bar / scale);
  const ends = start + ((run.to - run.from + 2) * place.bar) / scale;
  const byOnset = bisector((i: number) => tick[i]!);
  const first = byOnset.left(played.notes, begins);
  const behind = byOnset.left(played.notes, ends);
  return {
    run,
    notes: played.notes.slice(first, behind).map((i) => ({
      ...{ tick: Math.max(0, move(tick[i]!)), duration: Math.round(duration[i]! * scale) },
      ...{ pitch: pitchOf(playing, pitch[i]!), velocity: velocity[i]!, release: release[i]! },
      ...{ pass: run.pass, origin: i },
    })),
    controls: played.controls.map((control) => ({ ...control, tick: move(control.tick) })),
  };
}

/** From which tick and to which a run is heard. */
function cutsOf(
  before: Laid | undefined,
  { run, notes }: Laid,
  after: Laid | undefined,
  { ppq, bar, beat, lead, bars }: Place,
): [from: number, to: number] {
  const joint = (line: number) => ({ line, reach: beat / 2, early: EARLY * ppq });
  const begin = lead + run.from * bar;
  const end = lead + (run.to + 1) * bar;
  const touches = (one: Laid | undefined, at: number) => (one && at ? one.notes : []);
  const from =
    run.from === 0
      ? -Infinity
      : cutBetween(touches(before, Number(before?.run.to === run.from - 1)), notes, joint(begin));
  const next = after?.run.from === run.to + 1 ? after.notes : [];
  // What a device plays on behind the chart is no part of it; what its last bar leads to is let ring.
  const isLast = run.to === bars - 1 && !notes.some(({ tick }) => tick >= end - EARLY * ppq);
  return [from, isLast ? Infinity : cutBetween(notes, next, joint(end))];
}

/** Ends what still sounds where its pitch is struck again by what comes. How many notes were ended. */
function endAtStrikes(notes: JoinedNote[], comes: readonly JoinedNote[]): number {
  const strikes = new Map<number, number>();
  for (const { tick, pitch } of comes) if (tick < (strikes.get(pitch) ?? Infinity)) strikes.set(pitch, tick);
  let ended = 0;
  for (const note of notes) {
    const struck = strikes.get(note.pitch);
    if (struck === undefined || struck <= note.tick || note.tick + note.duration <= struck) continue;
    note.duration = struck - note.tick;
    ended++;
  }
  return ended;
}

/** What controllers, pressure and bend say over the whole row: at each joint as the pass that comes has them, at the end as usual. */
function settledControls(
  laid: readonly Laid[],
  cuts: readonly (readonly [number, number])[],
  { lead, bar, bars }: Place,
): Control[] {
  const out: Control[] = [];
  let state = new Map<string, Control>();
  const settle = (tick: number, target: ReadonlyMap<string, Control>) => {
    for (const key of new Set([...state.keys(), ...target.keys()])) {
      const [old, meant] = [state.get(key), target.get(key)];
      const next = meant ?? usualControl(old!);
      const was = old ?? usualControl(next!);
      if (next && !(was && was.data1 === next.data1 && was.data2 === next.data2)) out.push({ ...next, tick });
    }
    state = new Map(target);
  };
  laid.forEach(({ run, controls }, k) => {
    const [from, cut] = cuts[k]!;
    const begins = Math.max(0, from);
    // Behind the chart, what rings on has a bar to end in.
    const to = Math.min(cut, lead + (bars + 1) * bar);
    const inForce = new Map<string, Control>();
    for (const control of controls) if (control.tick < begins) inForce.set(controlKey(control), control);
    settle(begins, inForce);
    for (const control of controls) {
      if (control.tick < begins || control.tick >= to) continue;
      out.push(control);
      state.set(controlKey(control), control);
    }
    const next = laid[k + 1];
    if (next?.run.from !== run.to + 1)
      settle(Math.max(Math.min(to, lead + (run.to + 1) * bar), out.at(-1)?.tick ?? 0), new Map());
  });
  return out.sort((a, b) => a.tick - b.tick);
}
