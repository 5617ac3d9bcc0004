import { useEffect, useMemo, useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import type { PartLoop } from '../../core/analyze/part-loops.ts';
import { pickupBeats } from '../../core/analyze/edges.ts';
import { purposeOfBars } from '../../core/analyze/purposes.ts';
import type { Key } from '../../core/music/key.ts';
import { barStart, type Timeline } from '../../core/music/timeline.ts';
import type { Proposal } from '../../core/split/proposals.ts';
import { isRetimed } from '../../core/split/corrections.ts';
import { correctionsOf } from '../../core/split/moves.ts';
import { setMuted, toggleListening, usePlayer } from '../../sound/player.ts';
import { plural } from '../../core/words.ts';
import { Announced } from '../../ui/Announced.tsx';
import { Toggle } from '../../ui/Button.tsx';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { saveAddress } from '../../ui/save-file.ts';
import { type TimeWindow, middleOf, zoomed, centeredOn } from '../../ui/drawing/time-window.ts';
import { UndoButtons } from '../../ui/history/UndoButtons.tsx';
import { ZoomButtons } from '../../ui/drawing/ZoomButtons.tsx';
import type { CapturedTake } from '../api/captured.ts';
import { useCapturedTake, useTakeRow, type TakeWire } from '../api/queries.ts';
import { useAnalysis } from './analysis.ts';
import { ApartDialog } from './dialogs/ApartDialog.tsx';
import { ChartProblem } from './lines/ChartLine.tsx';
import { useTakeDoing } from './doing/doing.ts';
import { useSplitEditing } from '../shared/takes/editing.ts';
import { useHabitProposal } from './worth/habit-proposal.ts';
import { FillDialog } from './dialogs/FillDialog.tsx';
import { GiveDialog } from './dialogs/GiveDialog.tsx';
import { openLeave, type Leaves } from '../shared/leaving/leaving.ts';
import { useTakeListening } from './listening.ts';
import { loopsBeside } from './strands/LoopMarks.tsx';
import { LoopList } from './panel/LoopList.tsx';
import { useMake } from '../shared/takes/make.ts';
import { MakeBox } from './panel/MakeBox.tsx';
import { useMusicDoing } from './doing/music-doing.ts';
import { Overview } from './strands/Overview.tsx';
import type { PartDoing } from './strands/PartMenu.tsx';
import { PartPanel } from './panel/PartPanel.tsx';
import { PitchMapDialog } from './dialogs/PitchMapDialog.tsx';
import { useSelection, type Choosing } from './selection.ts';
import { SideTabs } from './panel/SideTabs.tsx';
import { SoundDialog } from './dialogs/SoundDialog.tsx';
import {
  barLinesWithBeats,
  barsFrom,
  strandsOf,
  takeBars,
  type Strand,
} from '../shared/takes/strand-columns.ts';
import { Strands } from './strands/Strands.tsx';
import { TakeAbout } from './panel/TakeAbout.tsx';
import { promptWithBars } from '../shared/prompt.ts';
import { useTakeActions, type TakeDialog } from './doing/take-actions.ts';
import { useTakeLines } from './lines/take-lines.tsx';
import { TakeHeading } from './TakeHeading.tsx';
import { TallyBar } from './strands/TallyBar.tsx';
import { useWorthALook } from './worth/worth.ts';
import { CameBack } from './worth/CameBack.tsx';
import { WorthALook } from './worth/WorthALook.tsx';

/** A take: its strands over shared bars, and what can be done to them. */
export default function TakeView() {
  const { id = '' } = useParams();
  const row = useTakeRow(id);
  const captured = useCapturedTake(row.data);
  const problem = row.error ?? captured.error;
  if (problem) return <EmptyState title="This take could not be opened">{problem.message}</EmptyState>;
  if (!row.data || !captured.data) return <Busy what="Reading the take" />;
  return <OpenTake key={id} row={row.data} captured={captured.data} />;
}

const NO_PROPOSALS: readonly Proposal[] = [];
const NO_LOOPS: readonly PartLoop[] = [];

function OpenTake({ row, captured }: { row: TakeWire; captured: CapturedTake }) {
  const editing = useSplitEditing(row, captured);
  const { take, split } = editing;
  const { timeline } = take.timing;
  const bars = takeBars(take);
  const barLines = useMemo(() => barLinesWithBeats(timeline, bars), [timeline, bars]);
  const endTick = Math.max(barStart(timeline, bars + 1), take.timing.ticks);
  const strands = useMemo(() => strandsOf(take, split), [take, split]);

  const all = { fromTick: 0, toTick: endTick };
  const readable = useMemo(() => readableWindow(timeline, bars, endTick), [timeline, bars, endTick]);
  const [window, setWindow] = useState<TimeWindow>(readable);
  // On other bars the take is longer or shorter: it is shown from its beginning again.
  useEffect(() => setWindow(readable), [readable]);
  const [params] = useSearchParams();
  const selection = useSelection(strands, bars, barsFrom(params.get('bars'), bars));
  const { selected, range, notes } = selection;
  const [side, setSide] = useState<'part' | 'take'>(row.capture?.stars.length ? 'take' : 'part');
  const [soloed, setSoloed] = useState<ReadonlySet<string>>(new Set());
  const [mutedParts, setMutedParts] = useState<ReadonlySet<string>>(new Set());
  const [opened, setOpened] = useState<ReadonlySet<string>>(new Set());
  const [names, setNames] = useState(false);
  const [dialog, setDialog] = useState<TakeDialog>(null);
  const [isEdited, setEditing] = useState(false);
  const { data: found, isBusy, problem: notAnalyzed } = useAnalysis(row);
  const analysis = found?.analysis;
  const usual = useHabitProposal(row, split.refused);
  const worth = useWorthALook(row, editing, selection, usual, analysis?.proposals ?? NO_PROPOSALS);
  useSilence(strands, soloed, mutedParts);
  useInSight(
    selection.lastNote === undefined ? undefined : take.notes.tick[selection.lastNote],
    endTick,
    setWindow,
  );

  const key: Key | null = row.chosenKey ?? row.keys[0] ?? null;
  const hearing = useTakeListening({ row, take, split, strands, selection, bars, key });
  const { listening } = hearing;
  const playingFrom =
    usePlayer((player) => player.listening?.id) === listening.id
      ? barStart(timeline, range?.start ?? 1)
      : null;

  const navigate = useNavigate();
  const make = useMake(row.id, () => {
    if (!range) throw new Error('Choose bars first: drag over a strand, or use the arrow keys.');
    return { parts: selection.partIds, bars: range, tags: analysis ? [purposeOfBars(analysis, range)] : [] };
  });
  const doing = useTakeDoing({ take, split, editing, selection });
  const music = useMusicDoing({ row, take, split, strands, selection, key, analysis });
  const marked = useMemo(
    () => new Map(strands.map(({ part }) => [part.id, loopsBeside(analysis?.loops ?? NO_LOOPS, part.id)])),
    [strands, analysis],
  );
  const bestLoops = useMemo(() => [...marked.values()].flatMap((loops) => loops.slice(0, 1)), [marked]);
  const loopsOfPart = analysis?.loops.filter(({ part }) => part === selection.partIds[0]) ?? [];
  const retimed = isRetimed(correctionsOf(row.moves.slice(0, row.movesDone)));
  const pickup = analysis?.pickupInto
    ? { into: analysis.pickupInto, beats: pickupBeats(take, analysis) }
    : null;
  const lines = useTakeLines({ row, take, analysis, isBusy, key, editing, selection, music, window });
  const onDo = (what: PartDoing, part: string) => {
    if (what !== 'give' && what !== 'merge' && what !== 'lock') selection.setParts([part]);
    if (what === 'aside') doing.setAside([part]);
    else if (what === 'merge') doing.merge(part);
    else if (what === 'lock') doing.lockNotes();
    else if (what === 'open') toggle(setOpened, part);
    else if (what === 'export') saveAddress(`/api/takes/${row.id}/parts/${part}`);
    else if (what === 'give') doing.give(part);
    else setDialog(what);
  };
  const zoom = (factor: number) => setWindow((now) => zoomed(now, middleOf(now), factor, endTick));
  const toggleAll = (set: typeof setSoloed) => selection.partIds.forEach((id) => toggle(set, id));
  useTakeActions({
    selection,
    doing,
    worth,
    hearing,
    music,
    bestLoop: loopsOfPart[0],
    onListen: () => void toggleListening(listening),
    onMake: () => make.mutate(),
    onToggle: (what) => toggleAll(what === 'solo' ? setSoloed : what === 'mute' ? setMutedParts : setOpened),
    onDialog: setDialog,
    onNames: () => setNames((now) => !now),
    onZoom: zoom,
    onWhole: () => setWindow(all),
    onSide: () => setSide((now) => (now === 'take' ? 'part' : 'take')),
    onChordLine: lines.focusChords,
    onExport: (what) => saveAddress(`/api/takes/${row.id}/${what}`),
    onLeave: () => openLeave(leavesOf(row.id, selection)),
    onPlayInto: () => {
      const { lanes, subtitle } = hearing.listening;
      promptWithBars(lanes, { id: row.id, name: `${row.name}, ${subtitle}`, bars: range?.count ?? bars });
      void navigate('/capture/live');
    },
    onEdit: () => {
      setSide('take');
      setEditing(true);
    },
  });
  const [one] = selected;

  return (
    <>
      <div className="notes-column flex min-w-0 flex-1 flex-col px-5 pt-3">
        <TakeHeading
          row={row}
          take={take}
          chosen={key}
          move={editing.move}
          spans={analysis?.keySpans ?? []}
          pickup={pickup}
          retimed={retimed}
          startBar={range?.start ?? null}
        />
        <div className="mt-2 flex items-center gap-2">
          <div className="flex w-47 flex-none items-center gap-1">
            <ZoomButtons whole="the whole take" onZoom={zoom} onWhole={() => setWindow(all)} />
            <Toggle on={names} onClick={() => setNames(!names)} title="Write the names of notes (W)">
              names
            </Toggle>
          </div>
          <Overview strands={strands} endTick={endTick} window={window} onWindow={setWindow} />
          <ChoosingSwitch choosing={selection.choosing} onChoosing={selection.setChoosing} />
        </div>
        <WorthALook {...worth} />
        <CameBack takeId={row.id} parts={split.parts} />
        {notAnalyzed && (
          <p role="alert" className="mt-2 text-sm text-madder">
            The music could not be looked into: {notAnalyzed.message}
          </p>
        )}
        {found?.chartProblem && <ChartProblem problem={found.chartProblem} onMeant={lines.mendChart} />}
        <Strands
          takeId={row.id}
          strands={strands}
          bars={barLines}
          endTick={endTick}
          window={window}
          onWindow={setWindow}
          selection={selection}
          soloed={soloed}
          muted={mutedParts}
          onSolo={(id) => toggle(setSoloed, id)}
          onMute={(id) => toggle(setMutedParts, id)}
          opened={opened}
          names={names}
          onMerge={(onto, part) => editing.move({ move: 'merge', parts: [onto, part] })}
          onGive={doing.give}
          onDo={onDo}
          playingFrom={playingFrom}
          timeline={timeline}
          above={lines.above}
          below={lines.below}
          loopsOf={(part) => marked.get(part) ?? NO_LOOPS}
          onLoop={music.choose}
        />
        <TallyBar split={split} />
        <Announced words={chosenWords(selection)} />
      </div>
      <aside className="flex w-[262px] flex-none flex-col gap-3 overflow-y-auto border-l border-rule p-4 pb-0">
        <SideTabs side={side} onSide={setSide} warnings={row.account?.findings.length ?? 0} />
        <UndoButtons history={editing} />
        {side === 'take' ? (
          <TakeAbout row={row} onRange={selection.setRange} editing={isEdited} onEditing={setEditing} />
        ) : (
          <PartPanel
            row={row}
            editing={editing}
            selection={selection}
            doing={doing}
            onDialog={setDialog}
            feel={analysis?.parts.find(({ part }) => part === selection.partIds[0])}
            loops={
              selected.length === 1 &&
              analysis && (
                <LoopList
                  loops={loopsOfPart}
                  best={bestLoops}
                  chosen={range}
                  doing={music}
                  strand={selected[0]!}
                  timeline={timeline}
                />
              )
            }
          />
        )}
        <MakeBox
          range={range}
          onRange={selection.setRange}
          bars={bars}
          parts={selected.length}
          withOthers={hearing.withOthers}
          onWithOthers={hearing.setWithOthers}
          sound={hearing.sound}
          onSound={hearing.setSound}
          onListen={() => void toggleListening(listening)}
          onMake={() => make.mutate()}
          busy={make.isPending}
        />
      </aside>
      {dialog === 'give' && (
        <GiveDialog
          notes={notes.size}
          others={strands}
          onClose={() => setDialog(null)}
          onGive={doing.give}
          onOwn={doing.giveOwn}
        />
      )}
      {one && dialog === 'apart' && (
        <ApartDialog
          take={take}
          split={split}
          strand={one}
          onClose={() => setDialog(null)}
          onMove={editing.move}
        />
      )}
      {one && dialog === 'sound' && (
        <SoundDialog part={one.part} onClose={() => setDialog(null)} onMove={editing.move} />
      )}
      {dialog === 'fill' && (
        <FillDialog
          takeId={row.id}
          take={take}
          asked={row.asked.bars ?? null}
          onClose={() => setDialog(null)}
        />
      )}
      {one && dialog === 'pitchMap' && (
        <PitchMapDialog take={take} strand={one} onClose={() => setDialog(null)} onMove={editing.move} />
      )}
    </>
  );
}

/** What is chosen, in words: "Bass, bars 5 to 8, 3 notes". */
function chosenWords({ selected, range, notes }: ReturnType<typeof useSelection>): string {
  const parts = selected.map(({ part }) => part.name);
  return [
    parts.length > 3 ? plural(parts.length, 'part') : parts.join(' and '),
    range &&
      (range.count === 1 ? `bar ${range.start}` : `bars ${range.start} to ${range.start + range.count - 1}`),
    notes.size > 0 && plural(notes.size, 'note'),
    'chosen',
  ]
    .filter(Boolean)
    .join(', ');
}

/** What is beside the strands, in pixels. */
const BESIDE = 500;

/** A bar at least so wide can be read, and its chord. */
const READABLE_BAR = 48;

/** The beginning of a take as far as its bars can be read; all of it where they can. The ribbon shows the whole. */
function readableWindow(timeline: Timeline, bars: number, endTick: number): TimeWindow {
  const room = Math.max(4, Math.floor((globalThis.innerWidth - BESIDE) / READABLE_BAR));
  const toTick = bars <= room * 1.15 ? endTick : Math.min(endTick, barStart(timeline, room + 1));
  return { fromTick: 0, toTick };
}

/** Moves the window to a tick that lies outside it: what is chosen is seen. */
function useInSight(
  tick: number | undefined,
  endTick: number,
  setWindow: (change: (now: TimeWindow) => TimeWindow) => void,
): void {
  useEffect(() => {
    if (tick === undefined) return;
    setWindow((now) => {
      if (tick >= now.fromTick && tick <= now.toTick) return now;
      return centeredOn(now, tick, endTick);
    });
  }, [tick, endTick, setWindow]);
}

/** What solo and mute leave unheard. */
function useSilence(
  strands: readonly Strand[],
  soloed: ReadonlySet<string>,
  muted: ReadonlySet<string>,
): void {
  useEffect(() => {
    const silent = strands
      .map(({ part }) => part.id)
      .filter((id) => muted.has(id) || (soloed.size > 0 && !soloed.has(id)));
    setMuted(new Set(silent));
    return () => setMuted(new Set());
  }, [strands, soloed, muted]);
}

/** Whether dragging over a strand chooses bars or notes. */
function ChoosingSwitch({
  choosing,
  onChoosing,
}: {
  choosing: Choosing;
  onChoosing: (choosing: Choosing) => void;
}) {
  return (
    <div role="group" aria-label="Dragging chooses" className="flex flex-none items-center gap-1">
      {(['bars', 'notes'] as const).map((what) => (
        <Toggle
          key={what}
          on={choosing === what}
          title={`Dragging over a strand chooses ${what} (N)`}
          onClick={() => onChoosing(what)}
        >
          {what}
        </Toggle>
      ))}
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

/** What is chosen of a take, on its way out: one part alone is always chosen, and means nothing without bars. */
function leavesOf(id: string, { selected, range }: ReturnType<typeof useSelection>): Leaves {
  return {
    ...{ kind: 'take', id },
    ...(selected.length > 1 || (range && selected.length > 0)
      ? { parts: selected.map(({ part }) => part.id) }
      : {}),
    ...(range ? { bars: { from: range.start, to: range.start + range.count - 1 } } : {}),
  };
}
