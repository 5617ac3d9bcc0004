import { bisectLeft, max } from 'd3-array';
import { KIT_PIECES, kitPiece, type KitPiece } from '../../core/midi/gm.ts';
import { pitchName } from '../../core/music/pitch.ts';
import { UNPITCHED, type Role } from '../../core/split/roles.ts';
import { themeColor } from './canvas.ts';
import { ROLE_LOOK } from './roles.ts';
import { pixelsFor, timeScale, type TimeScale, type TimeWindow } from './time-window.ts';

/** What is drawn with, in the page or in a thread. */
export type Pen = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;

/** Notes to be drawn in order of onset, as columns or as objects turned into columns. */
export interface DrawnNotes {
  length: number;
  tick: ArrayLike<number>;
  duration: ArrayLike<number>;
  pitch: ArrayLike<number>;
  velocity: ArrayLike<number>;
}

export interface BarLine {
  tick: number;
  beats: readonly number[];
}

/** Objects as columns. */
export function drawnNotes(
  list: readonly { tick: number; duration: number; pitch: number; velocity: number }[],
): DrawnNotes {
  return {
    length: list.length,
    tick: list.map((note) => note.tick),
    duration: list.map((note) => note.duration),
    pitch: list.map((note) => note.pitch),
    velocity: list.map((note) => note.velocity),
  };
}

/** Lowest and highest pitch of some notes; 127 and 0 of none. */
export function pitchRange({ length, pitch }: Pick<DrawnNotes, 'length' | 'pitch'>): {
  low: number;
  high: number;
} {
  let low = 127;
  let high = 0;
  for (let i = 0; i < length; i++) {
    low = Math.min(low, pitch[i]!);
    high = Math.max(high, pitch[i]!);
  }
  return { low, high };
}

/** The pieces of a kit that play, from the floor up; empty for pitched parts. */
export function kitLanes(notes: Pick<DrawnNotes, 'length' | 'pitch'>, role: Role): KitPiece[] {
  if (!UNPITCHED.has(role)) return [];
  const used = new Set<string>();
  for (let i = 0; i < notes.length; i++) used.add(kitPiece(notes.pitch[i]!));
  return KIT_PIECES.filter((piece) => used.has(piece));
}

/** Where pitches stand: drums on the lanes of their kit, others between lowest and highest. 0 is the floor, 1 the top. */
export function heights(notes: Pick<DrawnNotes, 'length' | 'pitch'>, role: Role): (pitch: number) => number {
  if (UNPITCHED.has(role)) {
    const lanes = kitLanes(notes, role);
    return (pitch) => (lanes.indexOf(kitPiece(pitch)) + 0.5) / Math.max(1, lanes.length);
  }
  const { low, high } = pitchRange(notes);
  const spread = Math.max(11, high - low);
  const floor = low - (spread - (high - low)) / 2;
  return (pitch) => 0.06 + (0.88 * (pitch - floor)) / spread;
}

/** The colors of the threads, of the theme the page has. */
const warpColors = () => ({ strong: themeColor('thread-strong'), fine: themeColor('thread') });

/** The warp: a thread on each bar line and, where there is room, a finer one on each beat. A thread of its own has no theme to ask: it brings colors. */
export function drawWarp(
  context: Pen,
  bars: readonly BarLine[],
  window: TimeWindow,
  width: number,
  height: number,
  { strong, fine } = warpColors(),
): void {
  const x = timeScale(window, width);
  const barWidth = barWidthIn(bars, x);
  for (const { tick, beats } of bars) {
    if (barWidth > 24) {
      context.fillStyle = fine;
      for (const beat of beats) context.fillRect(Math.round(x(beat)), 0, 1, height);
    }
    context.fillStyle = strong;
    const left = Math.round(x(tick));
    if (barWidth > 6 && left >= -1 && left <= width) context.fillRect(left, 0, 1, height);
  }
}

/** Pixels of a bar, by the first of them. */
export function barWidthIn(bars: readonly BarLine[], x: TimeScale): number {
  const [first, second] = bars;
  return second ? x(second.tick) - x(first!.tick) : x.range()[1]!;
}

export interface NoteStyle {
  /** Solid is filled, hollow an outline. */
  hollow?: boolean;
  color: string;
  /** Thickness of a stitch in pixels. */
  thickness: number;
  /** How much of its ink is seen, 0..1: less for what lies behind. */
  ink?: number;
}

/** The weft: a stitch with round ends for each note, fainter where it is softer. Only what the window shows is drawn. */
export function drawNotes(
  context: Pen,
  notes: DrawnNotes,
  height: (pitch: number) => number,
  window: TimeWindow,
  size: { width: number; height: number },
  style: NoteStyle,
): void {
  const x = timeScale(window, size.width);
  const { thickness } = style;
  const room = size.height - thickness - 2;
  const byAlpha = new Map<number, Path2D>();
  for (let i = firstInSight(notes, window); i < notes.length; i++) {
    const start = notes.tick[i]!;
    if (start > window.toTick) break;
    if (start + notes.duration[i]! < window.fromTick) continue;
    const length = Math.max(thickness, pixelsFor(x, notes.duration[i]!) - 1);
    const y = 1 + room * (1 - height(notes.pitch[i]!));
    // A few steps of ink are enough for the eye and keep the number of paths small.
    const alpha = style.hollow ? 1 : 0.55 + 0.45 * (Math.round((notes.velocity[i]! / 127) * 4) / 4);
    let path = byAlpha.get(alpha);
    if (!path) byAlpha.set(alpha, (path = new Path2D()));
    path.roundRect(x(start), y, length, thickness, thickness / 2);
  }
  for (const [alpha, path] of byAlpha) {
    context.globalAlpha = alpha * (style.ink ?? 1);
    if (style.hollow) {
      context.strokeStyle = style.color;
      context.lineWidth = 1.25;
      context.stroke(path);
    } else {
      context.fillStyle = style.color;
      context.fill(path);
    }
  }
  context.globalAlpha = 1;
}

/** Writes the name of each note beside its beginning, where it has room before the next of its height. */
export function nameNotes(
  context: CanvasRenderingContext2D,
  notes: DrawnNotes,
  height: (pitch: number) => number,
  window: TimeWindow,
  size: { width: number; height: number },
  style: Pick<NoteStyle, 'color' | 'thickness'>,
): void {
  const x = timeScale(window, size.width);
  const room = size.height - style.thickness - 2;
  context.font = '10px "Atkinson Hyperlegible", sans-serif';
  context.fillStyle = style.color;
  context.textBaseline = 'bottom';
  const free = new Map<number, number>();
  for (let i = firstInSight(notes, window); i < notes.length && notes.tick[i]! <= window.toTick; i++) {
    const left = x(notes.tick[i]!);
    const y = Math.max(10, 1 + room * (1 - height(notes.pitch[i]!)));
    // Names that would lie over each other say nothing.
    const row = Math.round(y / 10);
    if (left < (free.get(row) ?? -1e9)) continue;
    const name = pitchName(notes.pitch[i]!);
    context.fillText(name, left, y);
    free.set(row, left + name.length * 6 + 4);
  }
}

/** The first note that may reach into a window: notes stand in order of onset, and the longest says how far back. */
function firstInSight(notes: DrawnNotes, window: TimeWindow): number {
  return bisectLeft(notes.tick, window.fromTick - longestOf(notes), 0, notes.length);
}

const longest = new WeakMap<DrawnNotes, number>();

function longestOf(notes: DrawnNotes): number {
  let length = longest.get(notes);
  if (length === undefined) {
    length = max(Array.from(notes.duration)) ?? 0;
    longest.set(notes, length);
  }
  return length;
}

/** A thorn over a note that is pointed out: told by its shape, not by its color alone. */
export function drawThorn(context: CanvasRenderingContext2D, left: number, top: number): void {
  context.fillStyle = themeColor('madder');
  context.beginPath();
  context.moveTo(left, top - 2);
  context.lineTo(left + 4, top - 10);
  context.lineTo(left + 8, top - 2);
  context.closePath();
  context.fill();
}

export function roleColor(role: Role): string {
  return themeColor(ROLE_LOOK[role].dye);
}
