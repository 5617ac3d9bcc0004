import { useMutation, useQueryClient } from '@tanstack/react-query';
import { arrayMove } from '@dnd-kit/sortable';
import { Download } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { NAME_TOKENS, unknownTokens } from '../../core/exchange/naming.ts';
import { listen, toggleListening, usePlayer } from '../../sound/player.ts';
import { Button } from '../../ui/Button.tsx';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { useHistory } from '../../ui/history.ts';
import { RenameField } from '../../ui/RenameField.tsx';
import { useShortcuts } from '../../ui/shortcuts.ts';
import { UndoButtons } from '../../ui/UndoButtons.tsx';
import { sendJson } from '../api/client.ts';
import {
  takeOver,
  tellProblem,
  useBasket,
  useProjects,
  useRefresh,
  type BasketWire,
} from '../api/queries.ts';
import { fetchPhrase, phraseListening } from '../phrase/listening.ts';
import { BasketTable } from './BasketTable.tsx';
import { chooseBasket } from './current.ts';

/** A basket: its phrases in order, how their files are named, and the pack. */
export default function BasketView() {
  const { id = '' } = useParams();
  const { data: basket, error } = useBasket(id);
  if (error) return <EmptyState title="This basket could not be opened">{error.message}</EmptyState>;
  if (!basket) return <Busy what="Opening the basket" />;
  return <OpenBasket key={id} basket={basket} />;
}

/**
 * Contents and order, with what can be taken back. The history is what is shown, and every change of it is
 * written; what other windows change is taken over once nothing of ours is under way.
 */
function useContents(basket: BasketWire) {
  const client = useQueryClient();
  const refresh = useRefresh();
  const key = ['basket', basket.id];
  const serverIds = useMemo(() => basket.items.map((item) => item.id), [basket.items]);
  const history = useHistory<string[]>(serverIds);
  const { value: ids, set, reset } = history;
  const known = useRef(new Map<string, BasketItem>());
  for (const item of basket.items) known.current.set(item.id, item);
  const write = useMutation({
    mutationKey: key,
    scope: { id: `basket ${basket.id}` },
    mutationFn: (phraseIds: string[]) =>
      sendJson<BasketWire>('PUT', `/api/baskets/${basket.id}/items`, { phraseIds }),
    onSuccess: (answer) => takeOver(client, key, answer),
    onError: (error) => {
      tellProblem(error);
      void client.invalidateQueries({ queryKey: key });
    },
    onSettled: () => void refresh('baskets'),
  });
  const { mutate, isPending } = write;
  const written = useRef(serverIds);
  useEffect(() => {
    if (ids === written.current) return;
    written.current = ids;
    mutate(ids);
  }, [ids, mutate]);
  useEffect(() => {
    if (isPending || ids !== written.current || serverIds.join() === ids.join()) return;
    written.current = serverIds;
    reset(serverIds);
  }, [serverIds, isPending, ids, reset]);
  return {
    ...history,
    ids,
    items: ids.flatMap((id) => known.current.get(id) ?? []),
    set: (next: string[], label: string) => set(() => next, label),
  };
}

type BasketItem = BasketWire['items'][number];

function OpenBasket({ basket }: { basket: BasketWire }) {
  useEffect(() => chooseBasket(basket.id), [basket.id]);
  const contents = useContents(basket);
  const change = useBasketChange(basket.id);
  const [selectedId, setSelectedId] = useState<string>();
  const selected = contents.items.find((item) => item.id === selectedId) ?? contents.items[0];
  const sounding = usePlayer((player) => (player.state === 'playing' ? player.listening?.id : undefined));
  const hear = (id: string, toggles: boolean) =>
    void fetchPhrase(id)
      .then(phraseListening)
      .then(toggles ? toggleListening : listen)
      .catch(tellProblem);
  const remove = (item: BasketItem) =>
    contents.set(
      contents.ids.filter((id) => id !== item.id),
      `take out ${item.name}`,
    );
  const at = selected ? contents.ids.indexOf(selected.id) : -1;
  const step = (by: number) => {
    const next = contents.items[Math.min(Math.max(0, at + by), contents.items.length - 1)];
    if (!next) return;
    setSelectedId(next.id);
    if (sounding?.startsWith('phrase ') && sounding !== `phrase ${next.id}`) hear(next.id, false);
  };
  const moveBy = (by: number) => {
    const to = at + by;
    if (!selected || to < 0 || to >= contents.ids.length) return;
    setSelectedId(selected.id);
    contents.set(arrayMove(contents.ids, at, to), `order of ${selected.name}`);
  };
  useShortcuts({
    ' ': () => selected && hear(selected.id, true),
    ArrowUp: () => step(-1),
    ArrowDown: () => step(1),
    'Alt+ArrowUp': () => moveBy(-1),
    'Alt+ArrowDown': () => moveBy(1),
    Delete: () => selected && remove(selected),
    'Ctrl+z': contents.undo,
    'Ctrl+y': contents.redo,
  });
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col px-5 pt-3">
        <div className="mb-3 flex items-baseline gap-4">
          <h1 className="min-w-0 flex-1 text-xl">
            <RenameField
              label="Name of the basket"
              value={basket.name}
              onRename={(name) => change.mutate({ name })}
            />
          </h1>
          <UndoButtons
            undoes={contents.undoes}
            redoes={contents.redoes}
            onUndo={contents.undo}
            onRedo={contents.redo}
          />
        </div>
        {contents.items.length === 0 ? (
          <EmptyState
            title="The basket is empty"
            action={
              <Link className="underline" to="/library">
                Go to the library
              </Link>
            }
          >
            Choose phrases in the library and press B to put them here.
          </EmptyState>
        ) : (
          <BasketTable
            items={contents.items}
            selected={selected?.id}
            sounding={sounding?.replace('phrase ', '')}
            onSelect={setSelectedId}
            onListen={(id) => hear(id, true)}
            onOrder={(ids, name) => contents.set(ids, `order of ${name}`)}
            onRemove={remove}
          />
        )}
      </div>
      <aside className="flex w-[330px] flex-none flex-col gap-4 overflow-auto border-l border-rule p-4">
        <NamingBox basket={basket} onChange={(pattern) => change.mutate({ pattern })} />
        <ForProject basket={basket} onChange={(body) => change.mutate(body)} />
        <Checks basket={basket} />
        <PackBox basket={basket} />
      </aside>
    </>
  );
}

type BasketBody = Partial<Pick<BasketWire, 'name' | 'pattern' | 'projectId' | 'inProjectKey'>>;

function useBasketChange(id: string) {
  const client = useQueryClient();
  const refresh = useRefresh();
  return useMutation({
    mutationKey: ['basket', id],
    scope: { id: `basket ${id}` },
    mutationFn: (body: BasketBody) => sendJson<BasketWire>('PATCH', `/api/baskets/${id}`, body),
    // Shown at once; file names and keys follow with the server's answer.
    onMutate: (body) => client.setQueryData<BasketWire>(['basket', id], (old) => old && { ...old, ...body }),
    onError: (error) => {
      tellProblem(error);
      void client.invalidateQueries({ queryKey: ['basket', id] });
    },
    onSuccess: async (answer) => {
      takeOver(client, ['basket', id], answer);
      await refresh('baskets');
    },
  });
}

/** The naming pattern; the list shows at once what the files will be called. */
function NamingBox({ basket, onChange }: { basket: BasketWire; onChange: (pattern: string) => void }) {
  const [pattern, setPattern] = useState(basket.pattern);
  useEffect(() => {
    if (pattern === basket.pattern || pattern === '') return;
    const timer = setTimeout(() => onChange(pattern), 250);
    return () => clearTimeout(timer);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- onChange is new at every drawing
  }, [pattern, basket.pattern]);
  const unknown = unknownTokens(pattern);
  return (
    <section>
      <h2 className="mb-1">File names</h2>
      <input
        className="field w-full"
        aria-label="Naming pattern"
        value={pattern}
        maxLength={200}
        onChange={(event) => setPattern(event.target.value)}
      />
      <div className="mt-1.5 flex flex-wrap gap-1">
        {NAME_TOKENS.map((token) => (
          <button
            key={token}
            type="button"
            className="rounded-[3px] border border-rule bg-card px-1.5 text-xs text-muted hover:border-ink hover:text-ink"
            title={`Add {${token}} at the end`}
            onClick={() => setPattern(`${pattern}_{${token}}`)}
          >
            {token}
          </button>
        ))}
      </div>
      {unknown.length > 0 && (
        <p role="alert" className="mt-1 text-sm text-madder">
          There is no {unknown.map((token) => `{${token}}`).join(', ')}; it stays as it is written.
        </p>
      )}
      {basket.items[0] && <p className="mt-1 truncate text-sm text-muted">{basket.items[0].file}</p>}
    </section>
  );
}

function ForProject({ basket, onChange }: { basket: BasketWire; onChange: (body: BasketBody) => void }) {
  const { data: projects = [] } = useProjects();
  return (
    <section className="grid gap-1.5">
      <label className="grid gap-1">
        <span className="label">For the project</span>
        <select
          className="field"
          value={basket.projectId ?? ''}
          onChange={({ target: { value } }) => onChange({ projectId: value || null })}
        >
          <option value="">none</option>
          {projects.map((project) => (
            <option key={project.id} value={project.id}>
              {project.name}
            </option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-1.5 text-sm">
        <input
          type="checkbox"
          checked={basket.inProjectKey}
          disabled={!basket.projectId}
          onChange={(event) => onChange({ inProjectKey: event.target.checked })}
        />
        packed in the project's key and tempo, not as kept
      </label>
    </section>
  );
}

/** What the other person would stumble over. */
function Checks({ basket }: { basket: BasketWire }) {
  const { items } = basket;
  const unsaid = items.filter((item) => !item.rights).length;
  const found = [
    unsaid > 0 ? `The rights of ${unsaid} ${unsaid === 1 ? 'phrase are' : 'phrases are'} not said.` : null,
    new Set(items.map((item) => item.bpm)).size > 1 && !basket.inProjectKey
      ? 'The phrases have several tempos; each file carries its own.'
      : null,
  ].filter((text) => text !== null);
  if (items.length === 0) return null;
  return (
    <section>
      <h2 className="mb-1">Checks</h2>
      <ul className="grid gap-1 text-sm">
        {found.map((text) => (
          <li key={text} className="flex gap-1.5">
            <span className="text-madder" aria-hidden="true">
              !
            </span>
            {text}
          </li>
        ))}
        <li className="flex gap-1.5">
          <span className="text-good" aria-hidden="true">
            ✓
          </span>
          No two files have one name; every name opens on any system.
        </li>
      </ul>
    </section>
  );
}

function PackBox({ basket }: { basket: BasketWire }) {
  const navigate = useNavigate();
  const refresh = useRefresh();
  const [asking, setAsking] = useState(false);
  const remove = useMutation({
    mutationFn: () => sendJson('DELETE', `/api/baskets/${basket.id}`),
    onError: tellProblem,
    onSuccess: async () => {
      await refresh('baskets');
      void navigate('/handoff');
    },
  });
  const count = basket.items.length;
  return (
    <section className="mt-auto grid gap-2 border-t border-rule pt-3">
      <p className="text-sm text-muted">
        One ZIP: {count} {count === 1 ? 'phrase' : 'phrases'} as .mid, one .mid of all, manifest.json, and
        notes.txt with tempo, key and meter.
      </p>
      <a
        className={`inline-flex h-9 items-center justify-center gap-1.5 rounded-[3px] bg-indigo font-bold text-on-dye ${count === 0 ? 'pointer-events-none opacity-45' : 'hover:brightness-110'}`}
        href={count > 0 ? `/api/baskets/${basket.id}/pack` : undefined}
        aria-disabled={count === 0}
        download
      >
        <Download size={15} aria-hidden="true" /> Download ZIP
      </a>
      {asking ? (
        <div className="flex items-center justify-between gap-2 text-sm">
          Remove the basket? Its phrases stay.
          <span className="flex gap-1">
            <Button small onClick={() => remove.mutate()}>
              Remove
            </Button>
            <Button small onClick={() => setAsking(false)}>
              Keep it
            </Button>
          </span>
        </div>
      ) : (
        <Button kind="quiet" small onClick={() => setAsking(true)}>
          Remove this basket
        </Button>
      )}
    </section>
  );
}
