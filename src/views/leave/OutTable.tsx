import { useMemo } from 'react';
import { keyName } from '../../core/music/key.ts';
import { plural } from '../../core/words.ts';
import type { LeavingPlan } from '../../server/library/handoff/leaving.ts';
import { ProgramOptions } from '../../ui/fields/ProgramOptions.tsx';
import type { Column } from '../../ui/table/columns.ts';
import { DataTable } from '../../ui/table/DataTable.tsx';
import type { Wire } from '../api/queries.ts';

type File = Wire<LeavingPlan>['files'][number] & { id: string };

/** What will be written, a row a file, before anything is; what is otherwise for the recipient stands beside it. */
export function OutTable({
  plan: { files, recipientId, out },
  onProgram,
}: {
  plan: Wire<LeavingPlan>;
  /** Another sound for a part, by its name; it is kept in mind for this person and project. */
  onProgram: (part: string, program: number) => void;
}) {
  const isForSomebody = recipientId !== null && out.fitting === 'card';
  const rows = useMemo(() => files.map((file) => ({ ...file, id: file.path })), [files]);
  const columns = useMemo(() => columnsOf(isForSomebody, onProgram), [isForSomebody, onProgram]);
  if (files.length === 0) return <p className="text-muted">Nothing is chosen that has notes.</p>;
  return (
    <div className="flex max-h-[46vh] min-h-0 flex-col text-sm">
      <p className="label mb-1">{plural(files.length, 'file')}</p>
      <DataTable
        name="out"
        label="What will be written"
        rows={rows}
        columns={columns}
        rowHeight={32}
        isOnCard
      />
    </div>
  );
}

function columnsOf(
  isForSomebody: boolean,
  onProgram: (part: string, program: number) => void,
): Column<File>[] {
  return [
    {
      ...{ id: 'file', title: 'File', className: 'max-w-64 min-w-40 truncate px-2 font-bold' },
      value: ({ path }) => path,
      cell: ({ path }) => <span title={path}>{path}</span>,
    },
    {
      ...{ id: 'key', title: 'Key', className: 'px-2 whitespace-nowrap' },
      value: ({ key }) => key && keyName(key),
      cell: ({ key }) => (key ? keyName(key) : ''),
    },
    { ...{ id: 'bpm', title: 'BPM', isFigure: true }, value: ({ bpm }) => bpm, cell: ({ bpm }) => bpm },
    {
      ...{ id: 'bars', title: 'Bars', isFigure: true, mostFirst: true },
      value: ({ bars }) => bars,
      cell: ({ bars }) => bars,
    },
    {
      ...{ id: 'notes', title: 'Notes', isFigure: true, mostFirst: true },
      value: ({ notes }) => notes,
      cell: ({ notes }) => notes.toLocaleString('en'),
    },
    {
      ...{ id: 'sound', title: 'Sound' },
      cell: ({ name, program }) =>
        program !== null && (
          <select
            className="field h-6 w-36 py-0 text-sm"
            aria-label={`Sound of ${name}`}
            value={program}
            onChange={({ target }) => onProgram(name, Number(target.value))}
          >
            <ProgramOptions />
          </select>
        ),
    },
    ...(isForSomebody ? [FOR_THEM] : []),
  ];
}

const FOR_THEM: Column<File> = {
  ...{ id: 'changes', title: 'For them', className: 'max-w-72 min-w-40 truncate px-2' },
  cell: ({ changes }) => <span title={changes.join(', ')}>{changes.join(', ')}</span>,
};
