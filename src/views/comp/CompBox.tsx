import type { Joint } from '../../core/comp/join.ts';
import { cellRemarks, jointWords } from '../../core/comp/words.ts';
import { plural } from '../../core/words.ts';
import { Button } from '../../ui/Button.tsx';
import { RoleMark } from '../../ui/drawing/RoleMark.tsx';
import type { GridPlace } from './CompGrid.tsx';
import type { CellWire, CompSheet } from './comp.worker.ts';

/** What is said of the bar one is at; where the passes are joined; and what of the takes is no bar of the chart. */
export function CompBox({
  sheet,
  place,
  from,
  to,
  cell,
  isStarred,
  joints,
  onStar,
  onJoint,
}: {
  sheet: CompSheet;
  place: GridPlace;
  from: number;
  to: number;
  cell: CellWire | null;
  isStarred: boolean;
  joints: readonly Joint[];
  onStar: () => void;
  /** A joint is chosen: the bar (from 0) that begins with it. */
  onJoint: (bar: number) => void;
}) {
  const { title } = sheet.passes[place.pass]!;
  const remarks = cell ? cellRemarks(cell) : [];
  return (
    <aside className="flex w-[280px] flex-none flex-col gap-4 overflow-auto border-l border-rule p-4">
      <section>
        <h2 className="text-base">
          {from === to ? `Bar ${place.bar + 1}` : `Bars ${from + 1} to ${to + 1}`} of {title}
        </h2>
        {cell ? (
          <>
            <ul className="mt-1 grid gap-1">
              {remarks.map((text) => (
                <li key={text}>{text}</li>
              ))}
              {remarks.length === 0 && <li className="text-muted">Nothing stands out.</li>}
            </ul>
            <dl className="mt-2 grid grid-cols-[1fr_auto] gap-x-3 text-sm text-muted tabular-nums">
              <dt>Bar of the take</dt>
              <dd>{cell.bar}</dd>
              <dt>Like the other passes</dt>
              <dd>{Math.round(cell.likeness * 100)} %</dd>
              <dt>From its grid</dt>
              <dd>{cell.looseMs === null ? 'no grid' : `${cell.looseMs.toFixed(0)} ms`}</dd>
              <dt>Struck at</dt>
              <dd>{Math.round(cell.velocity)}</dd>
            </dl>
            <Button small className="mt-2" onClick={onStar}>
              {isStarred ? 'Take the star off' : 'Star this bar'}
            </Button>
          </>
        ) : (
          <p className="mt-1 text-muted">This pass does not have the bar.</p>
        )}
      </section>
      <JointList sheet={sheet} joints={joints} onJoint={onJoint} />
      <Beside sheet={sheet} />
    </aside>
  );
}

/** The joints that are worth hearing first: those with a step, then those where something rings on. */
function JointList({
  sheet,
  joints,
  onJoint,
}: {
  sheet: CompSheet;
  joints: readonly Joint[];
  onJoint: (bar: number) => void;
}) {
  const weight = ({ marks, rings, ended }: Joint) => marks.length * 100 + ended * 2 + rings;
  const told = joints
    .filter((joint) => weight(joint) > 0)
    .sort((a, b) => weight(b) - weight(a) || a.bar - b.bar);
  if (joints.length === 0) return null;
  return (
    <section>
      <h2 className="text-base">
        {plural(joints.length, 'joint')}
        {told.length < joints.length ? `, ${joints.length - told.length} clean` : ''}
      </h2>
      <ul className="mt-1">
        {told.slice(0, MOST_JOINTS).map((joint) => (
          <li key={`${joint.row} ${joint.bar}`} className="border-t border-thread">
            <button
              type="button"
              className="grid w-full grid-cols-[auto_1fr] gap-x-2 py-1 text-left hover:bg-sunk"
              title="Hear it: from the bar before"
              onClick={() => onJoint(joint.bar)}
            >
              <RoleMark role={sheet.rows[joint.row]!.role} bare />
              <span>
                Bar {joint.bar + 1}, {sheet.rows[joint.row]!.label}
                <span className={`block text-sm ${joint.marks.length > 0 ? 'text-madder' : 'text-muted'}`}>
                  {jointWords(joint)}
                </span>
              </span>
            </button>
          </li>
        ))}
      </ul>
      {told.length > MOST_JOINTS && (
        <p className="text-sm text-muted">{plural(told.length - MOST_JOINTS, 'more')}</p>
      )}
    </section>
  );
}

/** So many are listed. */
const MOST_JOINTS = 12;

/** What of the takes is no bar of the chart, and takes that were left out. */
function Beside({ sheet }: { sheet: CompSheet }) {
  const titleOf = (take: string) =>
    sheet.passes.find(({ name }) => name.startsWith(take))?.title.replace(/, round \d+$/, '') ?? 'A take';
  const lines = [
    ...sheet.leftOut.map(({ text }) => text),
    ...sheet.remarks.map(({ text }) => text),
    ...sheet.beside.map(({ take, bars, why }) =>
      why === 'added'
        ? `${titleOf(take)} has ${plural(bars.length, 'bar')} more than the chart.`
        : `${titleOf(take)} begins ${plural(bars.length, 'bar')} before the chart.`,
    ),
  ];
  if (lines.length === 0) return null;
  return (
    <section>
      <h2 className="text-base">Beside the chart</h2>
      <ul className="mt-1 grid gap-1 text-sm">
        {lines.map((text) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
    </section>
  );
}
