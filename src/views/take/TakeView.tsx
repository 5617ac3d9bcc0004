import { useMutation } from '@tanstack/react-query';
import { TriangleAlert } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import type { Take } from '../../core/capture/take.ts';
import { keyName, sameKey, type Key } from '../../core/music/key.ts';
import { barStart, bpmOf, meterAt, tempoAt } from '../../core/music/timeline.ts';
import { refresh, setMuted, toggleListening, usePlayer, type Listening } from '../../sound/player.ts';
import { useActions } from '../../ui/actions.ts';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { RenameField } from '../../ui/RenameField.tsx';
import { zoomed, type TimeWindow } from '../../ui/strand.ts';
import { CLOSER, ZoomButtons } from '../../ui/ZoomButtons.tsx';
import { sendJson } from '../api/client.ts';
import { tellProblem, useRefresh, useTakeNotes, useTakeRow, type TakeWire } from '../api/queries.ts';
import { useCurrentProject } from '../app/project.ts';
import { useSplitEditing, type SplitEditing } from './editing.ts';
import { takeLanes } from './listening.ts';
import { MakeBox } from './MakeBox.tsx';
import { Overview } from './Overview.tsx';
import { PartPanel } from './PartPanel.tsx';
import { barLinesWithBeats, strandColumns, takeBars } from './strand-columns.ts';
import { Strands, type BarRange, type Strand } from './Strands.tsx';
import { TakeAbout } from './TakeAbout.tsx';
import { TallyBar } from './TallyBar.tsx';

/** A take: its strands over shared bars, and what can be done to them. */
export default function TakeView() {
  const { id = '' } = useParams();
  const row = useTakeRow(id);
  const notes = useTakeNotes(row.data);
  const problem = row.error ?? notes.error;
  if (problem) return <EmptyState title="This take could not be opened">{problem.message}</EmptyState>;
  if (!row.data || !notes.data) return <Busy what="Reading the take" />;
  return <OpenTake key={id} row={row.data} take={notes.data} />;
}

function OpenTake({ row, take }: { row: TakeWire; take: Take }) {
  const editing = useSplitEditing(row, take);
  const { split } = editing;
  const { timeline } = take.timing;
  const bars = takeBars(take);
  const barLines = useMemo(() => barLinesWithBeats(timeline, bars), [timeline, bars]);
  const endTick = Math.max(barStart(timeline, bars + 1), take.timing.ticks);
  const strands = useMemo(
    () =>
      split.parts
        .map((part, i): Strand => ({ part, notes: strandColumns(take, split, i) }))
        .filter((strand) => strand.notes.length > 0),
    [split, take],
  );

  const all = { fromTick: 0, toTick: endTick };
  const [window, setWindow] = useState<TimeWindow>(all);
  const [selection, setSelection] = useState<string[]>(() => strands.slice(0, 1).map(({ part }) => part.id));
  const [params] = useSearchParams();
  const [range, setRange] = useState<BarRange | null>(() => barsFrom(params.get('bars'), bars));
  const [side, setSide] = useState<'part' | 'take'>(row.capture?.stars.length ? 'take' : 'part');
  const [soloed, setSoloed] = useState<ReadonlySet<string>>(new Set());
  const [mutedParts, setMutedParts] = useState<ReadonlySet<string>>(new Set());
  const [withOthers, setWithOthers] = useState(false);
  const selected = selection.flatMap((id) => strands.find(({ part }) => part.id === id) ?? []);
  const selectedIds = useMemo(() => new Set(selection), [selection]);

  const select = (part: string, add: boolean) =>
    setSelection((now) =>
      !add ? [part] : now.includes(part) ? now.filter((other) => other !== part) : [...now, part],
    );

  // What solo and mute leave unheard.
  useEffect(() => {
    const silent = strands
      .map(({ part }) => part.id)
      .filter((id) => mutedParts.has(id) || (soloed.size > 0 && !soloed.has(id)));
    setMuted(new Set(silent));
    return () => setMuted(new Set());
  }, [strands, soloed, mutedParts]);

  const key: Key | null = row.chosenKey ?? row.keys[0] ?? null;
  const heard = range && !withOthers && selected.length > 0 ? selected : strands;
  const heardIds = heard.map(({ part }) => part.id).join(' ');
  const listening = useMemo((): Listening => {
    const cut = range ?? { start: 1, count: bars };
    return {
      id: `take ${row.id}`,
      title: heardIds.includes(' ') || heard.length === 0 ? row.name : heard[0]!.part.name,
      subtitle: range
        ? `${row.name}, bars ${range.start} to ${range.start + range.count - 1}`
        : 'the whole take',
      lanes: takeLanes(take, split, heardIds.split(' ').filter(Boolean), cut, key),
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- heardIds stands for what is heard
  }, [row.id, row.name, split, take, range?.start, range?.count, heardIds, bars, key?.tonic, key?.mode]);
  useEffect(() => refresh(listening), [listening]);
  const playingFrom =
    usePlayer((player) => player.listening?.id) === listening.id
      ? barStart(timeline, range?.start ?? 1)
      : null;

  const make = useMake(row.id, selection, range);
  const setAside = (onlyBars: boolean) => {
    for (const { part } of selected) {
      editing.move({
        move: 'setAside',
        part: part.id,
        reason: onlyBars && range ? `bars ${range.start} to ${range.start + range.count - 1}` : 'not wanted',
        ...(onlyBars && range
          ? {
              fromTick: barStart(timeline, range.start),
              toTick: barStart(timeline, range.start + range.count),
            }
          : {}),
      });
    }
  };

  const step = (by: number, add: boolean) => {
    const at = strands.findIndex(({ part }) => part.id === selection.at(-1));
    const next = strands[Math.min(Math.max(0, at + by), strands.length - 1)];
    if (next && !(add && selectedIds.has(next.part.id))) select(next.part.id, add);
  };
  const moveRange = (by: number, resize: boolean) => {
    const now = range ?? { start: 1, count: Math.min(4, bars) };
    if (!range) return setRange(now);
    const count = resize ? Math.min(Math.max(1, now.count + by), bars - now.start + 1) : now.count;
    const start = resize ? now.start : Math.min(Math.max(1, now.start + by), bars - count + 1);
    setRange({ start, count });
  };
  const zoom = (factor: number) =>
    setWindow((now) => zoomed(now, (now.fromTick + now.toTick) / 2, factor, endTick));
  const toggleAll = (set: typeof setSoloed) => selection.forEach((id) => toggle(set, id));
  useActions('Take', [
    { title: 'Listen to the chosen bars, or stop', keys: [' '], run: () => void toggleListening(listening) },
    { title: 'Choose the part above', keys: ['ArrowUp'], run: () => step(-1, false) },
    { title: 'Choose the part below', keys: ['ArrowDown'], run: () => step(1, false) },
    { title: 'Choose the part above too', keys: ['Shift+ArrowUp'], run: () => step(-1, true) },
    { title: 'Choose the part below too', keys: ['Shift+ArrowDown'], run: () => step(1, true) },
    { title: 'Move the chosen bars back by one', keys: ['ArrowLeft'], run: () => moveRange(-1, false) },
    { title: 'Move the chosen bars on by one', keys: ['ArrowRight'], run: () => moveRange(1, false) },
    { title: 'Choose a bar less', keys: ['Shift+ArrowLeft'], run: () => moveRange(-1, true) },
    { title: 'Choose a bar more', keys: ['Shift+ArrowRight'], run: () => moveRange(1, true) },
    { title: 'Choose no bars', keys: ['Escape'], run: () => setRange(null) },
    { title: 'Make a phrase of the chosen bars', keys: ['Enter'], run: () => make.mutate() },
    { title: 'Solo the chosen parts', keys: ['s'], run: () => toggleAll(setSoloed) },
    { title: 'Mute the chosen parts', keys: ['m'], run: () => toggleAll(setMutedParts) },
    { title: 'Set the chosen parts aside', keys: ['a'], run: () => setAside(false) },
    { title: 'Set the chosen bars of the chosen parts aside', run: () => range && setAside(true) },
    {
      title: 'Merge the chosen parts',
      run: () => selection.length > 1 && editing.move({ move: 'merge', parts: selection }),
    },
    { title: 'Hear the chosen parts with the others, or alone', run: () => setWithOthers((now) => !now) },
    { title: 'Closer', keys: ['+'], run: () => zoom(CLOSER) },
    { title: 'Farther', keys: ['-'], run: () => zoom(1 / CLOSER) },
    { title: 'Show the whole take', keys: ['0'], run: () => setWindow(all) },
    {
      title: 'Tell of the take, or of the part',
      keys: ['i'],
      run: () => setSide((now) => (now === 'take' ? 'part' : 'take')),
    },
    { title: 'Take back', keys: ['Ctrl+z'], run: editing.undo },
    { title: 'Do again', keys: ['Ctrl+y'], run: editing.redo },
  ]);

  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col px-5 pt-3">
        <TakeHeading row={row} take={take} chosen={key} move={editing.move} />
        <div className="mt-2 flex items-center gap-2">
          <div className="w-47 flex-none">
            <ZoomButtons whole="the whole take" onZoom={zoom} onWhole={() => setWindow(all)} />
          </div>
          <Overview strands={strands} endTick={endTick} window={window} onWindow={setWindow} />
        </div>
        <Strands
          strands={strands}
          bars={barLines}
          endTick={endTick}
          window={window}
          onWindow={setWindow}
          selected={selectedIds}
          onSelect={select}
          range={range}
          onRange={setRange}
          soloed={soloed}
          muted={mutedParts}
          onSolo={(id) => toggle(setSoloed, id)}
          onMute={(id) => toggle(setMutedParts, id)}
          playingFrom={playingFrom}
        />
        <TallyBar split={split} />
      </div>
      <aside className="flex w-[262px] flex-none flex-col gap-3 border-l border-rule p-4">
        <SideTabs side={side} onSide={setSide} warnings={row.account?.findings.length ?? 0} />
        {side === 'take' ? (
          <TakeAbout row={row} onRange={setRange} />
        ) : (
          <PartPanel row={row} editing={editing} selected={selected} range={range} onSetAside={setAside} />
        )}
        <MakeBox
          range={range}
          onRange={setRange}
          bars={bars}
          parts={selected.length}
          withOthers={withOthers}
          onWithOthers={setWithOthers}
          onListen={() => void toggleListening(listening)}
          onMake={() => make.mutate()}
          busy={make.isPending}
        />
      </aside>
    </>
  );
}

/** Bars from the address, such as "17-18". */
function barsFrom(text: string | null, last: number): BarRange | null {
  const [from, to] = (/^(\d+)-(\d+)$/.exec(text ?? '') ?? []).slice(1).map(Number);
  if (!from || !to || to < from || from > last) return null;
  return { start: from, count: Math.min(to, last) - from + 1 };
}

/** What the side tells of: the part that is chosen, or the whole take. */
function SideTabs({
  side,
  onSide,
  warnings,
}: {
  side: 'part' | 'take';
  onSide: (side: 'part' | 'take') => void;
  warnings: number;
}) {
  const tab = (value: typeof side, title: string) => (
    <button
      type="button"
      aria-pressed={side === value}
      className="border-b-2 border-transparent pb-1 text-muted hover:text-ink aria-pressed:border-madder aria-pressed:font-bold aria-pressed:text-ink"
      onClick={() => onSide(value)}
    >
      {title}
    </button>
  );
  return (
    <div className="flex items-end gap-4 border-b border-rule">
      {tab('part', 'The part')}
      {tab('take', 'The take')}
      {warnings > 0 && (
        <button
          type="button"
          className="ml-auto flex items-center gap-1 pb-1 text-sm text-madder"
          onClick={() => onSide('take')}
          title="What looks wrong with this take"
        >
          <TriangleAlert size={13} aria-hidden="true" /> {warnings} to look at
        </button>
      )}
    </div>
  );
}

function toggle(set: (change: (now: ReadonlySet<string>) => ReadonlySet<string>) => void, id: string): void {
  set((now) => {
    const next = new Set(now);
    if (!next.delete(id)) next.add(id);
    return next;
  });
}

/** Makes the phrase or sheaf and goes on to it. */
function useMake(takeId: string, parts: string[], range: BarRange | null) {
  const navigate = useNavigate();
  const renew = useRefresh();
  const project = useCurrentProject();
  return useMutation({
    mutationFn: async () => {
      if (!range) throw new Error('Choose bars first: drag over a strand, or use the arrow keys.');
      return sendJson<{ phraseIds: string[] }>('POST', '/api/phrases', {
        takeId,
        parts,
        startBar: range.start,
        bars: range.count,
        projectId: project?.id ?? null,
      });
    },
    onError: tellProblem,
    onSuccess: async ({ phraseIds }) => {
      await renew('drafts', 'takes', 'take');
      void navigate(`/normalize/${phraseIds[0]}`);
    },
  });
}

/** Name, source, key with its runner-up, tempo and meter. */
function TakeHeading({
  row,
  take,
  chosen,
  move,
}: {
  row: TakeWire;
  take: Take;
  chosen: Key | null;
  move: SplitEditing['move'];
}) {
  const { timeline, tempos, meters } = take.timing;
  const meter = meterAt(timeline, 0);
  const certainty = (key: Key) =>
    row.keys.find((finding) => sameKey(finding, key))?.certainty.toFixed(2) ?? '';
  const other = row.keys.find((finding) => !chosen || !sameKey(finding, chosen));
  const asked = tempos.length === 0 ? ' (assumed: the file gives none)' : '';
  return (
    <div className="flex items-baseline gap-4">
      <h1 className="min-w-0 flex-1 text-xl">
        <RenameField
          label="Name of the take"
          value={row.name}
          onRename={(name) => move({ move: 'nameTake', name })}
        />
      </h1>
      <span className="text-sm text-muted">{[row.source, row.contributor].filter(Boolean).join(', ')}</span>
      <span className="flex items-baseline gap-3 text-sm whitespace-nowrap">
        {chosen && (
          <span>
            <b>{keyName(chosen)}</b>{' '}
            <span className="text-muted">{row.chosenKey ? 'by hand' : certainty(chosen)}</span>
          </span>
        )}
        {other && (
          <button
            type="button"
            className="text-muted underline decoration-rule underline-offset-3 hover:text-ink"
            title="Take this key instead"
            onClick={() => move({ move: 'chooseKey', key: { tonic: other.tonic, mode: other.mode } })}
          >
            or {keyName(other)} {other.certainty.toFixed(2)}
          </button>
        )}
        <span title={`Tempo${asked}`}>
          {Math.round(bpmOf(tempoAt(timeline, 0).microseconds) * 100) / 100} BPM{asked && '?'}
        </span>
        <span title={meters.length === 0 ? 'Assumed: the file gives no meter' : 'Meter'}>
          {meter.numerator}/{meter.denominator}
          {meters.length === 0 && '?'}
        </span>
      </span>
    </div>
  );
}
