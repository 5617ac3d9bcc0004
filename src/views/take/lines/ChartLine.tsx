import type { ChartCheck } from '../../../core/analyze/chart-check.ts';
import { barStart, type Timeline } from '../../../core/music/timeline.ts';
import { Button } from '../../../ui/Button.tsx';
import type { TimeWindow } from '../../../ui/drawing/time-window.ts';
import { pixelsOf } from '../spans.ts';

/** What the chart asks for, bar by bar under what sounded; where they differ it is marked. */
export function ChartLine({
  check,
  timeline,
  window,
  width,
}: {
  check: ChartCheck;
  timeline: Timeline;
  window: TimeWindow;
  width: number;
}) {
  return (
    <div
      className="relative h-5 flex-1 overflow-hidden text-xs"
      role="list"
      aria-label="What the chart asks for"
    >
      {check.aligned.map(({ bar, chartBar, asked, sounded, same }, at) => {
        // A bar that was not played stands as a mark before the next that was.
        const shown = bar ?? check.aligned.slice(at).find((one) => one.bar !== null)?.bar ?? null;
        if (shown === null) return null;
        const start = barStart(timeline, shown);
        const place = pixelsOf(
          start,
          bar === null ? start + 1 : barStart(timeline, shown + 1),
          window,
          width,
        );
        if (!place) return null;
        const words =
          chartBar === null
            ? 'not in the chart'
            : bar === null
              ? `bar ${chartBar} of the chart, ${asked}, was not played`
              : same
                ? `asked ${asked}`
                : `asked ${asked}, sounded ${sounded}`;
        return (
          <span
            key={at}
            role="listitem"
            title={words}
            aria-label={`Bar ${shown}: ${words}`}
            className={`absolute inset-y-0 truncate border-l px-1 ${
              chartBar === null
                ? 'border-dashed border-madder bg-sunk text-muted italic'
                : bar === null
                  ? 'border-l-3 border-madder'
                  : same
                    ? 'border-rule text-muted'
                    : 'border-l-2 border-madder font-bold text-madder'
            }`}
            style={{ left: place.left, width: bar === null ? 6 : Math.max(2, place.width - 1) }}
          >
            {bar === null ? '' : chartBar === null ? 'not in the chart' : same ? asked : `${asked} ≠`}
          </span>
        );
      })}
    </div>
  );
}

/** Why a chart could not be read, and what an unclear symbol may stand for. */
export function ChartProblem({
  problem: { message, unclear },
  onMeant,
}: {
  problem: { message: string; unclear: { symbol: string; meanings: string[] } | null };
  onMeant: (symbol: string, meaning: string) => void;
}) {
  return (
    <p
      role="status"
      className="mt-2 flex items-center gap-2 border-l-3 border-madder bg-card px-2 py-1 text-sm"
    >
      <span className="min-w-0 flex-1">The chart cannot be held against what sounded. {message}</span>
      {unclear?.meanings.map((meaning) => (
        <Button key={meaning} small onClick={() => onMeant(unclear.symbol, meaning)}>
          {meaning}
        </Button>
      ))}
    </p>
  );
}
