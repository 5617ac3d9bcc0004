/** Meters drawn in a thread of their own: whoever plays through the page waits for no picture. */
import { preparedContext } from '../../ui/drawing/canvas.ts';

export type MetersTold =
  | { kind: 'canvas'; id: string; canvas: OffscreenCanvas; ratio: number }
  | { kind: 'gone'; id: string }
  | { kind: 'colors'; colors: MeterColors }
  | { kind: 'heard'; heard: Heard[] };

export interface MeterColors {
  /** What a channel's bar stands on: of the drums' channel a stronger one. */
  floor: string;
  drums: string;
  bar: string;
}

/** What came last on a channel of a source: how hard, 0..127, and how long ago, in ms. */
export interface Heard {
  id: string;
  channel: number;
  velocity: number;
  agoMs: number;
}

interface Meter {
  canvas: OffscreenCanvas;
  ratio: number;
  at: Float64Array;
  velocity: Uint8Array;
}

/** How long a bar takes to fall, and between two pictures while one does, in milliseconds. */
const FALL_MS = 450;
const DRAW_EVERY = 33;

const meters = new Map<string, Meter>();
let colors: MeterColors | undefined;
let timer: ReturnType<typeof setTimeout> | undefined;

self.onmessage = ({ data }: MessageEvent<MetersTold>) => {
  if (data.kind === 'canvas') {
    const { canvas, ratio } = data;
    const nothing = { at: new Float64Array(16).fill(-Infinity), velocity: new Uint8Array(16) };
    meters.set(data.id, { canvas, ratio, ...nothing });
  } else if (data.kind === 'gone') meters.delete(data.id);
  else if (data.kind === 'colors') colors = data.colors;
  else
    for (const { id, channel, velocity, agoMs } of data.heard) {
      const meter = meters.get(id);
      if (!meter) continue;
      meter.at[channel] = performance.now() - agoMs;
      meter.velocity[channel] = velocity;
    }
  timer ??= setTimeout(draw, 0);
};

function draw(): void {
  timer = undefined;
  if (!colors) return;
  const now = performance.now();
  let falls = false;
  for (const meter of meters.values()) falls = drawMeter(meter, now, colors) || falls;
  if (falls) timer = setTimeout(draw, DRAW_EVERY);
}

/** Sixteen bars of four pixels, one apart and sixteen high. Whether one of them still falls. */
function drawMeter(
  { canvas, ratio, at, velocity }: Meter,
  now: number,
  { floor, drums, bar }: MeterColors,
): boolean {
  const context = preparedContext(canvas, 80, 16, ratio);
  let falls = false;
  for (let channel = 0; channel < 16; channel++) {
    context.fillStyle = channel === 9 ? drums : floor;
    context.fillRect(channel * 5, 0, 4, 16);
    const left = 1 - (now - at[channel]!) / FALL_MS;
    if (left <= 0) continue;
    falls = true;
    const height = 16 * left * (0.25 + (0.75 * velocity[channel]!) / 127);
    context.fillStyle = bar;
    context.fillRect(channel * 5, 16 - height, 4, height);
  }
  return falls;
}
