import { useMemo } from 'react';
import { Bar } from 'react-chartjs-2';
import { Link, useNavigate } from 'react-router';
import { themeColor } from '../../ui/drawing/canvas.ts';
import { useThemeVersion } from '../../ui/drawing/use-canvas.ts';
import { countOptions } from '../../ui/drawing/chart.ts';

/** A bar of a graph, and where it leads. */
export interface GraphBar {
  label: string;
  count: number;
  to: string;
}

/** How many there are of each: lying bars, or upright ones with what is missing told. Each leads to its phrases. */
export function CountGraph({
  title,
  unit,
  bars,
  upright = false,
  missing,
}: {
  title: string;
  unit: string;
  bars: readonly GraphBar[];
  upright?: boolean;
  missing?: string;
}) {
  const theme = useThemeVersion();
  const navigate = useNavigate();
  const options = useMemo(
    () =>
      countOptions(unit, bars.length, upright, (at) => {
        const bar = bars[at];
        if (bar && bar.count > 0) void navigate(bar.to);
      }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the theme's colors are read from the page
    [unit, upright, bars, navigate, theme],
  );
  const largest = [...bars].sort((a, b) => b.count - a.count).slice(0, LINKED);
  return (
    <section aria-label={title} className="flex min-w-0 flex-col">
      <h2 className="text-base">{title}</h2>
      <div className={`relative cursor-pointer ${upright ? 'h-40' : 'h-52'}`}>
        <Bar
          key={theme}
          aria-label={`${title}: ${bars.map(({ label, count }) => `${label} ${count}`).join(', ')}`}
          options={options}
          data={{
            labels: bars.map(({ label }) => label),
            datasets: [
              {
                label: unit,
                data: bars.map(({ count }) => count),
                backgroundColor: themeColor('woad'),
                hoverBackgroundColor: themeColor('indigo'),
                barPercentage: 0.82,
                categoryPercentage: 0.9,
              },
            ],
          }}
        />
      </div>
      <p className="mt-1 flex flex-wrap gap-x-3 text-sm">
        {largest.map(
          ({ label, count, to }) =>
            count > 0 && (
              <Link
                key={label}
                to={to}
                className="inline-flex min-h-6 min-w-6 items-center gap-1 underline decoration-rule underline-offset-3 hover:decoration-ink"
              >
                {label} <span className="text-muted">{count}</span>
              </Link>
            ),
        )}
      </p>
      {missing && <p className="text-sm text-muted">{missing}</p>}
    </section>
  );
}

/** So many bars are links under the graph as well, for the keyboard; the others are in the library's own lists. */
const LINKED = 5;
