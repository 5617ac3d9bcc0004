import { TriangleAlert } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { useParams, useSearchParams } from 'react-router';
import type { Take } from '../../core/capture/take.ts';
import { keyName, sameKey, type Key } from '../../core/music/key.ts';
import { barStart, bpmOf, meterAt, tempoAt } from '../../core/music/timeline.ts';
import { UNPITCHED } from '../../core/split/roles.ts';
import { setMuted, toggleListening, usePlayer } from '../../sound/player.ts';
import { useActions } from '../../ui/actions.ts';
import { Toggle } from '../../ui/Button.tsx';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { RenameField } from '../../ui/RenameField.tsx';
import { saveAddress } from '../../ui/save-file.ts';
import { panned, zoomed, type TimeWindow } from '../../ui/strand.ts';
import { UndoButtons } from '../../ui/UndoButtons.tsx';
import { CLOSER, ZoomButtons } from '../../ui/ZoomButtons.tsx';
import { useTakeNotes, useTakeRow, type TakeWire } from '../api/queries.ts';
import { ApartDialog } from './ApartDialog.tsx';
import { useTakeDoing } from './doing.ts';
import { useSplitEditing, type SplitEditing } from './editing.ts';
import { GiveDialog } from './GiveDialog.tsx';
import { useTakeListening } from './listening.ts';
import { useMake } from './make.ts';
import { MakeBox } from './MakeBox.tsx';
import { Overview } from './Overview.tsx';
import type { PartDoing } from './PartMenu.tsx';
import { PartPanel } from './PartPanel.tsx';
import { PitchMapDialog } from './PitchMapDialog.tsx';
import { useSelection, type Choosing } from './selection.ts';
import { SoundDialog } from './SoundDialog.tsx';
import { barLinesWithBeats, barsFrom, strandsOf, takeBars, type Strand } from './strand-columns.ts';
import { Strands } from './Strands.tsx';
import { TakeAbout } from './TakeAbout.tsx';
import { TallyBar } from './TallyBar.tsx';
import { useWorthALook } from './worth.ts';
import { WorthALook } from './WorthALook.tsx';

/** A take: its strands over shared bars, and what can be done to them. */
export default function TakeView() {
  const { id = '' } = useParams();
  const row = useTakeRow(id);
  const notes = useTakeNotes(row.data);
  const problem = row.error ?? notes.error;
  if (problem) return <EmptyState title="This take could not be opened">{problem.message}</EmptyState>;
  if (!row.data || !notes.data) return <Busy what="Reading the take" />;
  return <OpenTake key={id} row={row.data} original={notes.data} />;
}

function OpenTake({ row, original }: { row: TakeWire; original: Take }) {
  const editing = useSplitEditing(row, original);
  const { take, split } = editing;
  const { timeline } = take.timing;
  const bars = takeBars(take);
  const barLines = useMemo(() => barLinesWithBeats(timeline, bars), [timeline, bars]);
  const endTick = Math.max(barStart(timeline, bars + 1), take.timing.ticks);
  const strands = useMemo(() => strandsOf(take, split), [take, split]);

  const all = { fromTick: 0, toTick: endTick };
  const [window, setWindow] = useState<TimeWindow>(all);
  const [params] = useSearchParams();
  const selection = useSelection(strands, bars, barsFrom(params.get('bars'), bars));
  const { selected, range, notes } = selection;
  const [side, setSide] = useState<'part' | 'take'>(row.capture?.stars.length ? 'take' : 'part');
  const [soloed, setSoloed] = useState<ReadonlySet<string>>(new Set());
  const [mutedParts, setMutedParts] = useState<ReadonlySet<string>>(new Set());
  const [opened, setOpened] = useState<ReadonlySet<string>>(new Set());
  const [names, setNames] = useState(false);
  const [dialog, setDialog] = useState<'apart' | 'give' | 'sound' | 'pitchMap' | null>(null);
  const worth = useWorthALook(take, split, selection, editing);
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

  const make = useMake(row.id, () => {
    if (!range) throw new Error('Choose bars first: drag over a strand, or use the arrow keys.');
    return { parts: selection.partIds, bars: range };
  });
  const doing = useTakeDoing({ take, split, editing, selection });
  const isNotes = selection.choosing === 'notes';
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
  const zoom = (factor: number) =>
    setWindow((now) => zoomed(now, (now.fromTick + now.toTick) / 2, factor, endTick));
  const toggleAll = (set: typeof setSoloed) => selection.partIds.forEach((id) => toggle(set, id));
  useActions('Take', [
    { title: 'Listen to the chosen bars, or stop', keys: [' '], run: () => void toggleListening(listening) },
    { title: 'Choose the part above', keys: ['ArrowUp'], run: () => selection.step(-1, false) },
    { title: 'Choose the part below', keys: ['ArrowDown'], run: () => selection.step(1, false) },
    { title: 'Choose the part above too', keys: ['Shift+ArrowUp'], run: () => selection.step(-1, true) },
    { title: 'Choose the part below too', keys: ['Shift+ArrowDown'], run: () => selection.step(1, true) },
    ...(isNotes
      ? [
          { title: 'Choose the note before', keys: ['ArrowLeft'], run: () => selection.stepNote(-1, false) },
          { title: 'Choose the next note', keys: ['ArrowRight'], run: () => selection.stepNote(1, false) },
          {
            title: 'Choose the note before too',
            keys: ['Shift+ArrowLeft'],
            run: () => selection.stepNote(-1, true),
          },
          {
            title: 'Choose the next note too',
            keys: ['Shift+ArrowRight'],
            run: () => selection.stepNote(1, true),
          },
          { title: 'Choose no notes', keys: ['Escape'], run: () => selection.setNotes([]) },
        ]
      : [
          {
            title: 'Move the chosen bars back by one',
            keys: ['ArrowLeft'],
            run: () => selection.moveRange(-1, false),
          },
          {
            title: 'Move the chosen bars on by one',
            keys: ['ArrowRight'],
            run: () => selection.moveRange(1, false),
          },
          { title: 'Choose a bar less', keys: ['Shift+ArrowLeft'], run: () => selection.moveRange(-1, true) },
          { title: 'Choose a bar more', keys: ['Shift+ArrowRight'], run: () => selection.moveRange(1, true) },
          { title: 'Choose no bars', keys: ['Escape'], run: () => selection.setRange(null) },
        ]),
    {
      title: 'Choose notes, or bars',
      keys: ['n'],
      run: () => selection.setChoosing(isNotes ? 'bars' : 'notes'),
    },
    { title: 'Choose the notes of the chosen bars', keys: ['Ctrl+a'], run: doing.chooseAllNotes },
    { title: 'Make a phrase of the chosen bars', keys: ['Enter'], run: () => make.mutate() },
    { title: 'Solo the chosen parts', keys: ['s'], run: () => toggleAll(setSoloed) },
    { title: 'Mute the chosen parts', keys: ['m'], run: () => toggleAll(setMutedParts) },
    {
      title: 'Set the chosen notes aside, or the chosen parts',
      keys: ['a'],
      run: () => (notes.size > 0 ? doing.setNotesAside() : doing.setAside(selection.partIds)),
    },
    {
      title: 'Set the chosen bars of the chosen parts aside',
      keys: ['b'],
      run: () => range && doing.setBarsAside(range),
    },
    { title: 'Merge the chosen parts into the first', keys: ['j'], run: () => doing.merge() },
    { title: 'Take the part apart', keys: ['d'], run: () => selected.length === 1 && setDialog('apart') },
    { title: 'Give the chosen notes to a part', keys: ['g'], run: () => notes.size > 0 && setDialog('give') },
    { title: 'Lock or unlock the chosen notes', keys: ['l'], run: doing.lockNotes },
    { title: 'Channel and sound of the part', run: () => selected.length === 1 && setDialog('sound') },
    {
      title: 'Drum map of the part',
      run: () => selected.length === 1 && UNPITCHED.has(selected[0]!.part.role) && setDialog('pitchMap'),
    },
    { title: 'Look at the next proposal', keys: ['p'], run: worth.next },
    { title: 'Accept the proposal', keys: ['y'], run: worth.acceptCurrent },
    { title: 'Refuse the proposal', keys: ['x'], run: worth.refuseCurrent },
    { title: 'Accept all that mends the take', keys: ['Y'], run: worth.onAcceptAll },
    {
      title: 'Hear the chosen parts with the others under them, or alone',
      keys: ['u'],
      run: () => hearing.setWithOthers(!hearing.withOthers),
    },
    { title: 'Draw the chosen parts taller, or lower', keys: ['t'], run: () => toggleAll(setOpened) },
    { title: 'Write the names of notes, or not', keys: ['w'], run: () => setNames((now) => !now) },
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
  const [one] = selected;

  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col px-5 pt-3">
        <TakeHeading row={row} take={take} chosen={key} move={editing.move} />
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
        <Strands
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
        />
        <TallyBar split={split} />
      </div>
      <aside className="flex w-[262px] flex-none flex-col gap-3 border-l border-rule p-4">
        <SideTabs side={side} onSide={setSide} warnings={row.account?.findings.length ?? 0} />
        <UndoButtons history={editing} />
        {side === 'take' ? (
          <TakeAbout row={row} onRange={selection.setRange} />
        ) : (
          <PartPanel row={row} editing={editing} selection={selection} doing={doing} onDialog={setDialog} />
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
      {one && dialog === 'pitchMap' && (
        <PitchMapDialog take={take} strand={one} onClose={() => setDialog(null)} onMove={editing.move} />
      )}
    </>
  );
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
      const middle = (now.fromTick + now.toTick) / 2;
      return panned(now, tick - middle, endTick);
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
