import { useState } from 'react';
import { keyName } from '../../../core/music/key.ts';
import { fittingInWords } from '../../../core/normalize/fitting.ts';
import { STEP_TITLES, type Recipe, type RecipeStep } from '../../../core/normalize/recipe.ts';
import { Button } from '../../../ui/Button.tsx';
import { Dialog } from '../../../ui/Dialog.tsx';
import type { useHistory } from '../../../ui/history/history.ts';
import { useProjects } from '../../api/queries.ts';
import type { PhraseEdit } from '../../../core/merge/phrase-edits.ts';

/** Says that another window has saved the phrase, shows both versions, and lets one be chosen. */
export function BehindBox({
  mine,
  theirs,
  history,
}: {
  mine: PhraseEdit;
  theirs: PhraseEdit;
  history: ReturnType<typeof useHistory<PhraseEdit>>;
}) {
  const [isOpen, setOpen] = useState(false);
  const { data: projects = [] } = useProjects();
  const nameOf = (id: string | null) => projects.find((project) => project.id === id)?.name ?? 'none';
  const rows = differences(mine, theirs, nameOf);
  const keepMine = () => history.rebase(theirs);
  const takeTheirs = () => {
    history.set(() => theirs, 'taking the other version');
    history.rebase(theirs);
  };
  return (
    <section role="alert" className="grid gap-2 border-l-3 border-l-madder bg-card p-2 text-sm">
      <p>Another window has saved this phrase since you began. Nothing of yours is lost.</p>
      <Button small onClick={() => setOpen(true)}>
        See both and choose
      </Button>
      <Dialog
        open={isOpen}
        onOpenChange={setOpen}
        title="Two versions of this phrase"
        description="What differs. Either choice can be taken back."
      >
        <table className="mb-4 w-full text-sm">
          <thead>
            <tr className="border-b border-rule text-left text-muted">
              <th className="w-28 py-1 font-normal">What</th>
              <th className="py-1 font-normal">Yours, not saved</th>
              <th className="py-1 font-normal">Saved in the other window</th>
            </tr>
          </thead>
          <tbody>
            {rows.map(({ what, mine: own, theirs: other }) => (
              <tr key={what} className="border-b border-thread align-top">
                <th scope="row" className="py-1 pr-2 text-left font-normal text-muted">
                  {what}
                </th>
                <td className="py-1 pr-2">{own}</td>
                <td className="py-1">{other}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <div className="flex justify-end gap-2">
          <Button onClick={takeTheirs}>Take theirs</Button>
          <Button kind="primary" onClick={keepMine}>
            Go on with mine
          </Button>
        </div>
      </Dialog>
    </section>
  );
}

/** What two versions of a phrase differ in, in words. */
function differences(mine: PhraseEdit, theirs: PhraseEdit, projectName: (id: string | null) => string) {
  const words = (edit: PhraseEdit): Record<string, string> => ({
    Name: edit.name,
    Role: edit.role,
    "Take's key": edit.takeKey ? keyName(edit.takeKey) : 'not known',
    ...recipeWords(edit.recipe),
    Fitting: fittingInWords(edit.fitting) || 'none',
    Tags: edit.tags.join(', ') || 'none',
    Project: projectName(edit.projectId),
    Rights: edit.rights || 'not said',
  });
  const [own, other] = [words(mine), words(theirs)];
  return [...new Set([...Object.keys(own), ...Object.keys(other)])]
    .filter((what) => own[what] !== other[what])
    .map((what) => ({ what, mine: own[what] ?? 'not in it', theirs: other[what] ?? 'not in it' }));
}

function recipeWords({ steps }: Recipe): Record<string, string> {
  return Object.fromEntries(
    steps.map((step) => [STEP_TITLES[step.step], step.off ? 'off' : allInWords(step)]),
  );
}

/** A step by everything it is told: "start 3, count 4". */
function allInWords({ step: _, off: __, ...params }: RecipeStep): string {
  return Object.entries(params)
    .map(([name, value]) => `${name} ${typeof value === 'object' ? JSON.stringify(value) : String(value)}`)
    .join(', ');
}
