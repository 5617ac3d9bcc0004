import { pitchName } from '../../../core/music/pitch.ts';
import { positionAt, type Timeline } from '../../../core/music/timeline.ts';
import { waysFor, type MendWay } from '../../../core/through/mends.ts';
import type { ThroughSetting } from '../../../core/through/pieces.ts';
import type { Outside } from '../../../core/through/through.ts';
import { MEND_TITLES, outsideInWords } from '../../../core/through/words.ts';
import { RoleMark } from '../../../ui/drawing/RoleMark.tsx';
import type { Role } from '../../../core/split/roles.ts';

/** A note that falls outside, or clashes with another part, and in which part. */
export interface OutsideRow extends Outside {
  /** What it clashes with, in words; what falls outside says so by its cause. */
  clash?: string;
  part: { id: string; name: string; role: Role };
  timeline: Timeline;
  pickup: number;
  setting: Pick<ThroughSetting, 'target' | 'targetKey'>;
}

/** What falls outside, note by note, with what can be done about it: for one, or for all of a kind. */
export function OutsideList({
  rows,
  chosen,
  flats,
  onChoose,
  onMend,
}: {
  rows: readonly OutsideRow[];
  chosen: OutsideRow | undefined;
  flats: boolean;
  onChoose: (row: OutsideRow) => void;
  onMend: (rows: readonly OutsideRow[], way: MendWay) => void;
}) {
  if (rows.length === 0)
    return <p className="py-2 text-sm text-muted">Every note is in its chord or its scale.</p>;
  return (
    <div className="max-h-44 min-h-20 overflow-auto border-t border-rule">
      <table className="w-full text-sm">
        <thead className="sr-only">
          <tr>
            <th>Part</th>
            <th>Where</th>
            <th>Note</th>
            <th>Why</th>
            <th>What to do</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => {
            const { bar, beat } = positionAt(row.timeline, row.tick);
            const isChosen = row === chosen;
            const alike = rows.filter(
              (one) =>
                one.part.id === row.part.id &&
                one.cause === row.cause &&
                one.was === row.was &&
                one.clash === row.clash,
            );
            const note = pitchName(row.pitch, { flats });
            return (
              <tr
                key={`${row.part.id} ${row.note} ${row.clash ?? ''}`}
                aria-selected={isChosen}
                className={`border-b border-thread ${isChosen ? 'bg-sunk' : ''}`}
                onClick={() => onChoose(row)}
              >
                <td className="py-1 pr-2 pl-2">
                  <RoleMark role={row.part.role} bare />
                </td>
                <td className="py-1 pr-3 whitespace-nowrap tabular-nums">
                  bar {bar - (row.pickup > 0 ? 1 : 0)}, beat {beat}
                </td>
                <td className="py-1 pr-3 font-bold">{note}</td>
                <td className="w-full py-1 pr-3 text-muted">{row.clash ?? outsideInWords(row)}</td>
                <td className="py-1 pr-2 whitespace-nowrap">
                  <select
                    className="h-6 rounded-[3px] border border-rule bg-card px-1"
                    aria-label={`What to do about ${note} in bar ${bar}`}
                    value=""
                    onChange={({ target: { value } }) => {
                      const [kind, way] = value.split(':') as [string, MendWay];
                      onMend(kind === 'all' ? alike : [row], way);
                    }}
                  >
                    <option value="">Put right ...</option>
                    {waysFor(row, row.setting).map((way) => (
                      <option key={way} value={`one:${way}`}>
                        {MEND_TITLES[way]}
                      </option>
                    ))}
                    {alike.length > 1 && (
                      <optgroup label={`All ${alike.length} of this kind`}>
                        {waysFor(row, row.setting).map((way) => (
                          <option key={way} value={`all:${way}`}>
                            {MEND_TITLES[way]}
                          </option>
                        ))}
                      </optgroup>
                    )}
                  </select>
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}
