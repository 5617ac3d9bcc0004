import { sameMeter, type Meter } from '../music/meters.ts';
import { chordTones } from '../music/chord.ts';
import { GM_CRASH } from '../midi/gm.ts';
import { parseKey, type Key } from '../music/key.ts';
import { pitchClass } from '../music/pitch.ts';
import {
  barTicks,
  makeTimeline,
  meterAt,
  microsecondsOf,
  type MeterChange,
  type TempoChange,
  type Timeline,
} from '../music/timeline.ts';
import { endPhrase } from '../normalize/ending.ts';
import { panned } from '../normalize/layer.ts';
import { LIBRARY_PPQ as PPQ } from '../normalize/resolution.ts';
import { compareClipNotes, isPitched, type Clip, type ClipNote, type Control } from '../phrase/clip.ts';
import { readOrWhy } from '../through/sounding.ts';
import { wovenAgain, wovenFill, type RemarkCode, type WovenPhrase } from './cell.ts';
import { barsOfEnding, cellAt, problemOfWeave, type Weave, type WeaveCell, type WeavePart } from './weave.ts';

/** Something that was done so that a cell fits, or could not be: to be told beside it. */
export interface WeaveRemark {
  code: RemarkCode;
  section: string;
  part: string;
  text: string;
}

/** A section where it sounds: each time it is played is one. */
export interface LaidSection {
  id: string;
  name: string;
  /** From 1. */
  time: number;
  tick: number;
  /** Where it ends. */
  end: number;
  bar: number;
  bars: number;
  changes: string;
}

/** A part as it sounds from the first bar line to the last. */
export interface LaidPart {
  part: WeavePart;
  clip: Clip;
  remarks: WeaveRemark[];
  /** All that decided how it sounds, but its phrases: where that is the same it sounds the same. */
  made: string;
  /** The phrases it is of. */
  of: readonly (WovenPhrase | undefined)[];
}

/** A weave, or some of it, as it sounds: one clip a part, all from the first bar line to the last. */
export interface WeaveSound {
  timeline: Timeline;
  /** Ticks before bar one: a pickup has a bar of its own. */
  pickup: number;
  length: number;
  /** Of the sections, a pickup and the ending. */
  bars: number;
  sections: LaidSection[];
  parts: Pick<LaidPart, 'part' | 'clip'>[];
}

/** A weave as it sounds as a whole, and what is told of its cells. */
export interface LaidWeave extends WeaveSound {
  parts: LaidPart[];
  remarks: WeaveRemark[];
}

/**
 * Lays a weave: each cell through the chords of its section, for as long as it lasts, pickups at the end of what is before,
 * and the ending by part. Parts that nothing was changed in are taken over from `before`, as the same objects.
 *
 * @throws RangeError where it has no sections, or more bars than there may be
 */
export function layWeave(
  weave: Weave,
  phrases: ReadonlyMap<string, WovenPhrase>,
  before?: LaidWeave,
): LaidWeave {
  if (weave.sections.length === 0) throw new RangeError('The weave has no sections yet.');
  const problem = problemOfWeave(weave);
  if (problem) throw new RangeError(problem);
  const pickup = pickupBar(weave, phrases);
  const { sections, timeline, end, bars } = laidSections(weave, pickup);
  const length = end + endingTicks(weave, timeline, end);
  const frame = JSON.stringify([frameOf(weave), pickup]);
  const parts = weave.parts.map((part): LaidPart => {
    const cells = weave.cells.filter((cell) => cell.part === part.id);
    const made = JSON.stringify([frame, part.role, part.program, part.level, part.pan, cells]);
    const of = cells.flatMap(({ phrase, fill }) => [
      phrases.get(phrase),
      fill ? phrases.get(fill) : undefined,
    ]);
    const there = before?.parts.find((one) => one.part.id === part.id);
    if (there?.made === made && there.of.every((one, k) => one === of[k])) return { ...there, part };
    const remarks: WeaveRemark[] = [];
    const clip = laidPart(weave, part, { phrases, sections, timeline, end, pickup, remarks });
    return { part, clip: { ...ended(clip, weave), length }, remarks: unique(remarks), made, of };
  });
  return {
    timeline: parts[0]?.clip.timeline ?? timeline,
    pickup,
    length,
    bars: bars + (pickup > 0 ? 1 : 0) + barsOfEnding(weave),
    sections,
    parts,
    remarks: parts.flatMap(({ remarks }) => remarks),
  };
}

/** What every part has from the weave as a whole. */
function frameOf({ bpm, meter, key, ending, endingBars, sections }: Weave) {
  const heard = sections.map(({ name: _name, purpose: _purpose, energy: _energy, ...section }) => section);
  return { bpm, meter, key, ending, endingBars, sections: heard };
}

function unique(remarks: readonly WeaveRemark[]): WeaveRemark[] {
  const seen = new Set<string>();
  return remarks.filter(({ section, part, text }) => {
    const name = `${section} ${part} ${text}`;
    return !seen.has(name) && seen.add(name);
  });
}

function meterOf(weave: Weave, at: number): Meter {
  for (let k = at; k >= 0; k--) if (weave.sections[k]!.meter) return weave.sections[k]!.meter!;
  return weave.meter;
}

function keyOf(weave: Weave, at: number): Key | null {
  for (let k = at; k >= 0; k--) {
    const key = parseKey(weave.sections[k]!.key);
    if (key) return key;
  }
  return parseKey(weave.key) ?? null;
}

/** A bar 0 where anything of the first section has a pickup. */
function pickupBar(weave: Weave, phrases: ReadonlyMap<string, WovenPhrase>): number {
  const first = weave.sections[0]!;
  const has = weave.cells.some(
    (cell) =>
      cell.section === first.id &&
      cell.offset === 0 &&
      !cell.muted &&
      (phrases.get(cell.phrase)?.clip.pickup ?? 0) > 0,
  );
  return has ? barTicks(PPQ, meterOf(weave, 0)) : 0;
}

function laidSections(
  weave: Weave,
  pickup: number,
): { sections: LaidSection[]; timeline: Timeline; end: number; bars: number } {
  const tempos: TempoChange[] = [];
  const meters: MeterChange[] = [];
  const sections: LaidSection[] = [];
  let [tick, bar] = [pickup, 1];
  let bpm = weave.bpm;
  weave.sections.forEach((section, at) => {
    bpm = section.bpm ?? bpm;
    const meter = meterOf(weave, at);
    // The bar of the pickup has the tempo and meter of what it leads into.
    const from = at === 0 ? 0 : tick;
    tempos.push({ tick: from, microseconds: microsecondsOf(bpm) });
    meters.push({ tick: from, ...meter });
    for (let time = 1; time <= section.times; time++) {
      const end = tick + section.bars * barTicks(PPQ, meter);
      const { id, name, bars, changes } = section;
      sections.push({ id, name, time, tick, end, bar, bars, changes });
      bar += bars;
      tick = end;
    }
  });
  const changed = <Change extends object>(list: readonly Change[], same: (a: Change, b: Change) => boolean) =>
    list.filter((one, k) => k === 0 || !same(one, list[k - 1]!));
  const timeline = makeTimeline(
    PPQ,
    changed(tempos, (a, b) => a.microseconds === b.microseconds),
    changed(meters, sameMeter),
  );
  return { sections, timeline, end: tick, bars: bar - 1 };
}

interface PartSetting {
  phrases: ReadonlyMap<string, WovenPhrase>;
  sections: readonly LaidSection[];
  timeline: Timeline;
  end: number;
  pickup: number;
  remarks: WeaveRemark[];
}

/** One part from the first section to the last. */
function laidPart(weave: Weave, part: WeavePart, setting: PartSetting): Clip {
  const { phrases, sections, timeline, end, pickup, remarks } = setting;
  let notes: ClipNote[] = [];
  const controls: Control[] = [];
  let program = part.program;
  let key: Key | null = keyOf(weave, 0);
  let origin = 0;
  sections.forEach((laid, k) => {
    const cell = cellAt(weave, laid.id, part.id);
    if (!cell || cell.muted) return;
    const at = weave.sections.findIndex(({ id }) => id === laid.id);
    const tell = (code: WeaveRemark['code'], text: string) =>
      remarks.push({ code, section: laid.id, part: part.id, text });
    const found = phrases.get(cell.phrase);
    if (!found) return void tell('missing', 'its phrase is no longer there');
    const { clip: woven, told } = wovenAgain(found, {
      ...{ role: part.role, meter: meterOf(weave, at), key: keyOf(weave, at) },
      ...{ bars: weave.sections[at]!.bars, changes: weave.sections[at]!.changes },
      ...{ offset: cell.offset, rounds: cell.rounds, plain: cell.plain, steps: cell.steps },
    });
    for (const [code, text] of told) tell(code, text);
    program ??= woven.program;
    key ??= woven.key;
    const meter = meterOf(weave, at);
    const begin = laid.tick + cell.offset * barTicks(PPQ, meter);
    const led = cell.fill ? phrases.get(cell.fill) : undefined;
    const fill = led ? wovenFill(led, part.role, meter) : null;
    const fillFrom = fill ? Math.max(begin, laid.end - fill.length) : laid.end;
    const first = begin - woven.pickup;
    // A pickup takes its place from the end of what is before.
    if (woven.notes.some(({ tick }) => tick < woven.pickup))
      notes = endedAt(notes, firstTick(woven, first), true);
    for (const note of woven.notes) {
      const tick = first + note.tick;
      if (tick < 0 || tick >= fillFrom) continue;
      notes.push(placed(note, tick, note.velocity, origin++));
    }
    for (const control of woven.controls)
      if (first + control.tick >= 0 && first + control.tick < fillFrom)
        controls.push({ ...control, tick: first + control.tick });
    if (fill) {
      notes = endedAt(notes, fillFrom, false);
      for (const note of fill.notes) {
        const tick = laid.end - fill.length + note.tick;
        if (tick >= fillFrom) notes.push(placed(note, tick, note.velocity, origin++));
      }
    }
    if (cell.crash && !isPitched({ role: part.role }))
      notes.push({
        tick: begin,
        duration: PPQ,
        pitch: GM_CRASH,
        velocity: 100,
        release: 64,
        origin: origin++,
      });
    notes = overLine(
      notes,
      laid.end,
      sections[k + 1],
      part,
      cellAt(weave, sections[k + 1]?.id ?? '', part.id),
      {
        beatsPerBar: meter.numerator,
      },
    );
  });
  notes = part.role === 'pad' ? joinedAtLines(notes, sections) : notes;
  return {
    timeline,
    length: end,
    pickup,
    notes: notes
      .map((note) => {
        const velocity = Math.min(127, Math.max(1, Math.round(note.velocity * part.level)));
        return placed(note, note.tick, velocity, note.origin);
      })
      .sort(compareClipNotes),
    controls: (part.pan === null ? controls : panned(controls, part.pan)).sort((a, b) => a.tick - b.tick),
    role: part.role,
    key: isPitched({ role: part.role }) ? key : null,
    channel: 0,
    program: program ?? 0,
    locked: [],
  };
}

/** A note written out: spreading it takes several times as long, and a sheet has tens of thousands. */
function placed(
  { duration, pitch, release }: ClipNote,
  tick: number,
  velocity: number,
  origin: number,
): ClipNote {
  return { tick, duration, pitch, velocity, release, origin };
}

function firstTick(clip: Clip, at: number): number {
  return Math.max(0, at + Math.min(...clip.notes.map(({ tick }) => tick)));
}

/** Notes ended at a tick: what begins there or later goes, what sounds on is cut. */
function endedAt(notes: readonly ClipNote[], at: number, all: boolean): ClipNote[] {
  return notes.flatMap((note) => {
    if (note.tick >= at) return all ? [] : [note];
    return [note.tick + note.duration > at ? { ...note, duration: at - note.tick } : note];
  });
}

/** What hangs over the end of a section is cut there, unless it is of the chord that comes and nothing plays on this part. */
function overLine(
  notes: readonly ClipNote[],
  line: number,
  next: LaidSection | undefined,
  part: WeavePart,
  nextCell: WeaveCell | undefined,
  { beatsPerBar }: { beatsPerBar: number },
): ClipNote[] {
  const read =
    next && next.changes && isPitched({ role: part.role }) ? readOrWhy(next.changes, beatsPerBar) : '';
  const chord = typeof read === 'string' ? null : read.chords[0]?.chord;
  const tones = new Set(chord ? chordTones(chord).map((tone) => pitchClass(tone)) : []);
  const playsOn = nextCell !== undefined && !nextCell.muted;
  return notes.map((note) => {
    if (note.tick >= line || note.tick + note.duration <= line) return note;
    if (!playsOn && tones.has(pitchClass(note.pitch))) return note;
    return { ...note, duration: line - note.tick };
  });
}

/** A pad that holds one pitch over a line holds it on. */
function joinedAtLines(notes: readonly ClipNote[], sections: readonly LaidSection[]): ClipNote[] {
  const lines = new Set(sections.map(({ tick }) => tick));
  const result: ClipNote[] = [];
  for (const note of [...notes].sort(compareClipNotes)) {
    const before =
      lines.has(note.tick) &&
      result.find(
        (one) => one.pitch === note.pitch && one.tick < note.tick && one.tick + one.duration === note.tick,
      );
    if (before) before.duration += note.duration;
    else result.push({ ...note });
  }
  return result;
}

function endingTicks(weave: Weave, timeline: Timeline, end: number): number {
  return barsOfEnding(weave) * barTicks(PPQ, meterAt(timeline, Math.max(0, end - 1)));
}

/** A part with the ending of the weave; as it is where there is none. */
function ended(clip: Clip, weave: Weave): Clip {
  const bars = barsOfEnding(weave);
  if (bars === 0) return clip;
  const as = weave.ending as 'ring' | 'stop' | 'slower';
  const bar = barTicks(PPQ, meterAt(clip.timeline, Math.max(0, clip.length - 1)));
  if (clip.notes.length > 0) {
    const result = endPhrase(clip, { as, bars }).clip;
    return {
      ...result,
      notes: result.notes.map((note, origin) => placed(note, note.tick, note.velocity, origin)),
    };
  }
  // A silent part grows slower with the others.
  const slower = endPhrase({ ...clip, notes: [SILENT] }, { as, bars }).clip;
  return { ...clip, timeline: slower.timeline, length: clip.length + bars * bar };
}

const SILENT: ClipNote = { tick: 0, duration: 1, pitch: 60, velocity: 1, release: 64, origin: 0 };
