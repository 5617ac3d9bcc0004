import { mergedFields } from '../../core/merge/three-way.ts';
import { SelectField } from '../../ui/fields/SelectField.tsx';
import { useMutation, useQueryClient } from '@tanstack/react-query';
import equal from 'fast-deep-equal';
import { Link } from 'react-router';
import { PPQS_OUT } from '../../core/exchange/out-options.ts';
import { TONICS } from '../../core/music/key.ts';
import { GRIDS } from '../../core/normalize/grid.ts';
import { HOUSE, type House } from '../../core/normalize/house.ts';
import { Button } from '../../ui/Button.tsx';
import { useActions } from '../../ui/actions.ts';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { useFollowed, useHistory } from '../../ui/history/history.ts';
import { Labeled } from '../../ui/fields/Labeled.tsx';
import { NumberField } from '../../ui/fields/NumberField.tsx';
import { UndoButtons } from '../../ui/history/UndoButtons.tsx';
import { toastWithUndo } from '../../ui/history/undoToast.ts';
import { sendJson } from '../api/client.ts';
import { renew, tellProblem, useHouse } from '../api/queries.ts';
import { BankList } from './BankList.tsx';
import { DrumMap } from './DrumMap.tsx';
import { HabitsList } from './HabitsList.tsx';
import { NamePattern } from './NamePattern.tsx';
import { RoleTable } from './RoleTable.tsx';
import { SourceDefaults } from './SourceDefaults.tsx';
import type { SetHouse } from './set-house.ts';

/** The house standard: how everything in the library is kept, on one page. */
export default function HouseView() {
  const { data: house, error } = useHouse();
  if (error) return <EmptyState title="The house standard could not be loaded">{error.message}</EmptyState>;
  if (!house) return <Busy what="Opening the house standard" />;
  return <OpenHouse house={house} />;
}

function OpenHouse({ house }: { house: House }) {
  const history = useHistory('house', house, '/house');
  const { value, base, set, settle, rebase } = history;
  const isBehind = useFollowed(history, 'house', house, mergedFields);
  const client = useQueryClient();
  const isChanged = !equal(value, base);
  const write = async (next: House, of?: House) => {
    const saved = await sendJson<House>('PUT', '/api/house', { ...next, ...(of ? { base: of } : {}) });
    client.setQueryData(['house'], saved);
    await renew('house', 'habits');
    return saved;
  };
  const save = useMutation({
    mutationFn: () => write(value, base),
    onError: tellProblem,
    onSuccess: (saved) => {
      const before = base;
      settle(saved);
      // Taken back, the library is kept as before, and what was changed still stands on the page.
      const go = (next: House) => write(next).then(rebase, tellProblem);
      toastWithUndo(
        'Saved. What is kept already stays as it is until a recipe is applied to it again.',
        'saving the house standard',
        () => go(before),
        { redo: () => go(saved) },
      );
    },
  });
  useActions('House standard', [
    { title: 'Save', keys: ['Ctrl+s'], run: () => isChanged && !isBehind && save.mutate() },
    { title: 'Everything as it came', run: () => set(() => HOUSE, 'as it came'), words: 'reset defaults' },
  ]);
  return (
    <div className="min-w-0 flex-1 overflow-auto">
      <div className="mx-auto grid w-full max-w-6xl grid-cols-[minmax(0,1fr)_380px] gap-x-10 gap-y-5 px-5 pt-4 pb-8 narrow:grid-cols-[minmax(0,1fr)]">
        <header className="col-span-full flex flex-wrap items-center gap-3">
          <h1 className="text-xl">House standard</h1>
          <span className="text-sm text-muted">How phrases are made, and where they are kept</span>
          <span className="ml-auto flex gap-3">
            <UndoButtons history={history} />
            <Button kind="quiet" onClick={() => set(() => HOUSE, 'as it came')}>
              As it came
            </Button>
            <Button
              kind="primary"
              disabled={!isChanged || isBehind || save.isPending}
              onClick={() => save.mutate()}
            >
              {isChanged ? 'Save' : 'Saved'}
            </Button>
          </span>
        </header>
        {isBehind && (
          <div
            role="alert"
            className="col-span-full flex items-center gap-3 border-l-3 border-l-madder bg-card p-2 text-sm"
          >
            Another window has changed the house standard since you began.
            <Button small onClick={() => settle(house)}>
              Take theirs
            </Button>
            <Button small onClick={() => rebase(house)}>
              Go on with mine
            </Button>
          </div>
        )}
        <div className="grid content-start gap-6">
          <RoleTable house={value} set={set} />
          <SourceDefaults />
          <HabitsList />
        </div>
        <div className="grid content-start gap-6">
          <Storage house={value} set={set} />
          <NamePattern pattern={value.pattern} set={set} />
          <BankList />
          <DrumMap pairs={value.drumMap} set={set} />
          <p className="text-sm text-muted">
            To bring what is kept to this standard, choose it in the{' '}
            <Link className="underline decoration-rule underline-offset-3" to="/library">
              library
            </Link>{' '}
            and give it the recipe.
          </p>
        </div>
      </div>
    </div>
  );
}

function Storage({ house, set }: { house: House; set: SetHouse }) {
  const tonic = (field: 'major' | 'minor', label: string) => (
    <Labeled label={label}>
      {(id) => (
        <select
          id={id}
          className="field w-full"
          value={house[field]}
          onChange={({ target }) => set((old) => ({ ...old, [field]: target.value }), label)}
        >
          {TONICS.map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      )}
    </Labeled>
  );
  return (
    <section aria-label="Storage" className="grid grid-cols-2 gap-x-4 gap-y-2">
      <h2 className="col-span-2 text-lg">Storage</h2>
      {tonic('major', 'Major is kept in')}
      {tonic('minor', 'Minor is kept in')}
      <SelectField
        label="Leaves with, ticks a quarter note"
        value={house.ppq}
        onChange={(value) => set((old) => ({ ...old, ppq: Number(value) }), 'resolution')}
      >
        {[...new Set([...PPQS_OUT, house.ppq])].map((ppq) => (
          <option key={ppq}>{ppq}</option>
        ))}
      </SelectField>
      <SelectField
        label="Quantize to"
        value={house.grid}
        onChange={(value) => set((old) => ({ ...old, grid: GRIDS.find((grid) => grid === value)! }), 'grid')}
      >
        {GRIDS.map((grid) => (
          <option key={grid}>{grid}</option>
        ))}
      </SelectField>
      <NumberField
        label="Strength, %"
        value={Math.round(house.strength * 100)}
        min={0}
        max={100}
        onChange={(percent) => set((old) => ({ ...old, strength: percent! / 100 }), 'strength')}
      />
      <fieldset className="col-span-2 grid gap-1 text-sm">
        <legend className="label">Fitting: beside the notes, applied on the way out</legend>
        <label className="flex h-6 items-center gap-2">
          <input
            type="checkbox"
            checked={house.shiftBeside}
            onChange={({ target }) => set((old) => ({ ...old, shiftBeside: target.checked }), 'shift')}
          />
          shift (else it is baked into the recipe)
        </label>
        <label className="flex h-6 items-center gap-2">
          <input
            type="checkbox"
            checked={house.velocityBeside}
            onChange={({ target }) => set((old) => ({ ...old, velocityBeside: target.checked }), 'velocity')}
          />
          velocity (else it is baked into the recipe)
        </label>
      </fieldset>
    </section>
  );
}
