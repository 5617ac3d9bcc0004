import { Link } from 'react-router';
import { object, string } from 'yup';
import { plural } from '../../../core/words.ts';
import { Dialog } from '../../../ui/Dialog.tsx';
import { CheckedForm, SubmitButton, useCheckedForm } from '../../../ui/form/checked-form.tsx';
import { usePresets } from '../../api/queries.ts';
import { useStartBatch, type ChosenPhrases } from './start.ts';

/** The recipe by its id; the house's where it is empty. */
const choiceSchema = object({ preset: string().defined() });

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
  const form = useCheckedForm(choiceSchema, { preset: '' });
  const start = useStartBatch();
  const number = plural(count, 'phrase');
  const begin = ({ preset: id }: { preset: string }) => {
    const preset = presets.find((one) => one.id === id);
    return start.mutateAsync({
      title: `${preset ? `"${preset.name}"` : 'House standard'} for ${number}`,
      recipe: preset?.recipe ?? null,
      ...phrases,
    });
  };
  return (
    <Dialog
      open={open}
      onOpenChange={(next) => !next && onClose()}
      title={`A recipe for ${number}`}
      description="First you see what it would change, what is unusual on top. Bars, and what was done by hand, stay."
    >
      <CheckedForm form={form} onSubmit={begin}>
        <fieldset className="grid max-h-64 gap-1 overflow-auto">
          <legend className="sr-only">Recipe</legend>
          <label className={CHOICE}>
            <input type="radio" value="" {...form.register('preset')} />
            <span>House standard, each role its own</span>
          </label>
          {presets.map(({ id, name, role, recipe }) => (
            <label key={id} className={CHOICE}>
              <input type="radio" value={id} {...form.register('preset')} />
              <span>
                {name}{' '}
                <span className="text-sm text-muted">
                  {plural(recipe.steps.length, 'step')}
                  {role ? `, made for ${role}` : ''}
                </span>
              </span>
            </label>
          ))}
        </fieldset>
        <div className="flex items-center justify-between">
          <Link to="/house" className="text-sm underline decoration-rule underline-offset-3">
            House standard
          </Link>
          <SubmitButton disabled={count === 0}>See what would change</SubmitButton>
        </div>
      </CheckedForm>
    </Dialog>
  );
}

const CHOICE = 'flex items-center gap-2 rounded-[3px] px-1 py-0.5 hover:bg-sunk';
