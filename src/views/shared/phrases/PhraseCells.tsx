import { keyLabel, type Key } from '../../../core/music/key.ts';
import type { Role } from '../../../core/split/roles.ts';
import { RoleMark } from '../../../ui/drawing/RoleMark.tsx';

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
    /** As it leaves, where that may be otherwise. */
    leaves?: { key: Key | null; bpm: number };
  };
}) {
  return (
    <>
      <span className="truncate text-sm">
        <RoleMark role={phrase.role} />
      </span>
      <Leaving
        own={phrase.key ? keyLabel(phrase.key) : ''}
        leaving={phrase.leaves?.key ? keyLabel(phrase.leaves.key) : undefined}
      />
      <span className="text-right">
        <Leaving own={bpmLabel(phrase.bpm)} leaving={phrase.leaves && bpmLabel(phrase.leaves.bpm)} />
      </span>
      <span className="text-right">{phrase.bars}</span>
      <span>
        {phrase.meterNumerator}/{phrase.meterDenominator}
      </span>
    </>
  );
}

function bpmLabel(bpm: number): string {
  return String(Math.round(bpm * 10) / 10);
}

/** A value as it is, and as it leaves where that is another. */
function Leaving({ own, leaving }: { own: string; leaving: string | undefined }) {
  if (leaving === undefined || leaving === own) return <span>{own}</span>;
  return (
    <span className="whitespace-nowrap" title={`${own}, leaves as ${leaving}`}>
      <span className="text-muted">{own}</span> <span aria-label="leaves as">→</span> {leaving}
    </span>
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
