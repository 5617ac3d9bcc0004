import { useEffect, useRef, useState } from 'react';
import { encodeLog } from '../../core/capture/message-log.ts';
import { armedSources, triggersNow, useRecorder } from '../../devices/recorder-state.ts';
import { runningLog } from '../../devices/running.ts';
import { themeColor } from '../../ui/drawing/canvas.ts';
import { useSize, useThemeVersion } from '../../ui/drawing/use-canvas.ts';
import { laneBoxes, ROLL_COLORS } from './roll-picture.ts';
import type { RollSays, RollTold } from './roll.worker.ts';

/** Between two looks at what has come in, in milliseconds. */
const TELL_EVERY_MS = 33;

/** What comes in, as it comes in: what each source plays, and above it, hollow, what set it off. */
export function Roll() {
  const [box, size] = useSize<HTMLDivElement>();
  const worker = useRef<Worker | null>(null);
  const [lanes, setLanes] = useState<RollSays>([]);
  const theme = useThemeVersion();
  useEffect(() => {
    const canvas = document.createElement('canvas');
    canvas.className = 'absolute inset-0 size-full';
    box.current!.prepend(canvas);
    const thread = new Worker(new URL('./roll.worker.ts', import.meta.url), { type: 'module' });
    thread.onmessage = ({ data }: MessageEvent<RollSays>) => setLanes(data);
    worker.current = thread;
    const offscreen = canvas.transferControlToOffscreen();
    tell(thread, { kind: 'canvas', canvas: offscreen, timeOrigin: performance.timeOrigin }, [offscreen]);
    return () => {
      thread.terminate();
      canvas.remove();
    };
  }, [box]);
  useEffect(() => {
    const colors = Object.fromEntries(ROLL_COLORS.map((name) => [name, themeColor(name)]));
    tell(worker.current!, { kind: 'look', look: { ...size, ratio: devicePixelRatio || 1, colors } });
  }, [size, theme]);
  useTold(worker);
  return (
    <div
      ref={box}
      role="img"
      aria-label="What comes in"
      className="relative min-h-32 flex-1 overflow-hidden border-y border-rule bg-card"
    >
      <LaneNames lanes={lanes} height={size.height} />
      <RollHint />
    </div>
  );
}

function tell(worker: Worker, told: RollTold, transfer: Transferable[] = []): void {
  worker.postMessage(told, transfer);
}

/** Tells the drawing thread how time runs and, while something is recorded, what has come in. */
function useTold(worker: React.RefObject<Worker | null>): void {
  const phase = useRecorder((state) => state.phase);
  const startMs = useRecorder((state) => state.startMs);
  const { clock, bpm, meter, countInBars } = useRecorder((state) => state.settings);
  const runs = phase !== 'idle';
  useEffect(() => {
    const time = {
      runs: phase === 'recording' || phase === 'count-in' || phase === 'waiting',
      hasBars: clock !== 'none',
      ...{ bpm, meter, startMs, countInBars: clock === 'click' ? countInBars : 0 },
    };
    tell(worker.current!, { kind: 'time', time });
  }, [worker, phase, startMs, clock, bpm, meter, countInBars]);
  useEffect(() => {
    if (!runs) return;
    let log: ReturnType<typeof runningLog>;
    let told = 0;
    const tellMore = () => {
      const now = runningLog();
      if (!now) return;
      if (now !== log) {
        [log, told] = [now, 0];
        tell(worker.current!, { kind: 'begin' });
      }
      if (told === now.length) return;
      const messages = encodeLog(now, told);
      told = now.length;
      tell(worker.current!, { kind: 'more', messages }, [messages.buffer]);
    };
    const timer = setInterval(tellMore, TELL_EVERY_MS);
    return () => {
      tellMore();
      clearInterval(timer);
    };
  }, [worker, runs]);
}

function LaneNames({ lanes, height }: { lanes: RollSays; height: number }) {
  const sources = useRecorder((state) => state.sources);
  const recorded = [...armedSources(sources), ...triggersNow()];
  const boxes = laneBoxes(lanes, height);
  return lanes.map(({ source, input }, i) => (
    <span
      key={`${source} ${input}`}
      className="absolute left-0.5 mt-0.5 rounded-[3px] bg-card px-1 text-xs text-muted"
      style={{ top: boxes[i]!.top }}
    >
      {recorded[source]?.name ?? ''}: {input ? 'keys that set it off' : 'played'}
    </span>
  ));
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
