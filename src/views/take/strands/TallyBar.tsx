import type { Split } from '../../../core/split/split.ts';
import { tallyOf } from '../../../core/split/tally.ts';
import { RoleWeave } from '../../../ui/drawing/RoleMark.tsx';

/** "48 click, 24 bars 17 to 18". */
function asideWords(split: Split): string {
  const counts = tallyOf(split).setAside;
  const byReason = new Map<string, number>();
  split.setAside.forEach(({ reason }, i) => byReason.set(reason, (byReason.get(reason) ?? 0) + counts[i]!));
  const told = [...byReason]
    .filter(([, count]) => count > 0)
    .sort((a, b) => b[1] - a[1])
    .map(([reason, count]) => `${count.toLocaleString('en')} ${reason}`);
  return told.length > MOST_REASONS
    ? `${told.slice(0, MOST_REASONS - 1).join(', ')} and ${told.length - MOST_REASONS + 1} other reasons`
    : told.join(', ');
}

/** Reasons that are told, at most: those of most notes. */
const MOST_REASONS = 4;

/** The account of every note, as a woven band and in words. */
export function TallyBar({ split }: { split: Split }) {
  const tally = tallyOf(split);
  const number = (n: number) => n.toLocaleString('en');
  const parts = tally.parts.filter((n) => n > 0).length;
  return (
    <section aria-label="Tally" className="border-t border-rule pt-2 pb-3">
      <div className="flex h-3.5 border border-rule" aria-hidden="true">
        {split.parts.map((part, i) =>
          tally.parts[i] ? (
            <div
              key={part.id}
              style={{ flex: `${tally.parts[i]} 0 0px` }}
              className="min-w-px overflow-hidden border-r border-paper last:border-0"
              title={`${part.name}: ${tally.parts[i]}`}
            >
              <RoleWeave role={part.role} className="block" />
            </div>
          ) : null,
        )}
        {tally.aside > 0 && (
          <div
            style={{ flex: `${tally.aside} 0 0px` }}
            className="bg-sunk"
            title={`set aside: ${tally.aside}`}
          />
        )}
      </div>
      <p className="mt-1.5 flex gap-4 text-sm">
        <span>
          <b>Tally</b> {number(tally.in)} notes came in
        </span>
        <span>
          {number(tally.inParts)} in {parts} {parts === 1 ? 'part' : 'parts'}
        </span>
        <span>
          {number(tally.aside)} set aside
          {tally.aside > 0 && <span className="text-muted">: {asideWords(split)}</span>}
        </span>
        {split.emptyTracks > 0 && (
          <span className="text-muted">
            {split.emptyTracks} {split.emptyTracks === 1 ? 'track' : 'tracks'} without notes left out
          </span>
        )}
        <b className={`ml-auto ${tally.balanced ? 'text-good' : 'text-madder'}`}>
          {tally.balanced ? 'balanced' : 'not balanced'}
        </b>
      </p>
    </section>
  );
}
