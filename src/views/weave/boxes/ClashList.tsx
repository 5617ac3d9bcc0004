import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { columnClashes, type WeaveWay } from '../../../core/weave/ways.ts';
import { Button } from '../../../ui/Button.tsx';
import { layingWorker, type LaidSheet } from '../laid.ts';
import { Ways } from './ProposalList.tsx';

/** What does not go together down the column of a section, the heaviest first, each with its ways out. */
export function ClashList({
  sheet,
  laid,
  section,
  onWay,
  onMeant,
}: {
  /** Number of the sheet in the worker. */
  sheet: number;
  laid: LaidSheet;
  section: string;
  onWay: (way: WeaveWay) => void;
  onMeant: (id: string) => void;
}) {
  const { data } = useQuery({
    queryKey: ['weave-clashes', sheet, section, laid.parts.map(({ part }) => part), laid.weave],
    staleTime: Infinity,
    gcTime: 0,
    queryFn: () => layingWorker().clashesIn(sheet, section),
    placeholderData: keepPreviousData,
  });
  const clashes = useMemo(
    () => (data ? columnClashes(laid.weave, section, data) : null),
    [data, laid.weave, section],
  );
  const beats = laid.weave.sections.find(({ id }) => id === section)?.meter ?? laid.weave.meter;
  const bar = (beats.numerator * 4) / beats.denominator;
  return (
    <section aria-label="Clashes" className="grid gap-1">
      <h2 className="text-base">Clashes</h2>
      {!clashes && <p className="text-sm text-muted">Listening down the column.</p>}
      {clashes?.length === 0 && <p className="text-sm text-muted">None.</p>}
      <ul>
        {clashes?.map(({ id, text, times, beat, ways }) => (
          <li key={id} className="border-t border-thread py-1 text-sm">
            {text}, bar {Math.floor(beat / bar) + 1}
            {times > 1 ? `, ${times} times` : ''}
            <Ways ways={ways} onWay={onWay} />
            <Button small className="mt-1" onClick={() => onMeant(id)}>
              Meant
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
