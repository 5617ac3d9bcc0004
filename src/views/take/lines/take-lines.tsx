import { useState } from 'react';
import type { Analysis } from '../../../core/analyze/analysis.ts';
import type { Take } from '../../../core/capture/take.ts';
import { formWords } from '../../../core/music/form.ts';
import { keyName, type Key } from '../../../core/music/key.ts';
import type { TimeWindow } from '../../../ui/drawing/time-window.ts';
import type { TakeWire } from '../../api/queries.ts';
import { useTakeChanges } from '../../shared/takes/bulk.ts';
import { ChartLine } from './ChartLine.tsx';
import { ChordLine } from './ChordLine.tsx';
import type { SplitEditing } from '../../shared/takes/editing.ts';
import type { MusicDoing } from '../doing/music-doing.ts';
import { SectionLine } from './SectionLine.tsx';
import type { Selection } from '../selection.ts';
import type { TakeLine } from '../strands/Strands.tsx';

/** The lines of what was found in a take: sections over the bar ruler, chords and chart under it. */
export function useTakeLines({
  row,
  take,
  analysis,
  isBusy,
  key,
  editing,
  selection,
  music,
  window,
}: {
  row: TakeWire;
  take: Take;
  analysis: Analysis | undefined;
  isBusy: boolean;
  key: Key | null;
  editing: SplitEditing;
  selection: Selection;
  music: MusicDoing;
  window: TimeWindow;
}): {
  above: TakeLine[];
  below: TakeLine[];
  focusChords: () => void;
  /** Takes the meaning that is chosen for an unclear symbol into the chart. */
  mendChart: (symbol: string, meaning: string) => void;
} {
  const { timeline } = take.timing;
  const [chordAt, setChordAt] = useState(0);
  const changes = useTakeChanges();
  const focusChords = () => {
    const start = selection.range?.start;
    const at =
      start === undefined ? chordAt : Math.max(0, analysis?.chords.findIndex(({ bar }) => bar >= start) ?? 0);
    setChordAt(at);
    document.querySelector<HTMLElement>(`[data-chord="${at}"]`)?.focus();
  };
  const mendChart = (symbol: string, meaning: string) => {
    const chart = (row.asked.chart ?? '')
      .split(/([\s|/;:]+)/)
      .map((piece) => (piece === symbol ? meaning : piece))
      .join('');
    changes.mutate({
      ids: [row.id],
      change: { asked: { chart } },
      done: `${row.name}: ${symbol} is ${meaning}`,
      what: 'the change',
    });
  };
  if (!analysis) {
    // Room is kept for what will stand there: nothing must move under the pointer.
    const waiting = (name: string, room: string, words = ''): TakeLine => ({
      name: <span className="font-display font-semibold">{name}</span>,
      draw: () => <span className={`${room} content-center text-sm text-muted`}>{words}</span>,
    });
    return {
      above: [waiting('Sections', 'h-5.5')],
      below: [
        waiting('Chords', 'h-9.5', isBusy ? 'Looking into the music' : ''),
        ...(row.asked.chart ? [waiting('Chart', 'h-5')] : []),
      ],
      focusChords,
      mendChart,
    };
  }
  const { form, sections, sectionsByHand, chords, keySpans, chartCheck } = analysis;
  const sectionLine: TakeLine = {
    name: (
      <>
        <span className="font-display font-semibold">Sections</span>
        {form && (
          <button
            type="button"
            className="min-w-0 truncate text-muted underline decoration-thread underline-offset-2 hover:text-ink"
            title={`${formWords(form)}: choose the first time`}
            onClick={() => selection.setRange({ start: form.startBar, count: form.bars })}
          >
            form of {form.bars}, {form.times} times
          </button>
        )}
      </>
    ),
    draw: (width) => (
      <SectionLine
        sections={sections}
        fills={analysis.fills}
        byHand={sectionsByHand}
        timeline={timeline}
        window={window}
        width={width}
        doing={{
          onSections: (changed) => editing.move({ move: 'sections', sections: changed }),
          onRange: selection.setRange,
          onKeepChanges: (bars, name) => void music.keepChanges(bars, name),
          onSheaf: (bars) => music.keep('all', bars),
        }}
      />
    ),
  };
  const chordLine: TakeLine = {
    name: (
      <>
        <span className="font-display font-semibold">Chords</span>
        <span className="min-w-0 truncate text-muted">
          {isBusy ? 'looking again' : key ? keyName(key) : 'no key'}
        </span>
      </>
    ),
    draw: (width) => (
      <ChordLine
        chords={chords}
        keySpans={keySpans}
        sections={sections}
        editing={{ key, timeline, onMove: editing.move }}
        window={window}
        width={width}
        current={Math.min(chordAt, Math.max(0, chords.length - 1))}
        onCurrent={setChordAt}
      />
    ),
  };
  // On bars that are not yet its own, every bar would differ.
  const offBars = analysis.proposals.some(({ kind }) => kind === 'bars' || kind === 'late');
  const chartLine: TakeLine[] =
    chartCheck && !offBars
      ? [
          {
            name: (
              <>
                <span className="font-display font-semibold">Chart</span>
                <span className="truncate text-muted">{chartWords(chartCheck.aligned)}</span>
              </>
            ),
            draw: (width) => (
              <ChartLine check={chartCheck} timeline={timeline} window={window} width={width} />
            ),
          },
        ]
      : [];
  return { above: [sectionLine], below: [chordLine, ...chartLine], focusChords, mendChart };
}

function chartWords(aligned: readonly { same: boolean }[]): string {
  const other = aligned.filter(({ same }) => !same).length;
  return other === 0 ? 'as asked' : `${other} of ${aligned.length} bars differ`;
}
