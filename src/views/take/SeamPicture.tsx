import { useEffect, useMemo, useRef } from 'react';
import type { PartLoop } from '../../core/analyze/analysis.ts';
import { barStart, beatTicks, meterAt, type Timeline } from '../../core/music/timeline.ts';
import { preparedContext, themeColor, useThemeVersion } from '../../ui/canvas.ts';
import { drawNotes, heights, roleColor, type DrawnNotes } from '../../ui/strand.ts';
import type { Strand } from './strand-columns.ts';

const WIDTH = 208;
const HEIGHT = 40;

/** The seam of a loop, enlarged: its last beat, the line, and its first beat. What sounds over the line is seen to. */
export function SeamPicture({
  loop,
  strand: { part, notes },
  timeline,
}: {
  loop: PartLoop;
  strand: Strand;
  timeline: Timeline;
}) {
  const ref = useRef<HTMLCanvasElement>(null);
  const theme = useThemeVersion();
  const { seam, beat } = useMemo(() => seamNotes(notes, loop, timeline), [notes, loop, timeline]);
  const height = useMemo(() => heights(notes, part.role), [notes, part.role]);
  useEffect(() => {
    const context = preparedContext(ref.current!, WIDTH, HEIGHT);
    context.fillStyle = themeColor('sunk');
    context.fillRect(0, 0, WIDTH, HEIGHT);
    context.fillStyle = themeColor('madder');
    context.fillRect(WIDTH / 2 - 0.5, 0, 1, HEIGHT);
    const window = { fromTick: 0, toTick: 2 * beat };
    const style = { color: roleColor(part.role), thickness: 4 };
    drawNotes(context, seam, height, window, { width: WIDTH, height: HEIGHT }, style);
  }, [seam, beat, height, part.role, theme]);
  return (
    <canvas
      ref={ref}
      style={{ width: WIDTH, height: HEIGHT }}
      className="block"
      role="img"
      aria-label={`Last beat of bar ${loop.startBar + loop.bars - 1}, then first beat of bar ${loop.startBar}`}
    />
  );
}

/** Notes of the last beat before the line and of the first after it, from tick 0 to two beats. */
function seamNotes(
  notes: DrawnNotes,
  { startBar, bars }: PartLoop,
  timeline: Timeline,
): { seam: DrawnNotes; beat: number } {
  const [start, end] = [barStart(timeline, startBar), barStart(timeline, startBar + bars)];
  const beat = beatTicks(timeline.ppq, meterAt(timeline, start));
  const early = timeline.ppq / 8;
  const at: number[] = [];
  const ticks: number[] = [];
  for (let i = 0; i < notes.length; i++) {
    const tick = notes.tick[i]!;
    if (tick + notes.duration[i]! > end - beat && tick < end - early && tick >= start - early) {
      at.push(i);
      ticks.push(tick - (end - beat));
    }
    if (tick >= start - early && tick < start + beat) {
      at.push(i);
      ticks.push(beat + tick - start);
    }
  }
  const pick = (column: ArrayLike<number>) => Int32Array.from(at, (i) => column[i]!);
  return {
    beat,
    seam: {
      length: at.length,
      tick: Int32Array.from(ticks),
      duration: pick(notes.duration),
      pitch: pick(notes.pitch),
      velocity: pick(notes.velocity),
    },
  };
}
