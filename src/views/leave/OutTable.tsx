import { keyName } from '../../core/music/key.ts';
import { plural } from '../../core/words.ts';
import type { LeavingPlan } from '../../server/library/leaving.ts';
import { ProgramOptions } from '../../ui/ProgramOptions.tsx';
import type { Wire } from '../api/queries.ts';

/** What will be written, a row a file, before anything is; what is otherwise for the recipient stands beside it. */
export function OutTable({
  plan,
  onProgram,
}: {
  plan: Wire<LeavingPlan>;
  /** Another sound for a part, by its name; it is kept in mind for this person and project. */
  onProgram: (part: string, program: number) => void;
}) {
  const { files } = plan;
  const isForSomebody = plan.recipientId !== null && plan.out.fitting === 'card';
  if (files.length === 0) return <p className="text-muted">Nothing is chosen that has notes.</p>;
  return (
    <div className="max-h-[46vh] overflow-auto">
      <table className="w-full text-sm">
        <caption className="label mb-1 text-left">{plural(files.length, 'file')}</caption>
        <thead className="sticky top-0 bg-card text-left text-muted">
          <tr className="border-b border-rule [&>th]:py-1 [&>th]:pr-3 [&>th]:font-normal">
            <th>File</th>
            <th>Key</th>
            <th className="text-right">BPM</th>
            <th className="text-right">Bars</th>
            <th className="text-right">Notes</th>
            <th>Sound</th>
            {isForSomebody && <th>For them</th>}
          </tr>
        </thead>
        <tbody>
          {files.map(({ path, name, key, bpm, bars, notes, program, changes }) => (
            <tr key={path} className="border-b border-rule/60 align-top [&>td]:py-1 [&>td]:pr-3">
              <td className="max-w-64 truncate font-bold" title={path}>
                {path}
              </td>
              <td className="whitespace-nowrap">{key ? keyName(key) : ''}</td>
              <td className="text-right tabular-nums">{bpm}</td>
              <td className="text-right tabular-nums">{bars}</td>
              <td className="text-right tabular-nums">{notes.toLocaleString('en')}</td>
              <td>
                {program !== null && (
                  <select
                    className="field h-6 w-36 py-0 text-sm"
                    aria-label={`Sound of ${name}`}
                    value={program}
                    onChange={({ target }) => onProgram(name, Number(target.value))}
                  >
                    <ProgramOptions />
                  </select>
                )}
              </td>
              {isForSomebody && <td className="min-w-40">{changes.join(', ')}</td>}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
