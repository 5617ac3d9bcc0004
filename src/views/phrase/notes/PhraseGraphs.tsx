import type { Plugin } from 'chart.js';
import { useMemo, useState, type KeyboardEvent } from 'react';
import { Bar } from 'react-chartjs-2';
import { bpmOf, msPerQuarter, tempoAt } from '../../../core/music/timeline.ts';
import { gridTicks, type Grid } from '../../../core/normalize/grid.ts';
import { loudMark } from '../../../core/normalize/step.ts';
import type { Clip, ClipNote } from '../../../core/phrase/clip.ts';
import { plural } from '../../../core/words.ts';
import { themeColor } from '../../../ui/drawing/canvas.ts';
import { useThemeVersion } from '../../../ui/drawing/use-canvas.ts';
import { histogramOptions } from '../../../ui/drawing/chart.ts';
import { roleColor } from '../../../ui/drawing/strand.ts';

/**
 * Velocities, and timing against the grid, as captured (hollow) and as the recipe leaves them (solid). A bar of either
 * chooses its notes.
 */
export function PhraseGraphs({
  hollow,
  solid,
  grid,
  chosen,
  onChoose,
}: {
  hollow: Clip;
  solid: Clip;
  grid: Grid;
  chosen: ReadonlySet<number>;
  onChoose: (origins: Iterable<number>) => void;
}) {
  const velocity = useMemo(() => {
    const of = (clip: Clip) => clip.notes.map((note) => note.velocity);
    return histogram(of(hollow), of(solid), solid.notes, 1, 127, 8);
  }, [hollow, solid]);
  const loud = useMemo(
    () => [hollow, solid].map(({ notes }) => Math.round(loudMark(notes))) as [number, number],
    [hollow, solid],
  );
  const timing = useMemo(() => {
    const before = gridErrors(hollow, grid);
    const after = gridErrors(solid, grid);
    const farthest = [...before, ...after].reduce((most, ms) => Math.max(most, Math.abs(ms)), 0);
    const reach = Math.max(10, Math.ceil(farthest / 5) * 5);
    return histogram(before, after, solid.notes, -reach, reach, Math.max(2, Math.round(reach / 8)));
  }, [hollow, solid, grid]);
  return (
    <div className="grid h-42 flex-none grid-cols-2 gap-6">
      <Graph
        title={`Velocity, loud notes ${loud[0]} to ${loud[1]}`}
        x="velocity, 1 to 127"
        bins={velocity}
        solid={solid}
        mark={loud[1]}
        chosen={chosen}
        onChoose={onChoose}
      />
      <Graph
        title={`Against the ${grid} grid`}
        x="ms early (-) or late (+)"
        bins={timing}
        solid={solid}
        mark={0}
        chosen={chosen}
        onChoose={onChoose}
      />
    </div>
  );
}

interface Bins {
  labels: string[];
  before: number[];
  after: number[];
  /** Origins of the solid notes in each. */
  origins: number[][];
  low: number;
  width: number;
}

function Graph({
  title,
  x,
  bins,
  solid,
  mark,
  chosen,
  onChoose,
}: {
  title: string;
  x: string;
  bins: Bins;
  solid: Clip;
  /** A value that a line stands at. */
  mark: number;
  chosen: ReadonlySet<number>;
  onChoose: (origins: Iterable<number>) => void;
}) {
  const theme = useThemeVersion();
  const [at, setAt] = useState<number | null>(null);
  const choose = (bin: number, adds: boolean) => {
    setAt(bin);
    onChoose(adds ? [...chosen, ...bins.origins[bin]!] : bins.origins[bin]!);
  };
  const options = useMemo(
    () => ({
      ...histogramOptions(x, 'notes'),
      interaction: { mode: 'index' as const, intersect: false },
      onClick: (event: { native: Event | null }, elements: readonly { index: number }[]) => {
        const bin = elements[0]?.index;
        if (bin !== undefined) choose(bin, event.native instanceof MouseEvent && event.native.shiftKey);
      },
    }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the theme's colors are read from the page
    [x, theme, bins, chosen],
  );
  const line = useMemo(() => markLine((mark - bins.low) / bins.width - 0.5), [mark, bins]);
  const onKey = (event: KeyboardEvent) => {
    const by = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    if (by === 0 || event.altKey || event.ctrlKey) return;
    event.preventDefault();
    const next = nextFilled(bins, at, by);
    if (next !== null) choose(next, event.shiftKey);
  };
  const ink = themeColor('ink');
  const role = roleColor(solid.role);
  return (
    <section className="flex min-w-0 flex-col" aria-label={title}>
      <h2 className="text-base">{title}</h2>
      <div
        className="relative min-h-0 flex-1"
        tabIndex={0}
        role="group"
        aria-label={`${title}: Left and Right choose the notes of a bar, with Shift as well as those chosen`}
        onKeyDown={onKey}
      >
        <Bar
          key={theme}
          options={options}
          plugins={[line]}
          aria-label={`${title}: notes as captured and as the recipe leaves them`}
          data={{
            labels: bins.labels,
            datasets: [
              {
                label: 'captured',
                data: bins.before,
                borderColor: ink,
                borderWidth: 1,
                backgroundColor: 'transparent',
                barPercentage: 1,
                categoryPercentage: 0.9,
                grouped: false,
                order: 0,
              },
              {
                label: 'normalized',
                data: bins.after,
                backgroundColor: bins.origins.map((origins) =>
                  origins.some((origin) => chosen.has(origin)) ? themeColor('indigo') : role,
                ),
                barPercentage: 0.7,
                categoryPercentage: 0.9,
                grouped: false,
                order: 1,
              },
            ],
          }}
        />
      </div>
      {at !== null && (
        <span className="sr-only" role="status">
          {bins.labels[at]}: {plural(bins.origins[at]?.length ?? 0, 'note')} chosen
        </span>
      )}
    </section>
  );
}

/** A line over the bars at a place between them, counted in bars. */
function markLine(place: number): Plugin<'bar'> {
  return {
    id: 'mark',
    afterDatasetsDraw({ ctx, chartArea, scales }) {
      const first = scales.x!.getPixelForValue(0);
      const width = scales.x!.getPixelForValue(1) - first;
      ctx.save();
      ctx.strokeStyle = themeColor('madder');
      ctx.setLineDash([4, 3]);
      ctx.beginPath();
      ctx.moveTo(first + place * width, chartArea.top);
      ctx.lineTo(first + place * width, chartArea.bottom);
      ctx.stroke();
      ctx.restore();
    },
  };
}

/** The next bar that has notes, from where one stands; null where there is none. */
function nextFilled({ after }: Bins, from: number | null, by: 1 | -1): number | null {
  for (
    let i = from === null ? (by > 0 ? 0 : after.length - 1) : from + by;
    i >= 0 && i < after.length;
    i += by
  )
    if (after[i]! > 0) return i;
  return null;
}

function histogram(
  before: readonly number[],
  after: readonly number[],
  notes: readonly ClipNote[],
  low: number,
  high: number,
  width: number,
): Bins {
  const bins = Math.ceil((high - low + 1) / width);
  const binOf = (value: number) => Math.min(bins - 1, Math.max(0, Math.floor((value - low) / width)));
  const counts = Array<number>(bins).fill(0);
  for (const value of before) counts[binOf(value)]!++;
  const origins = Array.from({ length: bins }, (): number[] => []);
  after.forEach((value, i) => origins[binOf(value)]!.push(notes[i]!.origin));
  return {
    labels: Array.from({ length: bins }, (_, i) => String(Math.round(low + (i + 0.5) * width))),
    before: counts,
    after: origins.map(({ length }) => length),
    origins,
    low,
    width,
  };
}

/** Milliseconds between each onset and its nearest grid line; early is negative. */
function gridErrors(clip: Clip, grid: Grid): number[] {
  const step = gridTicks(grid, clip.timeline.ppq);
  const msPerTick = msPerQuarter(bpmOf(tempoAt(clip.timeline, 0).microseconds)) / clip.timeline.ppq;
  return clip.notes.map((note) => (note.tick - Math.round(note.tick / step) * step) * msPerTick);
}
