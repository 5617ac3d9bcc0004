import { KIT_PIECES, kitPiece, type KitPiece } from '../core/midi/gm.ts';
import { pitchName } from '../core/music/pitch.ts';
import { UNPITCHED, type Role } from '../core/split/roles.ts';
import { themeColor } from './canvas.ts';
import { ROLE_LOOK } from './roles.ts';

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

/** The stretch of time a drawing shows. */
export interface TimeWindow {
  fromTick: number;
  toTick: number;
}

/** The window around a tick, wider or narrower by a factor, within the music. */
export function zoomed(window: TimeWindow, at: number, factor: number, endTick: number): TimeWindow {
  const span = Math.min(endTick, Math.max(240, (window.toTick - window.fromTick) * factor));
  const share = (at - window.fromTick) / (window.toTick - window.fromTick);
  return panned({ fromTick: at - share * span, toTick: at + (1 - share) * span }, 0, endTick);
}

/** The window moved by some ticks, kept within the music. */
export function panned(window: TimeWindow, by: number, endTick: number): TimeWindow {
  const span = window.toTick - window.fromTick;
  const fromTick = Math.min(Math.max(0, window.fromTick + by), Math.max(0, endTick - span));
  return { fromTick, toTick: fromTick + span };
}

/** What a turn of the wheel does to a window: Ctrl zooms at the pointer, Shift or a sideways wheel moves. */
export function wheeled(
  window: TimeWindow,
  wheel: Pick<WheelEvent, 'ctrlKey' | 'shiftKey' | 'deltaX' | 'deltaY' | 'clientX'>,
  left: number,
  width: number,
  endTick: number,
): TimeWindow | null {
  const ticksPerPixel = (window.toTick - window.fromTick) / Math.max(1, width);
  if (wheel.ctrlKey) {
    const at = window.fromTick + (wheel.clientX - left) * ticksPerPixel;
    return zoomed(window, at, Math.exp(wheel.deltaY / 300), endTick);
  }
  if (wheel.shiftKey || Math.abs(wheel.deltaX) > Math.abs(wheel.deltaY)) {
    return panned(window, (wheel.deltaX || wheel.deltaY) * ticksPerPixel, endTick);
  }
  return null;
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
  const scale = width / (window.toTick - window.fromTick);
  const barWidth = bars.length > 1 ? (bars[1]!.tick - bars[0]!.tick) * scale : width;
  for (const { tick, beats } of bars) {
    if (barWidth > 24) {
      context.fillStyle = fine;
      for (const beat of beats) context.fillRect(Math.round((beat - window.fromTick) * scale), 0, 1, height);
    }
    context.fillStyle = strong;
    const x = Math.round((tick - window.fromTick) * scale);
    if (barWidth > 6 && x >= -1 && x <= width) context.fillRect(x, 0, 1, height);
  }
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
  const scale = size.width / (window.toTick - window.fromTick);
  const { thickness } = style;
  const room = size.height - thickness - 2;
  const byAlpha = new Map<number, Path2D>();
  for (let i = firstInSight(notes, window); i < notes.length; i++) {
    const start = notes.tick[i]!;
    if (start > window.toTick) break;
    if (start + notes.duration[i]! < window.fromTick) continue;
    const x = (start - window.fromTick) * scale;
    const length = Math.max(thickness, notes.duration[i]! * scale - 1);
    const y = 1 + room * (1 - height(notes.pitch[i]!));
    // A few steps of ink are enough for the eye and keep the number of paths small.
    const alpha = style.hollow ? 1 : 0.55 + 0.45 * (Math.round((notes.velocity[i]! / 127) * 4) / 4);
    let path = byAlpha.get(alpha);
    if (!path) byAlpha.set(alpha, (path = new Path2D()));
    path.roundRect(x, y, length, thickness, thickness / 2);
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
  const scale = size.width / (window.toTick - window.fromTick);
  const room = size.height - style.thickness - 2;
  context.font = '10px "Atkinson Hyperlegible", sans-serif';
  context.fillStyle = style.color;
  context.textBaseline = 'bottom';
  const free = new Map<number, number>();
  for (let i = firstInSight(notes, window); i < notes.length && notes.tick[i]! <= window.toTick; i++) {
    const x = (notes.tick[i]! - window.fromTick) * scale;
    const y = Math.max(10, 1 + room * (1 - height(notes.pitch[i]!)));
    // Names that would lie over each other say nothing.
    const row = Math.round(y / 10);
    if (x < (free.get(row) ?? -1e9)) continue;
    const name = pitchName(notes.pitch[i]!);
    context.fillText(name, x, y);
    free.set(row, x + name.length * 6 + 4);
  }
}

/** The first note that may reach into a window: notes stand in order of onset, and the longest says how far back. */
function firstInSight(notes: DrawnNotes, window: TimeWindow): number {
  const from = window.fromTick - longestOf(notes);
  let low = 0;
  let high = notes.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (notes.tick[middle]! < from) low = middle + 1;
    else high = middle;
  }
  return low;
}

const longest = new WeakMap<DrawnNotes, number>();

function longestOf(notes: DrawnNotes): number {
  let length = longest.get(notes);
  if (length === undefined) {
    length = 0;
    for (let i = 0; i < notes.length; i++) length = Math.max(length, notes.duration[i]!);
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
