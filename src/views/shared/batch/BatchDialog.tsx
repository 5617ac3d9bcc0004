import { useState } from 'react';
import { Link } from 'react-router';
import { plural } from '../../../core/words.ts';
import { Button } from '../../../ui/Button.tsx';
import { Dialog } from '../../../ui/Dialog.tsx';
import { usePresets } from '../../api/queries.ts';
import { useStartBatch, type ChosenPhrases } from './start.ts';

/** Which recipe is for many phrases: each role's house recipe, or one that was kept. */
export function BatchDialog({
  open,
  phrases,
  count,
  onClose,
}: {
  open: boolean;
  phrases: ChosenPhrases;
  /** How many they are. */
  count: number;
  onClose: () => void;
}) {
  const { data: presets = [] } = usePresets();
  const [presetId, setPresetId] = useState('');
  const start = useStartBatch();
  const preset = presets.find(({ id }) => id === presetId);
  const number = plural(count, 'phrase');
  const begin = () =>
    start.mutate({
      title: `${preset ? `"${preset.name}"` : 'House standard'} for ${number}`,
      recipe: preset?.recipe ?? null,
      ...phrases,
    });
  return (
    <Dialog
      open={open}
      onOpenChange={(next) => !next && onClose()}
      title={`A recipe for ${number}`}
      description="First you see what it would change, what is unusual on top. Bars, and what was done by hand, stay."
    >
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          begin();
        }}
      >
        <fieldset className="grid max-h-64 gap-1 overflow-auto">
          <legend className="sr-only">Recipe</legend>
          <Choice checked={presetId === ''} onChoose={() => setPresetId('')}>
            House standard, each role its own
          </Choice>
          {presets.map(({ id, name, role, recipe }) => (
            <Choice key={id} checked={id === presetId} onChoose={() => setPresetId(id)}>
              {name}{' '}
              <span className="text-sm text-muted">
                {plural(recipe.steps.length, 'step')}
                {role ? `, made for ${role}` : ''}
              </span>
            </Choice>
          ))}
        </fieldset>
        <div className="flex items-center justify-between">
          <Link to="/house" className="text-sm underline decoration-rule underline-offset-3">
            House standard
          </Link>
          <Button kind="primary" type="submit" disabled={start.isPending || count === 0}>
            See what would change
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

function Choice({
  checked,
  onChoose,
  children,
}: {
  checked: boolean;
  onChoose: () => void;
  children: React.ReactNode;
}) {
  return (
    <label className="flex items-center gap-2 rounded-[3px] px-1 py-0.5 hover:bg-sunk">
      <input type="radio" name="recipe" checked={checked} onChange={onChoose} />
      <span>{children}</span>
    </label>
  );
}
