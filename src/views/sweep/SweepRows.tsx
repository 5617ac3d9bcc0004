import { useMemo } from 'react';
import type { Role } from '../../core/split/roles.ts';
import type { RunFinding } from '../../core/sweep/sheet.ts';
import type { SweepDetail } from '../../server/library/takes/sweeps.ts';
import { Swatch } from '../../ui/drawing/Swatch.tsx';
import { useVirtualRows } from '../../ui/table/virtual-rows.ts';
import { packedRun } from './packed-run.ts';

type Run = SweepDetail['runs'][number];

const HEIGHT = 36;
const WIDTH = 420;
const nothing = () => {};

/** Runs down, their bars across, and what each is among the others. */
export function SweepRows({
  runs,
  role,
  nameOf,
  findings,
  current,
  chosen,
  onCurrent,
  onChoose,
  onHear,
}: {
  runs: readonly Run[];
  /** Of what the source plays, by whose dye it is drawn. */
  role: Role;
  nameOf: (run: Run) => string;
  findings: ReadonlyMap<number, RunFinding>;
  current: number;
  chosen: ReadonlySet<number>;
  onCurrent: (position: number) => void;
  onChoose: (position: number) => void;
  onHear: (run: Run) => void;
}) {
  const list = useMemo(() => runs.map((run) => ({ ...run, id: String(run.position) })), [runs]);
  const { scroller, items, height } = useVirtualRows(list, {
    ...{ height: HEIGHT, overscan: 6, current: String(current), onEnd: nothing, place: 'sweep rows' },
  });
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto border border-rule bg-card">
      <div role="table" aria-label="Runs" className="relative" style={{ height }}>
        {items.map(({ index, start }) => {
          const run = list[index]!;
          const isHere = run.position === current;
          return (
            <div
              key={run.position}
              role="row"
              aria-current={isHere}
              className={`absolute right-0 left-0 grid grid-cols-[28px_40px_minmax(160px,1fr)_430px_minmax(150px,220px)] items-center gap-2 border-b border-thread px-2 ${isHere ? 'bg-select' : 'hover:bg-sunk'}`}
              style={{ top: start, height: HEIGHT }}
              onClick={() => onCurrent(run.position)}
              onDoubleClick={() => onHear(run)}
            >
              <span role="cell">
                <input
                  type="checkbox"
                  className="block size-4"
                  aria-label={`Choose run ${run.position + 1}`}
                  checked={chosen.has(run.position)}
                  onChange={() => onChoose(run.position)}
                />
              </span>
              <span role="cell" className="text-right text-muted tabular-nums">
                {run.position + 1}
              </span>
              <span role="cell" className="truncate" title={nameOf(run)}>
                {nameOf(run)}
              </span>
              <span role="cell" className={findings.get(run.position)?.sameAs == null ? '' : 'opacity-50'}>
                <RunPicture run={run} role={role} />
              </span>
              <span role="cell" className="truncate text-sm">
                <Verdict run={run} finding={findings.get(run.position)} />
              </span>
            </div>
          );
        })}
      </div>
    </div>
  );
}

function RunPicture({ run, role }: { run: Run; role: Role }) {
  const packed = useMemo(() => packedRun(run.heard?.bars ?? [], role), [run.heard, role]);
  if (!run.heard) return null;
  return <Swatch notes={packed} role={role} bars={run.heard.bars.length} width={WIDTH} height={HEIGHT - 8} />; // prettier-ignore
}

function Verdict({ run, finding }: { run: Run; finding: RunFinding | undefined }) {
  if (run.state === 'waiting') return <span className="text-muted">waits</span>;
  if (run.state === 'failed') return <span className="text-madder">{run.reason}</span>;
  if (!finding || run.state === 'silent')
    return <span className="text-madder">{run.reason || 'Nothing was played.'}</span>;
  if (finding.sameAs !== null)
    return <span className="text-muted">{run.reason || `the same as run ${finding.sameAs + 1}`}</span>;
  return (
    <span className="tabular-nums">
      {finding.verdict === 'distinct' ? <b>distinct</b> : <b className="text-madder">{finding.verdict}</b>}
      <span className="text-muted">, {Math.round(finding.likeness * 100)} % like the nearest</span>
    </span>
  );
}
