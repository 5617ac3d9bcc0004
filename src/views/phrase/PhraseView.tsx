import { useMutation, useQueries, useQuery, useQueryClient } from '@tanstack/react-query';
import { Play } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import type { Take } from '../../core/capture/take.ts';
import { correctTake } from '../../core/split/corrections.ts';
import { keyName, parseKey, sameKey, usesFlats } from '../../core/music/key.ts';
import { barsUntil } from '../../core/music/timeline.ts';
import { isPitched } from '../../core/phrase/clip.ts';
import { ROLES } from '../../core/split/roles.ts';
import type { Grid } from '../../core/normalize/grid.ts';
import { refresh as refreshPlayer, toggleListening, usePlayer, type Listening } from '../../sound/player.ts';
import { Button } from '../../ui/Button.tsx';
import { FileLink } from '../../ui/ButtonLink.tsx';
import { useActions } from '../../ui/actions.ts';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { useHistory } from '../../ui/history.ts';
import { KeyOptions } from '../../ui/KeyOptions.tsx';
import { ROLE_LOOK } from '../../ui/roles.ts';
import { zoomed, type TimeWindow } from '../../ui/strand.ts';
import { TagField } from '../../ui/TagField.tsx';
import { UndoButtons } from '../../ui/UndoButtons.tsx';
import { CLOSER, ZoomButtons } from '../../ui/ZoomButtons.tsx';
import { toastWithUndo } from '../../ui/undoToast.ts';
import { sendJson } from '../api/client.ts';
import {
  phraseQuery,
  tellProblem,
  useProjects,
  renew,
  useTakeNotes,
  useTakeRow,
  type PhraseWire,
  type TakeWire,
} from '../api/queries.ts';
import { barLinesWithBeats } from '../take/strand-columns.ts';
import { editOf, rememberUnsaved, unsavedEdit, usePhraseClips, type PhraseEdit } from './editing.ts';
import { heardClip } from './listening.ts';
import { NotePairs } from './NotePairs.tsx';
import { PhraseGraphs } from './PhraseGraphs.tsx';
import { RecipePanel } from './RecipePanel.tsx';
import { SheafList } from './SheafList.tsx';

/** A phrase: hollow and solid notes, and the recipe between them. */
export default function PhraseView() {
  const { id = '' } = useParams();
  const phrase = useQuery(phraseQuery(id));
  const row = useTakeRow(phrase.data?.takeId);
  const take = useTakeNotes(row.data);
  const corrections = phrase.data?.corrections;
  const corrected = useMemo(
    () => take.data && correctTake(take.data, corrections ?? []),
    [take.data, corrections],
  );
  const problem = phrase.error ?? (phrase.data && (row.error ?? take.error));
  if (problem) return <EmptyState title="This phrase could not be opened">{problem.message}</EmptyState>;
  if (!phrase.data || !row.data || !corrected) return <Busy what="Opening the phrase" />;
  return <OpenPhrase key={id} phrase={phrase.data} row={row.data} take={corrected} />;
}

function OpenPhrase({ phrase, row, take }: { phrase: PhraseWire; row: TakeWire; take: Take }) {
  const history = useHistory<PhraseEdit>(
    editOf(phrase),
    useMemo(() => unsavedEdit(phrase), [phrase]),
  );
  const { value: edit, set } = history;
  const { result, hollow, captured } = usePhraseClips(phrase, take, edit);
  const solid = result.clip;
  const bars = useMemo(
    () => barLinesWithBeats(solid.timeline, Math.max(1, barsUntil(solid.timeline, solid.length))),
    [solid],
  );
  const all = useMemo((): TimeWindow => ({ fromTick: 0, toTick: Math.max(1, solid.length) }), [solid.length]);
  const [closeUp, setCloseUp] = useState<TimeWindow | null>(null);
  const window = closeUp && closeUp.toTick <= all.toTick ? closeUp : all;
  const zoom = (factor: number) =>
    setCloseUp(zoomed(window, window.fromTick + (window.toTick - window.fromTick) / 2, factor, all.toTick));
  const [asCaptured, setAsCaptured] = useState(false);
  const [withSheaf, setWithSheaf] = useState(false);
  const siblings = useQueries({ queries: phrase.siblings.map(({ id }) => phraseQuery(id)) });
  const siblingsLoaded = siblings.map(({ dataUpdatedAt }) => dataUpdatedAt).join();

  const listening = useMemo((): Listening => {
    const own = asCaptured ? captured : heardClip(solid, edit);
    const others = withSheaf
      ? siblings.flatMap(({ data }) => (data ? [{ id: data.id, clip: heardClip(data.clip, data) }] : []))
      : [];
    return {
      id: `phrase ${phrase.id}`,
      title: edit.name,
      subtitle: asCaptured ? 'as captured' : `normalized, from ${phrase.takeName}`,
      lanes: [{ id: phrase.id, clip: own }, ...others],
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the queries' list is new at every drawing
  }, [asCaptured, withSheaf, captured, solid, edit, phrase.id, phrase.takeName, siblingsLoaded]);
  useEffect(() => refreshPlayer(listening), [listening]);
  const isPlaying = usePlayer(
    (player) => player.state === 'playing' && player.listening?.id === listening.id,
  );

  const save = useSave(phrase, edit);
  const isChanged = JSON.stringify(edit) !== JSON.stringify(editOf(phrase));
  useEffect(() => rememberUnsaved(phrase, edit, isChanged), [phrase, edit, isChanged]);
  useActions('Phrase', [
    { title: 'Listen, or stop', keys: [' '], run: () => void toggleListening(listening) },
    { title: 'Hear as captured, or as normalized', keys: ['c'], run: () => setAsCaptured((now) => !now) },
    { title: 'Save', keys: ['Ctrl+s'], run: () => save.mutate({ keepSheaf: false }) },
    { title: 'Closer', keys: ['+'], run: () => zoom(CLOSER) },
    { title: 'Farther', keys: ['-'], run: () => zoom(1 / CLOSER) },
    { title: 'Show all bars', keys: ['0'], run: () => setCloseUp(null) },
    { title: 'Take back', keys: ['Ctrl+z'], run: history.undo },
    { title: 'Do again', keys: ['Ctrl+y'], run: history.redo },
  ]);

  const quantizeStep = edit.recipe.steps.find((step) => step.step === 'quantize');
  const grid: Grid = quantizeStep?.grid ?? '1/16';
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col gap-2 px-5 pt-3 pb-3">
        <div className="flex items-baseline gap-4">
          <h1 className="min-w-0 flex-1 text-xl">
            <input
              aria-label="Name of the phrase"
              className="w-full rounded-[3px] border border-transparent bg-transparent hover:border-rule focus:bg-card"
              value={edit.name}
              maxLength={200}
              onChange={(event) => set((old) => ({ ...old, name: event.target.value }), 'name')}
            />
          </h1>
          <span className="text-sm text-muted">
            from{' '}
            <Link className="underline decoration-rule underline-offset-3" to={`/split/${row.id}`}>
              {row.name}
            </Link>
            , {phrase.partName}, bars {phrase.startBar} to {phrase.startBar + phrase.bars - 1}
          </span>
        </div>
        <div className="flex items-center gap-4 text-sm">
          <span className="flex items-center gap-1.5">
            <svg width="22" height="10" aria-hidden="true">
              <rect
                x="1"
                y="1"
                width="20"
                height="8"
                rx="4"
                fill="none"
                stroke="var(--ink)"
                strokeWidth="1.2"
              />
            </svg>
            as captured
          </span>
          <span className="flex items-center gap-1.5">
            <svg
              width="22"
              height="10"
              aria-hidden="true"
              style={{ color: `var(--${ROLE_LOOK[edit.role].dye})` }}
            >
              <rect x="1" y="2" width="20" height="6" rx="3" fill="currentColor" />
            </svg>
            as the recipe leaves it
          </span>
          <span className="text-muted">
            {isPitched(solid) && solid.key
              ? `drawn and kept in ${keyName(solid.key)}`
              : 'drawn on the lanes of the kit'}
          </span>
          <div className="ml-auto flex gap-3">
            <ZoomButtons whole="all bars" onZoom={zoom} onWhole={() => setCloseUp(null)} />
            <UndoButtons history={history} />
          </div>
        </div>
        <NotePairs
          hollow={hollow}
          solid={solid}
          bars={bars}
          window={window}
          onWindow={setCloseUp}
          flats={solid.key ? usesFlats(solid.key) : false}
          isPlaying={isPlaying}
        />
        <div className="flex items-center gap-3">
          <Button onClick={() => void toggleListening(listening)}>
            <Play size={13} aria-hidden="true" /> Listen
          </Button>
          <fieldset className="flex items-center gap-3 text-sm">
            <legend className="sr-only">What is heard</legend>
            <label className="flex items-center gap-1.5">
              <input type="radio" name="heard" checked={asCaptured} onChange={() => setAsCaptured(true)} /> as
              captured
            </label>
            <label className="flex items-center gap-1.5">
              <input type="radio" name="heard" checked={!asCaptured} onChange={() => setAsCaptured(false)} />{' '}
              normalized
            </label>
          </fieldset>
          {phrase.siblings.length > 0 && (
            <label className="flex items-center gap-1.5 text-sm">
              <input
                type="checkbox"
                checked={withSheaf}
                onChange={(event) => setWithSheaf(event.target.checked)}
              />
              with the rest of its sheaf
            </label>
          )}
          <span className="ml-auto text-sm text-muted">
            {solid.notes.length} notes in it
            {result.setAside.map(({ reason, origins }) => `, ${origins.length} left ${reason}`).join('')}
          </span>
        </div>
        <PhraseGraphs hollow={hollow} solid={solid} grid={grid} />
      </div>
      <aside className="flex w-[340px] flex-none flex-col border-l border-rule">
        <div className="flex min-h-0 flex-1 flex-col gap-4 overflow-auto p-4">
          <RecipePanel
            recipe={edit.recipe}
            reports={result.reports}
            role={edit.role}
            minor={edit.takeKey?.mode === 'minor'}
            onChange={(change, label) => set((old) => ({ ...old, recipe: change(old.recipe) }), label)}
          />
          <PhraseFacts edit={edit} set={set} row={row} />
          {phrase.siblings.length > 0 && (
            <section>
              <h2 className="mb-1">{phrase.sheafName}</h2>
              <SheafList siblings={phrase.siblings} />
            </section>
          )}
        </div>
        <SaveBox phrase={phrase} isChanged={isChanged} save={save} />
      </aside>
    </>
  );
}

/** Role, key, project, tags and rights. */
function PhraseFacts({
  edit,
  set,
  row,
}: {
  edit: PhraseEdit;
  set: (change: (now: PhraseEdit) => PhraseEdit, label: string) => void;
  row: TakeWire;
}) {
  const { data: projects = [] } = useProjects();
  const runnerUp = row.keys.find((key) => !edit.takeKey || !sameKey(key, edit.takeKey));
  return (
    <section
      aria-label="About the phrase"
      className="grid grid-cols-[62px_1fr] items-center gap-x-2 gap-y-1.5"
    >
      <label className="label" htmlFor="phrase-role">
        Role
      </label>
      <select
        id="phrase-role"
        className="field h-7"
        value={edit.role}
        onChange={({ target: { value } }) =>
          set((old) => ({ ...old, role: ROLES.find((role) => role === value)! }), 'role')
        }
      >
        {ROLES.map((role) => (
          <option key={role} value={role}>
            {ROLE_LOOK[role].title}
          </option>
        ))}
      </select>
      <label className="label" htmlFor="phrase-key">
        Take's key
      </label>
      <div className="flex items-center gap-2">
        <select
          id="phrase-key"
          className="field h-7"
          value={edit.takeKey ? keyName(edit.takeKey) : ''}
          onChange={({ target: { value } }) =>
            set((old) => ({ ...old, takeKey: parseKey(value) ?? null }), 'key')
          }
        >
          <KeyOptions none="not known" />
        </select>
        {runnerUp && (
          <button
            type="button"
            className="truncate text-sm text-muted underline decoration-rule underline-offset-3 hover:text-ink"
            title="Take this key instead"
            onClick={() =>
              set((old) => ({ ...old, takeKey: { tonic: runnerUp.tonic, mode: runnerUp.mode } }), 'key')
            }
          >
            or {keyName(runnerUp)} {runnerUp.certainty.toFixed(2)}
          </button>
        )}
      </div>
      <label className="label" htmlFor="phrase-project">
        Project
      </label>
      <select
        id="phrase-project"
        className="field h-7"
        value={edit.projectId ?? ''}
        onChange={({ target: { value } }) => set((old) => ({ ...old, projectId: value || null }), 'project')}
      >
        <option value="">none</option>
        {projects.map((project) => (
          <option key={project.id} value={project.id}>
            {project.name}
          </option>
        ))}
      </select>
      <label className="label" htmlFor="phrase-rights">
        Rights
      </label>
      <input
        id="phrase-rights"
        className="field h-7"
        placeholder="own work, licensed, ..."
        maxLength={200}
        value={edit.rights}
        onChange={(event) => set((old) => ({ ...old, rights: event.target.value }), 'rights')}
      />
      <span className="label">Tags</span>
      <TagField tags={edit.tags} onChange={(tags) => set((old) => ({ ...old, tags }), 'tags')} />
    </section>
  );
}

function setState(phraseIds: string[], state: 'draft' | 'kept' | 'discarded'): Promise<unknown> {
  return sendJson('POST', '/api/phrases/state', { phraseIds, state });
}

/** Saves what was changed; a draft becomes kept by it. */
function useSave(phrase: PhraseWire, edit: PhraseEdit) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async ({ keepSheaf }: { keepSheaf: boolean }) => {
      const saved = await sendJson<PhraseWire>('PUT', `/api/phrases/${phrase.id}`, {
        ...edit,
        state: 'kept',
      });
      if (keepSheaf)
        await setState(
          phrase.siblings.map(({ id }) => id),
          'kept',
        );
      return saved;
    },
    onError: tellProblem,
    onSuccess: async (saved, { keepSheaf }) => {
      client.setQueryData(['phrase', phrase.id], saved);
      await renew(
        'phrases',
        'facets',
        'drafts',
        'takes',
        'baskets',
        'basket',
        ...(keepSheaf ? ['phrase'] : []),
      );
      toast.success(
        phrase.state === 'kept'
          ? 'Saved.'
          : keepSheaf
            ? `The sheaf of ${phrase.siblings.length + 1} is kept in the library.`
            : `"${saved.name}" is kept in the library.`,
      );
    },
  });
}

function SaveBox({
  phrase,
  isChanged,
  save,
}: {
  phrase: PhraseWire;
  isChanged: boolean;
  save: ReturnType<typeof useSave>;
}) {
  const navigate = useNavigate();
  const discard = useMutation({
    mutationFn: () => setState([phrase.id], 'discarded'),
    onError: tellProblem,
    onSuccess: async () => {
      await renew('drafts', 'takes', 'take');
      void navigate(`/split/${phrase.takeId}`);
      toastWithUndo(`"${phrase.name}" is discarded.`, 'discarding', () => {
        setState([phrase.id], 'draft')
          .then(() => renew('drafts', 'takes', 'take'))
          .then(() => navigate(`/normalize/${phrase.id}`))
          .catch(tellProblem);
      });
    },
  });
  const isDraft = phrase.state === 'draft';
  return (
    <div className="grid gap-2 border-t border-rule p-4">
      <div className="flex gap-2">
        {isDraft ? (
          <Button kind="quiet" onClick={() => discard.mutate()} disabled={discard.isPending}>
            Discard draft
          </Button>
        ) : (
          <FileLink href={`/api/phrases/${phrase.id}/file`}>Export .mid</FileLink>
        )}
        <Button
          kind="primary"
          className="flex-1"
          disabled={save.isPending || (!isDraft && !isChanged)}
          onClick={() => save.mutate({ keepSheaf: false })}
        >
          {isDraft ? 'Keep in library' : isChanged ? 'Save changes' : 'Saved'}
        </Button>
      </div>
      {isDraft && phrase.siblings.length > 0 && (
        <Button onClick={() => save.mutate({ keepSheaf: true })} disabled={save.isPending}>
          Keep the whole sheaf of {phrase.siblings.length + 1}
        </Button>
      )}
    </div>
  );
}
