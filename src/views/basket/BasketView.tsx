import { ChoiceField, SelectField } from '../../ui/fields/SelectField.tsx';
import { useMutation } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import type { KeyChoice } from '../../core/reuse/in-project.ts';
import { NAME_TOKENS, unknownTokens } from '../../core/phrase/naming.ts';
import { Button } from '../../ui/Button.tsx';
import { useActions } from '../../ui/actions.ts';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { RenameField } from '../../ui/fields/RenameField.tsx';
import { UndoButtons } from '../../ui/history/UndoButtons.tsx';
import { toastWithUndo } from '../../ui/history/undoToast.ts';
import { sendJson } from '../api/client.ts';
import { tellProblem, useBasket, useProjects, renew, type BasketWire } from '../api/queries.ts';
import { BasketTable } from './BasketTable.tsx';
import { BringPhrasesIn } from './BringPhrasesIn.tsx';
import { Checks } from './Checks.tsx';
import { MirrorField } from './MirrorField.tsx';
import { PackButton, PackSettings, usePack } from './Pack.tsx';
import { chooseBasket } from '../shared/current-basket.ts';
import { editOf, type BasketEdit } from './edit.ts';
import { useBasketEditing } from './editing.ts';
import { useRowsHeard } from './heard.ts';
import { OwnWay } from './OwnWay.tsx';
import { useRowEditing } from './row-editing.ts';
import { useSelection } from './selection.ts';
import { GoToLibrary } from '../shared/GoToLibrary.tsx';
import { KEY_WORDS } from '../shared/leaving/file-fields.tsx';
import { openLeave } from '../shared/leaving/leaving.ts';
import { RecipientField } from '../shared/leaving/RecipientField.tsx';

/** A basket: its phrases in order, how their files are named, and the pack. */
export default function BasketView() {
  const { id = '' } = useParams();
  const { data: basket, error } = useBasket(id);
  if (error) return <EmptyState title="This basket could not be opened">{error.message}</EmptyState>;
  if (!basket) return <Busy what="Opening the basket" />;
  return <OpenBasket key={id} basket={basket} />;
}

function OpenBasket({ basket }: { basket: BasketWire }) {
  useEffect(() => chooseBasket(basket.id), [basket.id]);
  const contents = useBasketEditing(basket);
  const pack = usePack(basket);
  const { edit, items, change } = contents;
  const selection = useSelection(items);
  const { selected, ids } = selection;
  const [isBringing, setBringing] = useState(false);
  const [isOwnOpen, setOwnOpen] = useState(false);
  const editing = useRowEditing(contents, selection);
  const { hear, hearNext, sounding } = useRowsHeard(edit);
  const step = (by: number, stretches = false) => {
    const next = selection.step(by, stretches);
    if (next) hearNext(next);
  };
  useActions('Basket', [
    {
      title: 'Listen to the chosen phrase, or stop',
      keys: [' '],
      run: () => selected && hear(selected.id, true),
    },
    { title: 'The phrase above', keys: ['ArrowUp'], run: () => step(-1) },
    { title: 'The phrase below', keys: ['ArrowDown'], run: () => step(1) },
    {
      title: 'Choose the phrase too, or not',
      keys: ['x'],
      run: () => selected && selection.choose(selected.id, false),
    },
    { title: 'Choose on, upward', keys: ['Shift+ArrowUp'], run: () => step(-1, true) },
    { title: 'Choose on, downward', keys: ['Shift+ArrowDown'], run: () => step(1, true) },
    { title: 'Choose all phrases', keys: ['Ctrl+a'], run: selection.chooseAll },
    { title: 'Choose none', keys: ['Escape'], run: selection.chooseNone },
    { title: 'Move what is chosen up', keys: ['Alt+ArrowUp'], run: () => editing.move(-1) },
    { title: 'Move what is chosen down', keys: ['Alt+ArrowDown'], run: () => editing.move(1) },
    { title: 'Take what is chosen out', keys: ['Delete'], run: editing.takeOut },
    {
      title: 'A heading above the chosen phrase',
      keys: ['h'],
      run: editing.addHeading,
      words: 'section title group divide',
    },
    {
      title: 'How the chosen phrases leave, otherwise than the rest',
      keys: ['l'],
      run: () => selected && setOwnOpen(true),
      words: 'key tempo plain fitted own',
    },
    {
      title: 'Download the ZIP',
      run: () => void pack.start(),
      words: 'export pack save send hand off',
    },
    {
      title: 'How the phrases leave, and as which files',
      keys: ['Ctrl+Shift+e'],
      run: () =>
        openLeave({ kind: 'basket', id: basket.id, onOut: (out) => change({ out }, 'how they leave') }),
      words: 'export format key tempo kit controllers count-in recipient',
    },
    {
      title: 'Bring phrases of another basket or a project in',
      run: () => setBringing(true),
      words: 'add import from',
    },
    {
      title: 'Rename the basket',
      run: () => document.querySelector<HTMLInputElement>('[aria-label="Name of the basket"]')?.select(),
      words: 'name title',
    },
  ]);
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col px-5 pt-3">
        <div className="mb-3 flex items-baseline gap-3">
          <h1 className="min-w-0 flex-1 text-xl">
            <RenameField
              label="Name of the basket"
              value={edit.name}
              onRename={(name) => change({ name }, `name "${name}"`)}
            />
          </h1>
          {ids.size > 1 && <span className="text-sm">{ids.size} chosen</span>}
          <Button
            small
            disabled={!selected}
            onClick={editing.addHeading}
            title="A heading above the chosen phrase (H)"
          >
            Heading
          </Button>
          <Button small onClick={() => setBringing(true)}>
            Bring phrases in ...
          </Button>
          <UndoButtons history={contents} />
        </div>
        {edit.rows.length === 0 ? (
          <EmptyState title="The basket is empty" action={<GoToLibrary />}>
            Choose phrases in the library and press B to put them here.
          </EmptyState>
        ) : (
          <BasketTable
            rows={edit.rows}
            items={new Map(items.map((item) => [item.id, item]))}
            selected={selected?.id}
            chosen={selection.chosen}
            sounding={sounding?.replace('phrase ', '')}
            ownWay={(item) => (
              <OwnWay
                name={item.name}
                own={editing.ownOf(item.id)}
                count={ids.has(item.id) ? ids.size : 1}
                hasProject={edit.projectId !== null}
                hasRecipient={edit.recipientId !== null}
                isOpen={isOwnOpen && item.id === selected?.id}
                onOpen={(isOpen) => {
                  if (isOpen) selection.select(item.id);
                  setOwnOpen(isOpen);
                }}
                onChange={(own) => editing.setOwn(ids.has(item.id) ? ids : new Set([item.id]), own)}
              />
            )}
            onSelect={selection.select}
            onChoose={selection.choose}
            onListen={(id) => hear(id, true)}
            onOrder={(rows, name) => contents.setRows(rows, `order of ${name}`)}
            onRemove={editing.remove}
            onRename={editing.rename}
          />
        )}
      </div>
      {isBringing && (
        <BringPhrasesIn
          basketId={basket.id}
          ids={items.map(({ id }) => id)}
          onBring={(more, from) => contents.setRows([...edit.rows, ...more], `phrases of "${from}"`)}
          onHear={(id) => hear(id, true)}
          onClose={() => setBringing(false)}
        />
      )}
      <aside className="flex w-[330px] flex-none flex-col border-l border-rule">
        <div className="flex min-h-0 flex-1 flex-col gap-4 overflow-auto p-4">
          <NamingBox
            pattern={edit.pattern}
            example={items[0]?.file}
            onChange={(pattern) => change({ pattern }, 'file names')}
          />
          <ForWhom edit={edit} basketId={basket.id} onChange={change} />
          <PackSettings edit={edit} onChange={change} />
          <MirrorField
            mirror={edit.mirror}
            name={edit.name}
            onChange={(mirror) => change({ mirror }, 'mirror')}
          />
          <Checks basket={basket} />
        </div>
        <PackBox basket={basket} pack={pack} />
      </aside>
    </>
  );
}

/** The naming pattern; the list shows at once what the files will be called. */
function NamingBox({
  pattern,
  example,
  onChange,
}: {
  pattern: string;
  /** What the first file will be called. */
  example: string | undefined;
  onChange: (pattern: string) => void;
}) {
  const unknown = unknownTokens(pattern);
  return (
    <section>
      <h2 className="mb-1">File names</h2>
      <input
        className="field w-full"
        aria-label="Naming pattern"
        value={pattern}
        maxLength={200}
        onChange={(event) => onChange(event.target.value)}
      />
      <div className="mt-1.5 flex flex-wrap gap-1">
        {NAME_TOKENS.map((token) => (
          <button
            key={token}
            type="button"
            className="h-6 rounded-[3px] border border-rule bg-card px-1.5 text-xs text-muted hover:border-ink hover:text-ink"
            title={`Add {${token}} at the end`}
            onClick={() => onChange(`${pattern}_{${token}}`)}
          >
            {token}
          </button>
        ))}
      </div>
      {pattern.trim() === '' && (
        <p role="alert" className="mt-1 text-sm text-madder">
          An empty pattern names nothing: files keep the names they had until you write one.
        </p>
      )}
      {unknown.length > 0 && (
        <p role="alert" className="mt-1 text-sm text-madder">
          There is no {unknown.map((token) => `{${token}}`).join(', ')}; it stays as it is written.
        </p>
      )}
      {example && <p className="mt-1 truncate text-sm text-muted">{example}</p>}
    </section>
  );
}

/** For what and for whom it is gathered; how it leaves is chosen in the one dialog. */
function ForWhom({
  edit,
  basketId,
  onChange,
}: {
  edit: BasketEdit;
  basketId: string;
  onChange: (change: Partial<BasketEdit>, label: string) => void;
}) {
  const { data: projects = [] } = useProjects();
  const { out } = edit;
  const setKey = (key: KeyChoice) => ({ out: { ...out, key } });
  return (
    <section className="grid gap-1.5">
      <SelectField
        label="For the project"
        value={edit.projectId ?? ''}
        onChange={(value) =>
          onChange(
            {
              projectId: value || null,
              // Without a project nothing can leave in its key.
              ...(!value && out.key === 'project' ? setKey('captured') : {}),
              ...(value && !edit.projectId ? setKey('project') : {}),
            },
            'project',
          )
        }
      >
        <option value="">none</option>
        {projects.map((project) => (
          <option key={project.id} value={project.id}>
            {project.name}
          </option>
        ))}
      </SelectField>
      <RecipientField
        value={edit.recipientId}
        onChange={(recipientId) =>
          onChange(
            {
              recipientId,
              out: { ...out, fitting: recipientId ? 'card' : out.fitting === 'card' ? 'own' : out.fitting },
            },
            'recipient',
          )
        }
      />
      <ChoiceField
        label="Key and tempo in which they leave"
        words={KEY_WORDS}
        value={out.key}
        shut={edit.projectId ? [] : ['project']}
        onChange={(key) => onChange(setKey(key), 'key and tempo')}
      />
      <Button
        small
        onClick={() =>
          openLeave({
            kind: 'basket',
            id: basketId,
            onOut: (next) => onChange({ out: next }, 'how they leave'),
          })
        }
      >
        How they leave, and as which files
      </Button>
    </section>
  );
}

/** Makes a removed basket again. Returns its id. */
async function bringBack(basket: BasketWire): Promise<string> {
  const { rows, ...settings } = editOf(basket);
  const { id } = await sendJson<{ id: string }>('POST', '/api/baskets', { name: settings.name });
  await sendJson('PATCH', `/api/baskets/${id}`, settings);
  await sendJson('PUT', `/api/baskets/${id}/items`, { rows });
  return id;
}

function PackBox({ basket, pack }: { basket: BasketWire; pack: ReturnType<typeof usePack> }) {
  const navigate = useNavigate();
  const remove = useMutation({
    mutationFn: () => sendJson('DELETE', `/api/baskets/${basket.id}`),
    onError: tellProblem,
    onSuccess: async () => {
      await renew('baskets');
      void navigate('/handoff');
      toastWithUndo(`The basket "${basket.name}" is removed. Its phrases stay.`, 'removing', () => {
        bringBack(basket)
          .then(async (id) => {
            await renew('baskets');
            void navigate(`/handoff/${id}`);
          })
          .catch(tellProblem);
      });
    },
  });
  return (
    <section className="grid flex-none gap-2 border-t border-rule p-4">
      <PackButton basket={basket} pack={pack} />
      <Button kind="quiet" small onClick={() => remove.mutate()} disabled={remove.isPending}>
        Remove this basket
      </Button>
    </section>
  );
}
