import { GM_DRUM_CHANNEL } from '../../core/midi/gm.ts';
import { barMs } from '../../core/music/timeline.ts';
import { drawNotes, drawWarp, type DrawnNotes, type Pen } from '../../ui/drawing/strand.ts';
import { type TimeWindow, timeScale } from '../../ui/drawing/time-window.ts';
import { lastOnset, type RollLane, type RollNotes } from './roll-notes.ts';

/** Bars in sight. */
const BARS = 12;

/** The dyes that tell channels apart; drums have madder. */
const DYES = ['indigo', 'woad', 'walnut', 'lichen', 'heather', 'weld'];

/** Colors of the theme that the picture needs, by their names. */
export const ROLL_COLORS = [...DYES, 'madder', 'muted', 'rule', 'thread', 'thread-strong'] as const;

/** What the picture is drawn on: its size in CSS pixels, and the colors of the theme. */
export interface RollLook {
  width: number;
  height: number;
  /** Pixels of the screen in a CSS pixel. */
  ratio: number;
  colors: Readonly<Record<string, string>>;
}

/** How time runs in it. */
export interface RollTime {
  /** Something is recorded, or counted in, or waited for. */
  runs: boolean;
  /** Bars are known by a clock. */
  hasBars: boolean;
  bpm: number;
  meter: { numerator: number; denominator: number };
  countInBars: number;
  /** When bar one began or begins, in ms on the page's clock; 0 where nothing has begun. */
  startMs: number;
}

/** Draws what has come in up to now, in ms on the page's clock. */
export function drawRoll(
  context: Pen,
  roll: RollNotes,
  { width, height, colors }: RollLook,
  time: RollTime,
  nowMs: number,
): void {
  const inBar = barMs(time.bpm, time.meter);
  const now = time.runs ? nowMs : lastOnset(roll.lanes);
  const origin = time.startMs || now;
  const toTick = Math.max(origin + (BARS - time.countInBars) * inBar, now + inBar / 2);
  const window: TimeWindow = { fromTick: toTick - BARS * inBar, toTick };
  const warp = { strong: colors['thread-strong']!, fine: colors.thread! };
  const bars = barLines(window, origin, inBar, time.meter.numerator);
  if (time.hasBars) drawWarp(context, bars, window, width, height, warp);
  for (const [i, { top, height: tall }] of laneBoxes(roll.lanes, height).entries()) {
    context.save();
    context.translate(0, top);
    drawLane(context, roll.lanes[i]!, window, { width, height: tall }, now, colors);
    context.restore();
    context.fillStyle = colors.rule!;
    context.fillRect(0, top + tall - 1, width, 1);
  }
  const x = timeScale(window, width);
  context.fillStyle = colors.weld!;
  for (const ms of roll.marks) context.fillRect(x(ms) - 1.5, 0, 3, height);
  if (!time.runs) return;
  context.fillStyle = colors.madder!;
  context.fillRect(x(now), 0, 1.5, height);
}

/** Where lanes lie, in CSS pixels from the top: what is played has more room than what set it off. */
export function laneBoxes(
  lanes: readonly Pick<RollLane, 'input'>[],
  height: number,
): { top: number; height: number }[] {
  const weights = lanes.map(({ input }) => (input ? 1 : 2.4));
  const total = weights.reduce((sum, weight) => sum + weight, 0);
  let top = 0;
  return lanes.map(({ input }, i) => {
    const tall = Math.min((height * weights[i]!) / total, input ? 90 : 420);
    top += tall;
    return { top: top - tall, height: tall };
  });
}

function barLines(window: TimeWindow, origin: number, barMs: number, beats: number) {
  const first = Math.floor((window.fromTick - origin) / barMs);
  const count = Math.ceil((window.toTick - window.fromTick) / barMs) + 1;
  return Array.from({ length: count }, (_, i) => {
    const tick = origin + (first + i) * barMs;
    return { tick, beats: Array.from({ length: beats - 1 }, (_beat, n) => tick + ((n + 1) * barMs) / beats) };
  });
}

/** Notes of a lane that the window shows, by their channel. */
function inSight(lane: RollLane, window: TimeWindow): Map<number, number[]> {
  const byChannel = new Map<number, number[]>();
  for (let i = 0; i < lane.length; i++) {
    if (lane.tick[i]! >= window.toTick || lane.tick[i]! + lane.duration[i]! <= window.fromTick) continue;
    const channel = lane.channel[i]!;
    const indices = byChannel.get(channel);
    if (indices) indices.push(i);
    else byChannel.set(channel, [i]);
  }
  return byChannel;
}

/** A lane, a channel after the other in its dye; what still sounds reaches to now. */
function drawLane(
  context: Pen,
  lane: RollLane,
  window: TimeWindow,
  size: { width: number; height: number },
  now: number,
  colors: RollLook['colors'],
): void {
  const spread = Math.max(11, lane.high - lane.low);
  const height = (pitch: number) => 0.06 + (0.82 * (pitch - lane.low)) / spread;
  const thickness = Math.max(2, Math.min(7, (size.height * 0.7) / spread));
  for (const [channel, indices] of inSight(lane, window)) {
    const notes: DrawnNotes = {
      length: indices.length,
      tick: indices.map((i) => lane.tick[i]!),
      duration: indices.map((i) => Math.min(lane.duration[i]!, Math.max(0, now - lane.tick[i]!))),
      pitch: indices.map((i) => lane.pitch[i]!),
      velocity: indices.map((i) => lane.velocity[i]!),
    };
    const dye = lane.input ? 'muted' : channel === GM_DRUM_CHANNEL ? 'madder' : DYES[channel % DYES.length]!;
    drawNotes(context, notes, height, window, size, {
      color: colors[dye]!,
      thickness,
      hollow: lane.input,
    });
  }
}
