import { useMutation } from '@tanstack/react-query';
import { ChevronDown, X } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { Link } from 'react-router';
import { toast } from 'sonner';
import { parseRecipe } from '../../../core/normalize/parse.ts';
import type { Recipe } from '../../../core/normalize/recipe.ts';
import type { Role } from '../../../core/split/roles.ts';
import { Button } from '../../../ui/Button.tsx';
import { PopoverCard } from '../../../ui/PopoverCard.tsx';
import { saveFile } from '../../../ui/save-file.ts';
import { ROLE_LOOK } from '../../../ui/drawing/roles.ts';
import { toastWithUndo } from '../../../ui/history/undoToast.ts';
import { sendJson } from '../../api/client.ts';
import { NameForm } from '../../shared/editing/NameForm.tsx';
import { renew, tellProblem, usePresets } from '../../api/queries.ts';

type PresetWire = NonNullable<ReturnType<typeof usePresets>['data']>[number];

/** Recipes that are at hand: the house's for the role, and those that were kept under names of their own. */
export function PresetMenu({
  recipe,
  role,
  onHouse,
  onPreset,
  onFile,
}: {
  recipe: Recipe;
  role: Role;
  onHouse: () => void;
  onPreset: (preset: PresetWire) => void;
  onFile: (recipe: Recipe, file: string) => void;
}) {
  const [open, setOpen] = useState(false);
  const { data: presets = [] } = usePresets();
  const keep = useMutation({
    mutationFn: (preset: { name: string; role: Role | null; recipe: Recipe }) =>
      sendJson('PUT', '/api/presets', preset),
    onError: tellProblem,
    onSuccess: async (_, preset) => {
      await renew('presets');
      toast.success(`Preset "${preset.name}" is kept.`);
    },
  });
  const remove = useMutation({
    mutationFn: ({ id }: PresetWire) => sendJson('DELETE', `/api/presets/${id}`),
    onError: tellProblem,
    onSuccess: async (_, preset) => {
      await renew('presets');
      toastWithUndo(`Preset "${preset.name}" is removed.`, 'removing', () =>
        keep.mutate({ name: preset.name, role: preset.role, recipe: preset.recipe }),
      );
    },
  });
  const choose = (act: () => void) => {
    act();
    setOpen(false);
  };
  const fitting = presets.filter((preset) => preset.role === null || preset.role === role);
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button small kind="quiet">
          Presets <ChevronDown size={13} aria-hidden="true" />
        </Button>
      </Popover.Trigger>
      <PopoverCard label="Presets" className="w-72">
        <Button small className="w-full" onClick={() => choose(onHouse)}>
          House standard, {ROLE_LOOK[role].title.toLowerCase()}
        </Button>
        <ul className="mt-2 grid gap-0.5">
          {fitting.map((preset) => (
            <li key={preset.id} className="flex items-center gap-1">
              <button
                type="button"
                className="min-w-0 flex-1 truncate rounded-[3px] px-1.5 py-0.5 text-left hover:bg-sunk"
                onClick={() => choose(() => onPreset(preset))}
              >
                {preset.name} <span className="text-sm text-muted">{preset.recipe.steps.length} steps</span>
              </button>
              <button
                type="button"
                aria-label={`Remove preset ${preset.name}`}
                className="flex size-6 items-center justify-center rounded-[3px] text-muted hover:bg-sunk hover:text-ink"
                onClick={() => remove.mutate(preset)}
              >
                <X size={13} />
              </button>
            </li>
          ))}
        </ul>
        <NameForm
          small
          className="mt-2 border-t border-thread pt-2"
          label="Name of the new preset"
          placeholder={`these steps, for ${role}`}
          button="Keep"
          onName={(name) => keep.mutateAsync({ name, role, recipe })}
        />
        <div className="mt-2 flex gap-2">
          <Button small onClick={() => saveRecipe(recipe)} title="For the command line, or somebody else">
            Save as a file
          </Button>
          <label className="inline-flex h-6 cursor-pointer items-center rounded-[3px] border border-rule bg-card px-1.5 text-xs focus-within:outline-2 hover:border-ink">
            From a file ...
            <input
              type="file"
              accept=".json,application/json"
              className="sr-only"
              onChange={({ target }) => {
                const [file] = target.files ?? [];
                if (file) readRecipe(file).then((read) => choose(() => onFile(read, file.name)), tellProblem);
              }}
            />
          </label>
        </div>
        <p className="mt-2 text-xs text-muted">
          Bars and what was done by hand stay with the phrase. <Link to="/house">House standard</Link>
        </p>
      </PopoverCard>
    </Popover.Root>
  );
}

/** A recipe file, as docs/formats/recipe.md describes it. */
function saveRecipe(recipe: Recipe): void {
  const text = `${JSON.stringify(recipe, null, 2)}\n`;
  saveFile(new TextEncoder().encode(text), 'recipe.json', 'application/json');
}

/** @throws Error with a sentence where the file holds no recipe. */
async function readRecipe(file: File): Promise<Recipe> {
  let value: unknown;
  try {
    value = JSON.parse(await file.text());
  } catch {
    throw new Error(`"${file.name}" is not JSON: a recipe file is what "Save as a file" writes.`);
  }
  return parseRecipe(value);
}
