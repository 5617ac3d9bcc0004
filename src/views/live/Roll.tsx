import { useEffect, useRef } from 'react';
import { GM_DRUM_CHANNEL } from '../../core/midi/gm.ts';
import { barTicks, msPerQuarter } from '../../core/music/timeline.ts';
import { useRecorder } from '../../devices/recorder-state.ts';
import { runningLog } from '../../devices/running.ts';
import { preparedContext, themeColor, useSize, useThemeVersion } from '../../ui/canvas.ts';
import { drawNotes, drawWarp, type DrawnNotes, type TimeWindow } from '../../ui/strand.ts';
import { createRoll, readMore, type RollLane } from './roll-notes.ts';

/** Between two pictures while something is recorded, in milliseconds. */
const DRAW_EVERY_MS = 25;

/** Bars in sight. */
const BARS = 12;

/** The dyes that tell channels apart; drums have madder. */
const DYES = ['indigo', 'woad', 'walnut', 'lichen', 'heather', 'weld'];

/** What comes in, as it comes in: what each source plays, and above it, hollow, what set it off. */
export function Roll() {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [box, size] = useSize<HTMLDivElement>();
  const shown = useRef({ log: runningLog(), roll: createRoll() });
  const theme = useThemeVersion();
  const runs = useRecorder(({ phase }) => phase !== 'idle');
  const settings = useRecorder((state) => state.settings);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const draw = () => {
      const log = runningLog();
      if (log && log !== shown.current.log) shown.current = { log, roll: createRoll() };
      if (shown.current.log) readMore(shown.current.roll, shown.current.log);
      if (canvas.current && size.width > 0) drawRoll(canvas.current, size, shown.current.roll);
      // Whoever records needs every millisecond for it: half as many pictures are enough for the eye.
      if (runs) timer = setTimeout(() => requestAnimationFrame(draw), DRAW_EVERY_MS);
    };
    draw();
    return () => clearTimeout(timer);
  }, [size, theme, runs, settings]);
  return (
    <div ref={box} className="relative min-h-32 flex-1 overflow-hidden border-y border-rule bg-card">
      <canvas ref={canvas} className="absolute inset-0 size-full" aria-label="What comes in" role="img" />
      <RollHint />
    </div>
  );
}

function RollHint() {
  const phase = useRecorder((state) => state.phase);
  const idle = useRecorder(({ finished, notes }) => !finished && notes === 0);
  const words = {
    idle: idle ? 'Tick a source, press Record. What it plays is drawn here as it comes in.' : '',
    starting: 'beginning',
    waiting: 'Waiting for the source to start',
    'count-in': 'count-in',
    recording: '',
    finishing: 'making a take of it',
  }[phase];
  if (!words) return null;
  return (
    <p className="absolute inset-0 flex items-center justify-center text-muted" role="status">
      {words}
    </p>
  );
}

function drawRoll(
  canvas: HTMLCanvasElement,
  size: { width: number; height: number },
  roll: ReturnType<typeof createRoll>,
): void {
  const context = preparedContext(canvas, size.width, size.height);
  const { startMs, settings, phase, sources } = useRecorder.getState();
  const { bpm, meter } = settings;
  const barMs = barTicks(msPerQuarter(bpm), meter);
  const runs = phase === 'recording' || phase === 'count-in' || phase === 'waiting';
  const last = lastEnd(roll.lanes);
  const now = runs ? performance.now() : last;
  const origin = startMs || now;
  const before = settings.clock === 'click' ? settings.countInBars : 0;
  const toTick = Math.max(origin + (BARS - before) * barMs, now + barMs / 2);
  const window: TimeWindow = { fromTick: toTick - BARS * barMs, toTick };
  const bars = barLines(window, origin, barMs, meter.numerator);
  if (settings.clock !== 'none') drawWarp(context, bars, window, size.width, size.height);
  const weights = roll.lanes.map(({ input }) => (input ? 1 : 2.4));
  const total = weights.reduce((sum, weight) => sum + weight, 0);
  let top = 0;
  roll.lanes.forEach((lane, i) => {
    const height = Math.min((size.height * weights[i]!) / total, lane.input ? 90 : 420);
    context.save();
    context.translate(0, top);
    drawLane(context, lane, window, { width: size.width, height }, now);
    context.restore();
    top += height;
    context.fillStyle = themeColor('rule');
    context.fillRect(0, top - 1, size.width, 1);
  });
  const x = (ms: number) => ((ms - window.fromTick) / (window.toTick - window.fromTick)) * size.width;
  context.fillStyle = themeColor('weld');
  for (const ms of roll.marks) context.fillRect(x(ms) - 1.5, 0, 3, size.height);
  if (runs) {
    context.fillStyle = themeColor('madder');
    context.fillRect(x(now), 0, 1.5, size.height);
  }
  labelLanes(
    context,
    roll.lanes,
    weights,
    total,
    size.height,
    sources.filter(({ armed }) => armed),
  );
}

function lastEnd(lanes: readonly RollLane[]): number {
  return lanes.reduce((end, { tick }) => Math.max(end, tick.at(-1) ?? 0), 0);
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
  context: CanvasRenderingContext2D,
  lane: RollLane,
  window: TimeWindow,
  size: { width: number; height: number },
  now: number,
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
      color: themeColor(dye),
      thickness,
      hollow: lane.input,
    });
  }
}

function labelLanes(
  context: CanvasRenderingContext2D,
  lanes: readonly RollLane[],
  weights: readonly number[],
  total: number,
  height: number,
  sources: readonly { name: string }[],
): void {
  context.font = '12px "Atkinson Hyperlegible"';
  context.fillStyle = themeColor('muted');
  let top = 0;
  lanes.forEach((lane, i) => {
    const name = sources[lane.source]?.name ?? '';
    context.fillText(lane.input ? `${name}: keys that set it off` : `${name}: played`, 6, top + 14);
    top += Math.min((height * weights[i]!) / total, lane.input ? 90 : 420);
  });
}
