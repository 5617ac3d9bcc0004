import { useState } from 'react';
import { isPitched, type Clip, type ClipNote } from '../../../core/phrase/clip.ts';
import { withHandEdits, type HandEdit } from '../../../core/normalize/by-hand.ts';
import { playedPieces } from '../../../core/normalize/edit.ts';
import { gridTicks, type Grid } from '../../../core/normalize/grid.ts';
import type { Recipe } from '../../../core/normalize/recipe.ts';
import { plural } from '../../../core/words.ts';
import { useActions } from '../../../ui/actions.ts';

/** Steps of velocity and of time that a key does. */
const LOUDER = 5;

type ChangeRecipe = (change: (recipe: Recipe) => Recipe, label: string) => void;

/** Notes that are chosen, and what is done to them by hand: each is a change of the recipe. */
export function useHandEditing(solid: Clip, grid: Grid, onRecipe: ChangeRecipe) {
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const notes = solid.notes.filter(({ origin }) => chosen.has(origin));
  const edit = (edits: HandEdit[], label: string) => {
    if (edits.length > 0) onRecipe((recipe) => withHandEdits(recipe, solid, edits), label);
  };
  const each = (change: (note: ClipNote) => HandEdit, label: string) =>
    edit([...playedPieces(notes).values()].map(change), `${label} of ${plural(notes.length, 'note')}`);
  const step = gridTicks(grid, solid.timeline.ppq);
  const editing = {
    chosen,
    notes,
    choose: (origins: Iterable<number>) => setChosen(new Set(origins)),
    edit,
    earlier: () => each(({ origin, tick }) => ({ note: origin, tick: Math.max(0, tick - step) }), 'time'),
    later: () => each(({ origin, tick }) => ({ note: origin, tick: tick + step }), 'time'),
    pitch: (semitones: number) => each(({ origin }) => ({ note: origin, semitones }), 'pitch'),
    longer: (by: number) =>
      each(
        ({ origin, duration }) => ({ note: origin, duration: Math.max(1, duration + (by * step) / 2) }),
        'length',
      ),
    velocity: (to: (now: number) => number) =>
      each(
        ({ origin, velocity }) => ({
          note: origin,
          velocity: Math.min(127, Math.max(1, Math.round(to(velocity)))),
        }),
        'velocity',
      ),
    remove: () => {
      each(({ origin }) => ({ note: origin, remove: true }), 'delete');
      setChosen(new Set());
    },
    /** After the last chosen note, or at the beginning; a copy of it. */
    add: () => {
      const like = notes.at(-1) ?? solid.notes[0];
      const tick = Math.min(solid.length - 1, notes.length > 0 ? like!.tick + step : solid.pickup);
      edit(
        [
          {
            add: {
              tick,
              duration: like?.duration ?? step,
              pitch: like?.pitch ?? (isPitched(solid) ? 60 : 36),
              velocity: like?.velocity ?? 90,
            },
          },
        ],
        'add a note',
      );
    },
    next: (by: 1 | -1) => {
      const all = solid.notes;
      const at = all.findIndex(({ origin }) => chosen.has(origin));
      const next = all[at < 0 ? (by > 0 ? 0 : all.length - 1) : (at + by + all.length) % all.length];
      if (next) setChosen(new Set([next.origin]));
    },
  };
  const any = (run: () => void) => () => (notes.length > 0 ? run() : undefined);
  useActions('Notes', [
    { title: 'Next note', keys: ['ArrowRight'], run: () => editing.next(1) },
    { title: 'Note before', keys: ['ArrowLeft'], run: () => editing.next(-1) },
    {
      title: 'Choose all notes',
      keys: ['Ctrl+a'],
      run: () => editing.choose(solid.notes.map(({ origin }) => origin)),
    },
    { title: 'Choose no note', keys: ['Escape'], run: () => editing.choose([]) },
    { title: 'Chosen notes earlier', keys: ['Alt+ArrowLeft'], run: any(editing.earlier) },
    { title: 'Chosen notes later', keys: ['Alt+ArrowRight'], run: any(editing.later) },
    { title: 'Chosen notes up', keys: ['Alt+ArrowUp'], run: any(() => editing.pitch(1)) },
    { title: 'Chosen notes down', keys: ['Alt+ArrowDown'], run: any(() => editing.pitch(-1)) },
    { title: 'Chosen notes shorter', keys: ['Shift+ArrowLeft'], run: any(() => editing.longer(-1)) },
    { title: 'Chosen notes longer', keys: ['Shift+ArrowRight'], run: any(() => editing.longer(1)) },
    {
      title: 'Chosen notes louder',
      keys: ['Shift+ArrowUp'],
      run: any(() => editing.velocity((now) => now + LOUDER)),
    },
    {
      title: 'Chosen notes softer',
      keys: ['Shift+ArrowDown'],
      run: any(() => editing.velocity((now) => now - LOUDER)),
    },
    { title: 'Delete chosen notes', keys: ['Delete', 'Backspace'], run: any(editing.remove) },
    { title: 'Add a note', keys: ['n'], run: editing.add },
  ]);
  return editing;
}

export type HandEditing = ReturnType<typeof useHandEditing>;
