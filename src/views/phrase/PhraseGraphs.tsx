import { useMemo } from 'react';
import { Bar } from 'react-chartjs-2';
import { bpmOf, tempoAt } from '../../core/music/timeline.ts';
import { gridTicks, type Grid } from '../../core/normalize/grid.ts';
import type { Clip } from '../../core/phrase/clip.ts';
import { themeColor, useThemeVersion } from '../../ui/canvas.ts';
import { histogramOptions } from '../../ui/chart.ts';
import { roleColor } from '../../ui/strand.ts';

/** Velocities, and timing against the grid, as captured (hollow) and as the recipe leaves them (solid). */
export function PhraseGraphs({ hollow, solid, grid }: { hollow: Clip; solid: Clip; grid: Grid }) {
  const velocity = useMemo(() => {
    const values = (clip: Clip) => clip.notes.map((note) => note.velocity);
    return histogram(values(hollow), values(solid), 1, 127, 8);
  }, [hollow, solid]);
  const timing = useMemo(() => {
    const before = gridErrors(hollow, grid);
    const after = gridErrors(solid, grid);
    const reach = Math.max(
      10,
      Math.ceil(Math.max(...before.map(Math.abs), ...after.map(Math.abs), 0) / 5) * 5,
    );
    return histogram(before, after, -reach, reach, Math.max(2, Math.round(reach / 8)));
  }, [hollow, solid, grid]);
  return (
    <div className="grid h-42 flex-none grid-cols-2 gap-6">
      <Graph title="Velocity" x="velocity, 1 to 127" bins={velocity} solid={solid} />
      <Graph title={`Against the ${grid} grid`} x="ms early (-) or late (+)" bins={timing} solid={solid} />
    </div>
  );
}

interface Bins {
  labels: string[];
  before: number[];
  after: number[];
}

function Graph({ title, x, bins, solid }: { title: string; x: string; bins: Bins; solid: Clip }) {
  const theme = useThemeVersion();
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the theme's colors are read from the page
  const options = useMemo(() => histogramOptions(x, 'notes'), [x, theme]);
  const ink = themeColor('ink');
  return (
    <section className="flex min-w-0 flex-col">
      <h2 className="text-base">{title}</h2>
      <div className="relative min-h-0 flex-1">
        <Bar
          key={theme}
          options={options}
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
                backgroundColor: roleColor(solid.role),
                barPercentage: 0.7,
                categoryPercentage: 0.9,
                grouped: false,
                order: 1,
              },
            ],
          }}
        />
      </div>
    </section>
  );
}

function histogram(
  before: readonly number[],
  after: readonly number[],
  low: number,
  high: number,
  width: number,
): Bins {
  const bins = Math.ceil((high - low + 1) / width);
  const count = (values: readonly number[]) => {
    const counts = Array<number>(bins).fill(0);
    for (const value of values) counts[Math.min(bins - 1, Math.max(0, Math.floor((value - low) / width)))]!++;
    return counts;
  };
  return {
    labels: Array.from({ length: bins }, (_, i) => String(Math.round(low + (i + 0.5) * width))),
    before: count(before),
    after: count(after),
  };
}

/** Milliseconds between each onset and its nearest grid line; early is negative. */
function gridErrors(clip: Clip, grid: Grid): number[] {
  const step = gridTicks(grid, clip.timeline.ppq);
  const msPerTick = 60_000 / bpmOf(tempoAt(clip.timeline, 0).microseconds) / clip.timeline.ppq;
  return clip.notes.map((note) => (note.tick - Math.round(note.tick / step) * step) * msPerTick);
}
