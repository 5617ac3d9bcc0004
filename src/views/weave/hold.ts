import { useCallback, useState } from 'react';
import { withCellsOf } from '../../core/weave/edit.ts';
import { withCell, type Weave, type WeaveCell } from '../../core/weave/weave.ts';
import type { useHistory } from '../../ui/history/history.ts';
import type { Hold } from './boxes/CellBox.tsx';

/**
 * Changes of cells: here only, or in all places of the same phrase. It is asked once a phrase, with its first change, which holds
 * here only until somebody says otherwise.
 */
export function useHold({ set }: Pick<ReturnType<typeof useHistory<Weave>>, 'set'>) {
  const [answers, setAnswers] = useState<Readonly<Record<string, Hold>>>({});
  const [last, setLast] = useState<{ phrase: string; change: Partial<WeaveCell>; label: string } | null>(
    null,
  );
  const asked = last && answers[last.phrase] === undefined ? last.phrase : null;
  const edit = useCallback(
    (cell: WeaveCell, change: Partial<WeaveCell>, label: string) => {
      const { section, part, phrase } = cell;
      setLast({ phrase, change, label });
      if (answers[phrase] === 'everywhere') set((old) => withCellsOf(old, phrase, change), label);
      else set((old) => withCell(old, section, part, (one) => ({ ...one, ...change })), label);
    },
    [answers, set],
  );
  const say = (cell: WeaveCell, answer: Hold) => {
    setAnswers({ ...answers, [cell.phrase]: answer });
    // What was asked about holds where it was said.
    if (answer === 'everywhere' && asked === cell.phrase)
      set((old) => withCellsOf(old, cell.phrase, last!.change), `${last!.label} everywhere`);
  };
  return { answers, asked, edit, say };
}
