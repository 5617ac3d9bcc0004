import { useEffect, useRef } from 'react';
import { activityOf } from '../../devices/hearing.ts';
import { themeColor } from '../../ui/drawing/canvas.ts';
import { useThemeVersion } from '../../ui/drawing/use-canvas.ts';
import type { Heard, MetersTold } from './meters.worker.ts';

/** How often it is looked what has come, in milliseconds. */
const LOOK_EVERY = 40;

/** What is shown of each source that has a meter: when what was told last had come, by channel. */
const shown = new Map<string, Float64Array>();

let thread: Worker | undefined;

/** The thread that draws all meters, started with the first of them. */
function drawing(): Worker {
  if (!thread) {
    thread = new Worker(new URL('./meters.worker.ts', import.meta.url), { type: 'module' });
    setInterval(tellHeard, LOOK_EVERY);
  }
  return thread;
}

function tell(told: MetersTold, transfer: Transferable[] = []): void {
  drawing().postMessage(told, transfer);
}

/** Tells what has come since the last look; nothing where nothing has. */
function tellHeard(): void {
  const heard: Heard[] = [];
  const now = performance.now();
  for (const [id, told] of shown) {
    const { at, velocity } = activityOf(id);
    for (let channel = 0; channel < 16; channel++) {
      if (at[channel] === told[channel]) continue;
      told[channel] = at[channel]!;
      heard.push({ id, channel, velocity: velocity[channel]!, agoMs: now - at[channel]! });
    }
  }
  if (heard.length > 0) tell({ kind: 'heard', heard });
}

/** Sixteen channels, each as high as what arrived last was loud. */
export function Meters({ id }: { id: string }) {
  const box = useRef<HTMLSpanElement>(null);
  const theme = useThemeVersion();
  useEffect(() => {
    const ratio = devicePixelRatio || 1;
    const canvas = document.createElement('canvas');
    canvas.className = 'h-4 w-20';
    box.current!.append(canvas);
    const offscreen = canvas.transferControlToOffscreen();
    tell({ kind: 'canvas', id, canvas: offscreen, ratio }, [offscreen]);
    shown.set(id, Float64Array.from(activityOf(id).at));
    return () => {
      shown.delete(id);
      tell({ kind: 'gone', id });
      canvas.remove();
    };
  }, [id]);
  useEffect(() => {
    const [floor, drums, bar] = ['thread', 'thread-strong', 'madder'].map(themeColor) as [string, string, string]; // prettier-ignore
    tell({ kind: 'colors', colors: { floor, drums, bar } });
  }, [theme]);
  return (
    <span
      ref={box}
      role="img"
      aria-label="What arrives on channels 1 to 16"
      title="Channels 1 to 16, the tenth drums by custom"
      className="flex h-4 w-20 flex-none"
    />
  );
}
