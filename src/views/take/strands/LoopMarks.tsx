import type { PartLoop } from '../../../core/analyze/part-loops.ts';
import { barStart, type Timeline } from '../../../core/music/timeline.ts';
import type { TimeWindow } from '../../../ui/drawing/time-window.ts';
import { roleColor } from '../../../ui/drawing/strand.ts';
import type { Role } from '../../../core/split/roles.ts';
import { pixelsOf } from '../spans.ts';
import type { BarRange } from '../../shared/takes/strand-columns.ts';

/** "4 bars, 3 times, 0.97". */
export function loopWords({ bars, repeats, likeness, shifts }: PartLoop): string {
  const moved = shifts ? ', moved as a block' : '';
  return `${bars} ${bars === 1 ? 'bar' : 'bars'}, ${repeats} times, ${likeness.toFixed(2)}${moved}`;
}

/** The bars of a loop's first time. */
export function loopRange({ startBar, bars }: PartLoop): BarRange {
  return { start: startBar, count: bars };
}

/** The loops of a part that can be marked beside each other: the best first, and each that lies over none before it. */
export function loopsBeside(loops: readonly PartLoop[], part: string): PartLoop[] {
  const end = ({ startBar, bars, repeats }: PartLoop) => startBar + bars * repeats;
  const told: PartLoop[] = [];
  for (const loop of loops)
    if (
      loop.part === part &&
      told.every((other) => loop.startBar >= end(other) || other.startBar >= end(loop))
    )
      told.push(loop);
  return told;
}

/** A loop of a strand, a bracket for each time it comes: the first strong, and chosen by a click. */
export function LoopMarks({
  loop,
  role,
  timeline,
  window,
  width,
  onChoose,
}: {
  loop: PartLoop;
  role: Role;
  timeline: Timeline;
  window: TimeWindow;
  width: number;
  onChoose: () => void;
}) {
  const color = roleColor(role);
  return Array.from({ length: Math.min(loop.repeats, 256) }, (_, time) => {
    const bar = loop.startBar + time * loop.bars;
    const place = pixelsOf(barStart(timeline, bar), barStart(timeline, bar + loop.bars), window, width);
    if (!place) return null;
    const style = { left: place.left + 2, width: Math.max(3, place.width - 4), borderColor: color };
    const shape = 'absolute bottom-0.5 h-1.5 border-x border-b';
    if (time > 0)
      return (
        <span
          key={time}
          aria-hidden="true"
          className={`${shape} pointer-events-none opacity-55`}
          style={style}
        />
      );
    return (
      <button
        key={time}
        type="button"
        tabIndex={-1}
        className={`${shape} border-x-2 border-b-3 hover:h-3`}
        style={style}
        title={`Loop of ${loopWords(loop)}: choose it (R listens to it)`}
        aria-label={`Loop of ${loopWords(loop)}`}
        onPointerDown={(event) => event.stopPropagation()}
        onClick={(event) => {
          event.stopPropagation();
          onChoose();
        }}
      />
    );
  });
}
