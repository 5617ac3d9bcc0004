import type { Take } from '../../../core/capture/take.ts';
import { barStart } from '../../../core/music/timeline.ts';
import type { SingleMove } from '../../../core/split/moves.ts';
import { noteSet } from '../../../core/split/note-set.ts';
import type { Split } from '../../../core/split/split.ts';
import { plural } from '../../../core/words.ts';
import type { SplitEditing } from '../../shared/takes/editing.ts';
import type { Selection } from '../selection.ts';
import type { BarRange } from '../../shared/takes/strand-columns.ts';

/** What can be done to the parts, bars and notes that are chosen; each is one move, and taken back as one. */
export function useTakeDoing({
  take,
  split,
  editing,
  selection,
}: {
  take: Take;
  split: Split;
  editing: SplitEditing;
  selection: Selection;
}) {
  const { selected, notes, partIds } = selection;
  const asOne = (title: string, moves: SingleMove[]) => {
    if (moves.length === 1) editing.move(moves[0]!);
    else if (moves.length > 1) editing.move({ move: 'together', title, moves });
  };
  const chosenOf = (indices: readonly number[]) => noteSet(indices.filter((i) => notes.has(i)));
  const withNotes = selected.filter(({ indices }) => indices.some((i) => notes.has(i)));
  return {
    setAside: (parts: readonly string[]) =>
      asOne(
        `set aside ${plural(parts.length, 'part')}`,
        parts.map((part) => ({ move: 'setAside', part, reason: 'not wanted' })),
      ),
    setBarsAside: ({ start, count }: BarRange) => {
      const { timeline } = take.timing;
      const reason = `bars ${start} to ${start + count - 1}`;
      const [fromTick, toTick] = [barStart(timeline, start), barStart(timeline, start + count)];
      asOne(
        `set aside ${reason} of ${plural(partIds.length, 'part')}`,
        partIds.map((part) => ({ move: 'setAside', part, reason, fromTick, toTick })),
      );
    },
    setNotesAside: () =>
      asOne(
        `set aside ${plural(notes.size, 'note')}`,
        withNotes.map(({ part, indices }) => ({
          move: 'setAside',
          part: part.id,
          reason: 'chosen by hand',
          notes: chosenOf(indices),
        })),
      ),
    /** The chosen parts go into the first chosen, or into the one that is named. */
    merge: (into?: string) => {
      const parts = into ? [into, ...partIds.filter((id) => id !== into)] : partIds;
      if (parts.length > 1) editing.move({ move: 'merge', parts });
    },
    give: (part: string) => {
      if (notes.size > 0) editing.move({ move: 'give', notes: noteSet(notes), part });
      selection.setNotes([]);
    },
    /** The chosen notes of each part become a part of their own. */
    giveOwn: () => {
      asOne(
        `${plural(notes.size, 'note')} to a part of their own`,
        withNotes.map(({ part, indices }) => ({
          move: 'divide',
          part: part.id,
          how: 'hand',
          into: [{ name: `${part.name}, taken out`, role: part.role, notes: chosenOf(indices) }],
        })),
      );
      selection.setNotes([]);
    },
    /** Locks the chosen notes, or unlocks them where all are. */
    lockNotes: () => {
      const on = [...notes].some((i) => !split.locked[i]);
      asOne(
        `${on ? 'lock' : 'unlock'} ${plural(notes.size, 'note')}`,
        withNotes.map(({ part, indices }) => ({ move: 'lock', part: part.id, notes: chosenOf(indices), on })),
      );
    },
    chooseAllNotes: () => {
      const { timeline } = take.timing;
      const range = selection.range;
      const from = range ? barStart(timeline, range.start) : 0;
      const to = range ? barStart(timeline, range.start + range.count) : Infinity;
      selection.setChoosing('notes');
      selection.setNotes(
        selected.flatMap(({ indices }) =>
          indices.filter((i) => take.notes.tick[i]! >= from && take.notes.tick[i]! < to),
        ),
      );
    },
  };
}

export type TakeDoing = ReturnType<typeof useTakeDoing>;
