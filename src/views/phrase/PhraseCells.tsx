import { keyLabel, type Key } from '../../core/music/key.ts';
import type { Role } from '../../core/split/roles.ts';
import { RoleMark } from '../../ui/RoleMark.tsx';

/** Role, key, tempo, bars and meter of a phrase: five cells of a row, wherever phrases stand in columns. */
export function PhraseCells({
  phrase,
}: {
  phrase: {
    role: Role;
    key: Key | null;
    bpm: number;
    bars: number;
    meterNumerator: number;
    meterDenominator: number;
  };
}) {
  return (
    <>
      <span className="truncate text-sm">
        <RoleMark role={phrase.role} />
      </span>
      <span>{phrase.key ? keyLabel(phrase.key) : ''}</span>
      <span className="text-right">{Math.round(phrase.bpm * 10) / 10}</span>
      <span className="text-right">{phrase.bars}</span>
      <span>
        {phrase.meterNumerator}/{phrase.meterDenominator}
      </span>
    </>
  );
}

/** The headings of those five cells. */
export function PhraseHeadings() {
  return (
    <>
      <span>Role</span>
      <span>Key</span>
      <span className="text-right">BPM</span>
      <span className="text-right">Bars</span>
      <span>Meter</span>
    </>
  );
}
