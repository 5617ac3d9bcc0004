/** The roll drawn in a thread of its own: whoever plays through the page waits for no picture. */
import { decodeLog } from '../../core/capture/message-log.ts';
import { preparedContext } from '../../ui/drawing/canvas.ts';
import { drawRoll, type RollLook, type RollTime } from './roll-picture.ts';
import { createRoll, readMore, type RollLane } from './roll-notes.ts';

export type RollTold =
  | { kind: 'canvas'; canvas: OffscreenCanvas; timeOrigin: number }
  | { kind: 'look'; look: RollLook }
  | { kind: 'time'; time: RollTime }
  /** Another recording. */
  | { kind: 'begin' }
  /** What has come in since the last time, as `encodeLog` writes it. */
  | { kind: 'more'; messages: Uint8Array };

/** Lanes there are, from the top: told where they change. */
export type RollSays = Pick<RollLane, 'source' | 'input'>[];

let canvas: OffscreenCanvas | undefined;
/** The page's clock as it stood when this thread's began, in ms. */
let ahead = 0;
let look: RollLook | undefined;
let time: RollTime | undefined;
let roll = createRoll();
let lanes = 0;
let frame = 0;

self.onmessage = ({ data }: MessageEvent<RollTold>) => {
  if (data.kind === 'canvas') {
    canvas = data.canvas;
    ahead = performance.timeOrigin - data.timeOrigin;
  } else if (data.kind === 'look') look = data.look;
  else if (data.kind === 'time') time = data.time;
  else if (data.kind === 'begin') roll = createRoll();
  else readMore(roll, decodeLog([data.messages]));
  if (roll.lanes.length !== lanes) {
    lanes = roll.lanes.length;
    self.postMessage(roll.lanes.map(({ source, input }) => ({ source, input })) satisfies RollSays);
  }
  if (frame === 0) frame = requestAnimationFrame(draw);
};

function draw(): void {
  frame = 0;
  if (!canvas || !look || !time || look.width === 0) return;
  const context = preparedContext(canvas, look.width, look.height, look.ratio);
  drawRoll(context, roll, look, time, performance.now() + ahead);
  if (time.runs) frame = requestAnimationFrame(draw);
}
