import { useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { plural } from '../../../core/words.ts';
import { stop, toggleListening, usePlayer } from '../../../sound/player.ts';
import { Button } from '../../../ui/Button.tsx';
import { Dialog } from '../../../ui/Dialog.tsx';
import { RoleMark } from '../../../ui/drawing/RoleMark.tsx';
import type { Column } from '../../../ui/table/columns.ts';
import { DataTable } from '../../../ui/table/DataTable.tsx';
import { clockTime } from '../../../ui/time.ts';
import { tellProblem } from '../../api/queries.ts';
import { useChoosing } from '../../shared/choosing.ts';
import type { NamedFile } from '../named-files.ts';
import type { FoundFile } from './look.worker.ts';
import { useLooking, type HereAlready } from './looking.ts';

/** Files and what archives hold, heard before any of it is taken in: what is ticked is taken, the rest never was here. */
export function BeforeDialog({
  files,
  onClose,
  onTake,
}: {
  files: readonly NamedFile[];
  onClose: () => void;
  onTake: (files: NamedFile[]) => void;
}) {
  const close = () => {
    if (usePlayer.getState().listening?.id.startsWith('before ')) stop();
    onClose();
  };
  return (
    <Dialog
      open
      isWide
      onOpenChange={(open) => !open && close()}
      title="Listen before it is taken in"
      description="Up and Down go through them, Space listens (under what is pinned, from the next bar), X ticks. What is not ticked is not taken in."
    >
      <Before files={files} onClose={close} onTake={onTake} />
    </Dialog>
  );
}

const isTakeable = ({ held }: FoundFile) => typeof held !== 'string';

function Before({ files, onClose, onTake }: Parameters<typeof BeforeDialog>[0]) {
  const { found, here: known, state, looking } = useLooking(files);
  const { chosen, choose, chooseThese } = useChoosing(found);
  const [current, setCurrent] = useState<string>();
  const shown = useRef<readonly FoundFile[]>([]);
  const takeable = useMemo(() => found.filter(isTakeable), [found]);
  // What is here already can be ticked, and is not with all: it would be found to be known.
  const fresh = useMemo(() => takeable.filter(({ sha256 }) => !known.has(sha256 ?? '')), [takeable, known]);
  const isPlaying = usePlayer((player) => player.state === 'playing' || player.state === 'loading');
  const hear = (file: FoundFile | undefined) => {
    if (file && isTakeable(file)) void looking?.hear(file).then(toggleListening).catch(tellProblem);
  };
  const step = (by: number) => {
    const rows = shown.current;
    const at = rows.findIndex(({ id }) => id === current) + by;
    const next = rows[Math.min(rows.length - 1, Math.max(0, at))];
    if (!next) return;
    setCurrent(next.id);
    if (isPlaying) hear(next);
  };
  const here = found.find(({ id }) => id === current);
  const keys: Record<string, () => void> = {
    ArrowDown: () => step(1),
    ArrowUp: () => step(-1),
    ' ': () => hear(here),
    x: () => here && isTakeable(here) && choose(here.id),
  };
  const onKeyDown = (event: KeyboardEvent) => {
    // A button or a box that has the focus takes Space itself.
    const isOwn =
      event.key === ' ' && event.target instanceof HTMLElement && event.target.closest('button, input');
    const act = keys[event.key];
    if (!act || isOwn || event.ctrlKey || event.altKey) return;
    event.preventDefault();
    act();
  };
  const take = async () => {
    if (!looking) return;
    onTake(await looking.filesOf(takeable.flatMap(({ id }) => (chosen.has(id) ? [id] : []))));
    onClose();
  };
  const all = fresh.length > 0 && fresh.every(({ id }) => chosen.has(id));
  const columns = useMemo(
    () =>
      columnsOf({
        chosen,
        all,
        choose,
        chooseAll: () => chooseThese(all ? [] : fresh.map(({ id }) => id)),
        hear,
        known,
      }),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what is done with a row follows from what is listed
    [chosen, all, fresh, known, looking],
  );
  return (
    <div onKeyDown={onKeyDown}>
      <div
        tabIndex={0}
        role="group"
        aria-label="Files"
        autoFocus
        className="flex h-[52vh] flex-col outline-offset-2"
      >
        <DataTable
          name="before"
          label="What is in the files"
          isOnCard
          rows={found}
          shown={shown}
          columns={columns}
          rowHeight={36}
          current={current}
          rowProps={({ id }) => ({
            className: `quiet-row cursor-pointer border-l-3 ${id === current ? 'border-l-madder bg-select' : 'border-l-transparent hover:bg-sunk'}`,
            'aria-current': id === current,
            onClick: () => setCurrent(id),
            onDoubleClick: () => hear(found.find((one) => one.id === id)),
          })}
        />
      </div>
      <div className="mt-3 flex items-center gap-2">
        <span role="status" className="text-sm text-muted">
          {state instanceof Error
            ? state.message
            : [
                `${plural(found.length, 'file')} ${state === 'looking' ? 'so far' : 'in all'}`,
                `${takeable.length} can be taken in`,
                ...(fresh.length < takeable.length
                  ? [`${takeable.length - fresh.length} of them here already`]
                  : []),
              ].join(', ')}
        </span>
        {state === 'looking' && (
          <Button small onClick={() => looking?.stop()}>
            Stop
          </Button>
        )}
        <span className="ml-auto flex gap-2">
          <Button onClick={onClose}>Take in none</Button>
          <Button kind="primary" disabled={chosen.size === 0} onClick={() => void take().catch(tellProblem)}>
            Take in {plural(chosen.size, 'file')}
          </Button>
        </span>
      </div>
    </div>
  );
}

function columnsOf({
  chosen,
  all,
  choose,
  chooseAll,
  hear,
  known,
}: {
  chosen: ReadonlySet<string>;
  all: boolean;
  choose: (id: string) => void;
  chooseAll: () => void;
  hear: (file: FoundFile) => void;
  known: HereAlready;
}): Column<FoundFile>[] {
  const of = <Value,>(read: (held: Exclude<FoundFile['held'], string>) => Value) => {
    return ({ held }: FoundFile) => (typeof held === 'string' ? null : read(held));
  };
  return [
    {
      ...{ id: 'choose', title: 'Choose', className: 'w-8 pl-2' },
      head: (
        <input type="checkbox" aria-label="All that is not here yet" checked={all} onChange={chooseAll} />
      ),
      cell: ({ id, name, held }) => (
        <input
          type="checkbox"
          aria-label={`Take in ${name}`}
          checked={chosen.has(id)}
          disabled={typeof held === 'string'}
          onChange={() => choose(id)}
        />
      ),
    },
    {
      ...{ id: 'file', title: 'File', className: 'w-full max-w-0 min-w-48 px-2' },
      value: ({ name }) => name,
      cell: ({ name, held, sha256 }) => {
        const take = known.get(sha256 ?? '');
        const [last, ...folders] = name.split('/').reverse();
        return (
          <span className="flex min-w-0 items-baseline gap-2">
            <b className="truncate" title={name}>
              {last}
            </b>
            <span className={`truncate text-xs ${typeof held === 'string' ? 'text-madder' : 'text-muted'}`}>
              {typeof held === 'string' ? held : folders.reverse().join('/')}
            </span>
            {take && (
              <span
                className="ml-auto shrink-0 text-xs text-muted"
                title={`It was taken in as "${take.name}"`}
              >
                {take.aside ? 'here, set aside' : 'here already'}
              </span>
            )}
          </span>
        );
      },
    },
    {
      ...{ id: 'parts', title: 'Parts', mostFirst: true },
      value: of(({ parts }) => parts.length),
      cell: of(({ parts }) => (
        <span className="flex gap-1" title={parts.map(({ name, role }) => `${name} (${role})`).join(', ')}>
          {parts.slice(0, 6).map(({ role }, i) => (
            <RoleMark key={i} role={role} bare />
          ))}
          <span className="text-muted">{parts.length}</span>
        </span>
      )),
    },
    {
      ...{ id: 'notes', title: 'Notes', isFigure: true, mostFirst: true },
      value: of(({ notes }) => notes),
      cell: of(({ notes }) => notes.toLocaleString('en')),
    },
    {
      ...{ id: 'length', title: 'Length', isFigure: true, mostFirst: true },
      value: of(({ seconds }) => seconds),
      cell: of(({ seconds }) => clockTime(seconds)),
    },
    {
      ...{ id: 'bpm', title: 'BPM', isFigure: true },
      value: of(({ bpm }) => bpm),
      cell: of(({ bpm }) => (bpm === null ? '120?' : Math.round(bpm * 10) / 10)),
    },
    {
      ...{ id: 'hear', title: 'Listen', className: 'px-2 text-right' },
      cell: (file) =>
        isTakeable(file) && (
          <Button small aria-label={`Listen to ${file.name}`} onClick={() => hear(file)}>
            Listen
          </Button>
        ),
    },
  ];
}
