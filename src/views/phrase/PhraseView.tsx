import { mergedPhraseEdits } from '../../core/merge/phrase-edits.ts';
import { useQueries, useQuery } from '@tanstack/react-query';
import { Play } from 'lucide-react';
import equal from 'fast-deep-equal';
import { useEffect, useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { Take } from '../../core/capture/take.ts';
import { keyName, usesFlats } from '../../core/music/key.ts';
import { barsUntil } from '../../core/music/timeline.ts';
import { between } from '../../core/normalize/between.ts';
import { gridTicks, type Grid } from '../../core/normalize/grid.ts';
import { activeStep } from '../../core/normalize/recipe.ts';
import { seamClip } from '../../core/normalize/seam.ts';
import { clashesBetween } from '../../core/clash/clashes.ts';
import { clashInWords } from '../../core/clash/words.ts';
import { isPitched, type Clip } from '../../core/phrase/clip.ts';
import { inKey } from '../../core/reuse/in-project.ts';
import { correctTake } from '../../core/split/corrections.ts';
import { plural } from '../../core/words.ts';
import { listen, toggleListening, type Listening } from '../../sound/player.ts';
import { Button } from '../../ui/Button.tsx';
import { useActions } from '../../ui/actions.ts';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { useFollowed, useHistory } from '../../ui/history/history.ts';
import { ROLE_LOOK } from '../../ui/drawing/roles.ts';
import { type TimeWindow, middleOf, zoomed } from '../../ui/drawing/time-window.ts';
import { Tabs } from '../../ui/Tabs.tsx';
import { ThinSlider } from '../../ui/fields/ThinSlider.tsx';
import { UndoButtons } from '../../ui/history/UndoButtons.tsx';
import { CLOSER, ZoomButtons } from '../../ui/drawing/ZoomButtons.tsx';
import { phraseQuery, useCapturedTake, useTakeRow, type PhraseWire, type TakeWire } from '../api/queries.ts';
import { barLinesWithBeats } from '../shared/takes/strand-columns.ts';
import { ChosenNotes } from './notes/ChosenNotes.tsx';
import { phraseEditOf, type PhraseEdit } from '../../core/merge/phrase-edits.ts';
import { rememberUnsaved, unsavedEdit, usePhraseClips } from './editing.ts';
import { FeelMenu } from './steps/FeelMenu.tsx';
import { FittingFields } from './steps/FittingFields.tsx';
import { useAskedSave } from './asked-save.ts';
import { useHandEditing } from './notes/hand-editing.ts';
import { heardClip } from '../shared/phrases/listening.ts';
import { NotePairs } from './notes/NotePairs.tsx';
import { PhraseFacts } from './PhraseFacts.tsx';
import { PhraseGraphs } from './notes/PhraseGraphs.tsx';
import { PhraseSeam } from './notes/PhraseSeam.tsx';
import { RecipePanel } from './steps/RecipePanel.tsx';
import { SaveBox, useSave } from './SaveBox.tsx';
import { UsedElsewhere } from './UsedElsewhere.tsx';
import { useOffered } from '../shared/leaving/offered.ts';
import { SheafList } from '../shared/phrases/SheafList.tsx';

/** A phrase: hollow and solid notes, and the recipe between them. */
export default function PhraseView() {
  const { id = '' } = useParams();
  const phrase = useQuery(phraseQuery(id));
  const row = useTakeRow(phrase.data?.takeId);
  const captured = useCapturedTake(row.data);
  const corrections = phrase.data?.corrections;
  const corrected = useMemo(
    () => captured.data && correctTake(captured.data.take, corrections ?? []),
    [captured.data, corrections],
  );
  const problem = phrase.error ?? (phrase.data && (row.error ?? captured.error));
  if (problem) return <EmptyState title="This phrase could not be opened">{problem.message}</EmptyState>;
  if (!phrase.data || !row.data || !corrected) return <Busy what="Opening the phrase" />;
  return <OpenPhrase key={id} phrase={phrase.data} row={row.data} take={corrected} />;
}

function OpenPhrase({ phrase, row, take }: { phrase: PhraseWire; row: TakeWire; take: Take }) {
  const source = `phrase ${phrase.id}`;
  const kept = useMemo(() => phraseEditOf(phrase), [phrase]);
  const history = useHistory<PhraseEdit>(
    source,
    kept,
    `/normalize/${phrase.id}`,
    useMemo(() => unsavedEdit(phrase.id), [phrase.id]),
  );
  const isBehind = useFollowed(history, source, kept, mergedPhraseEdits);
  const { value: edit, set } = history;
  const { result, hollow, captured } = usePhraseClips(phrase, take, edit);
  const solid = result.clip;
  const { window, setCloseUp, zoom } = useCloseUp(solid);
  const bars = useMemo(
    () => barLinesWithBeats(solid.timeline, Math.max(1, barsUntil(solid.timeline, solid.length))),
    [solid],
  );
  /** 0 as captured, 1 as the recipe leaves it. */
  const [share, setShare] = useState(1);
  const [below, setBelow] = useState<'graphs' | 'seam'>('graphs');
  const shown = useMemo(() => between(hollow, solid, share), [hollow, solid, share]);
  const sheaf = useSheaf(phrase, edit, solid);

  const listening = useMemo((): Listening => {
    const own = share === 0 ? captured : heardClip(shown, edit);
    return {
      id: `phrase ${phrase.id}`,
      title: edit.name,
      subtitle: share === 0 ? 'as captured' : `${heardWords(share)}, from ${phrase.takeName}`,
      lanes: [{ id: phrase.id, clip: own, fitting: edit.fitting }, ...sheaf.lanes],
    };
  }, [share, captured, shown, edit, sheaf.lanes, phrase.id, phrase.takeName]);
  const isPlaying = useOffered(listening);
  const hearSeam = () => {
    const first = solid.pickup > 0 ? 2 : 1;
    const count = barsUntil(solid.timeline, solid.length) - first + 1;
    void listen({
      id: `seam ${phrase.id}`,
      title: `The seam of ${edit.name}`,
      subtitle: 'its last bar, then its first',
      lanes: [{ id: phrase.id, clip: heardClip(seamClip(solid, { start: first, count }), edit) }],
    });
  };

  const setRecipe = (change: (recipe: PhraseEdit['recipe']) => PhraseEdit['recipe'], label: string) =>
    set((old) => ({ ...old, recipe: change(old.recipe) }), label);
  const grid: Grid = activeStep(edit.recipe, 'quantize')?.grid ?? '1/16';
  const editing = useHandEditing(solid, grid, setRecipe);
  const save = useSave(phrase, history);
  const asked = useAskedSave(phrase, history, save);
  const isChanged = !equal(edit, history.base);
  useEffect(
    () => rememberUnsaved(phrase.id, isChanged ? { value: edit, base: history.base } : null),
    [phrase.id, edit, history.base, isChanged],
  );
  useActions('Phrase', [
    { title: 'Listen, or stop', keys: [' '], run: () => void toggleListening(listening) },
    {
      title: 'Hear as captured, or as normalized',
      keys: ['c'],
      run: () => setShare((now) => (now > 0 ? 0 : 1)),
    },
    { title: 'Hear the seam', keys: ['R'], run: hearSeam },
    { title: 'Show the seam, or the graphs', keys: ['g'], run: () => setBelow(other) },
    { title: 'Save', keys: ['Ctrl+s'], run: () => !isBehind && asked.save() },
    { title: 'Closer', keys: ['+'], run: () => zoom(CLOSER) },
    { title: 'Farther', keys: ['-'], run: () => zoom(1 / CLOSER) },
    { title: 'Show all bars', keys: ['0'], run: () => setCloseUp(null) },
    { title: 'Rename the phrase', run: () => focusField('Name of the phrase'), words: 'name title call' },
    { title: 'Edit its tags', run: () => focusField('Add tag'), words: 'tag label' },
    { title: 'Edit its rights', run: () => focusField('Rights'), words: 'license own work' },
    {
      title: 'Add a step to the recipe',
      run: () => focusField('Add a step'),
      words: 'normalize quantize transpose',
    },
  ]);

  return (
    <>
      <div className="notes-column flex min-w-0 flex-1 flex-col gap-2 px-5 pt-3 pb-3">
        <PhraseHeading
          phrase={phrase}
          row={row}
          name={solid.name ?? edit.name}
          isNamedByRecipe={solid.name !== undefined}
          onName={(name) => set((old) => ({ ...old, name }), 'name')}
        />
        <div className="flex items-center gap-4 text-sm">
          <Legend clip={solid} />
          <div className="ml-auto flex gap-3">
            <ZoomButtons whole="all bars" onZoom={zoom} onWhole={() => setCloseUp(null)} />
            <UndoButtons history={history} />
          </div>
        </div>
        <NotePairs
          hollow={hollow}
          solid={shown}
          behind={sheaf.behind}
          clashing={sheaf.clashing}
          bars={bars}
          window={window}
          onWindow={setCloseUp}
          flats={solid.key ? usesFlats(solid.key) : false}
          step={gridTicks(grid, solid.timeline.ppq)}
          editing={editing}
          isPlaying={isPlaying}
        />
        <ChosenNotes clip={solid} editing={editing} />
        <div className="flex items-center gap-3 text-sm">
          <Button onClick={() => void toggleListening(listening)}>
            <Play size={13} aria-hidden="true" /> Listen
          </Button>
          <button type="button" className="hover:underline" onClick={() => setShare(0)}>
            as captured
          </button>
          <ThinSlider label="From captured to normalized" value={share} className="w-32" onValue={setShare} />
          <button type="button" className="hover:underline" onClick={() => setShare(1)}>
            normalized
          </button>
          {phrase.siblings.length > 0 && (
            <label className="flex items-center gap-1.5">
              <input
                type="checkbox"
                checked={sheaf.isShown}
                onChange={(event) => sheaf.show(event.target.checked)}
              />
              with the rest of its sheaf
            </label>
          )}
          {sheaf.isShown && (
            <button
              type="button"
              className="text-madder underline decoration-rule underline-offset-3 disabled:text-muted disabled:no-underline"
              disabled={sheaf.clashing.size === 0}
              title={sheaf.words}
              onClick={() => editing.choose(sheaf.clashing)}
            >
              {plural(sheaf.clashing.size, 'clash', 'clashes')}
            </button>
          )}
          <span className="ml-auto text-muted">
            {plural(solid.notes.length, 'note')} in it
            {result.setAside
              .map(({ reason, origins }) => `, ${origins.length.toLocaleString('en')} left ${reason}`)
              .join('')}
          </span>
        </div>
        <div className="flex items-end gap-4 border-b border-rule text-sm">
          <Tabs
            value={below}
            tabs={[
              ['graphs', 'Levels and timing'],
              ['seam', 'The seam'],
            ]}
            onValue={setBelow}
          />
          <FeelMenu clip={solid} grid={grid} name={edit.name} />
        </div>
        {below === 'graphs' ? (
          <PhraseGraphs
            hollow={hollow}
            solid={solid}
            grid={grid}
            chosen={editing.chosen}
            onChoose={editing.choose}
          />
        ) : (
          <PhraseSeam hollow={hollow} solid={solid} onListen={hearSeam} />
        )}
      </div>
      {asked.places && (
        <UsedElsewhere
          name={phrase.name}
          places={asked.places}
          onAll={asked.everywhere}
          onCopy={asked.copyFor}
          onClose={asked.close}
        />
      )}
      <aside className="flex w-[340px] flex-none flex-col border-l border-rule">
        <div className="flex min-h-0 flex-1 flex-col gap-4 overflow-auto p-4">
          <RecipePanel
            recipe={edit.recipe}
            reports={result.reports}
            role={edit.role}
            mode={edit.takeKey?.mode ?? null}
            onChange={setRecipe}
          />
          <FittingFields
            fitting={edit.fitting}
            recipe={edit.recipe}
            onChange={(change, label) => set((old) => ({ ...old, ...change }), label)}
          />
          <PhraseFacts edit={edit} set={set} row={row} />
          {phrase.siblings.length > 0 && (
            <section>
              <h2 className="mb-1">{phrase.sheafName}</h2>
              <SheafList siblings={phrase.siblings} />
            </section>
          )}
          {phrase.appliedTo && (
            <p className="text-xs text-muted" title={phrase.appliedTo}>
              Recipe version {phrase.recipe.version}, applied to captured notes{' '}
              <code>{phrase.appliedTo.slice(0, 10)}</code>: applied again, it gives the same bytes.
            </p>
          )}
        </div>
        <SaveBox
          phrase={phrase}
          history={history}
          kept={kept}
          solid={solid}
          isChanged={isChanged}
          isBehind={isBehind}
          save={save}
          onSave={asked.save}
        />
      </aside>
    </>
  );
}

/** Goes to a field by its name. */
function focusField(label: string): void {
  document.querySelector<HTMLElement>(`[aria-label="${label}"], #phrase-${label.toLowerCase()}`)?.focus();
}

function other(below: 'graphs' | 'seam'): 'graphs' | 'seam' {
  return below === 'graphs' ? 'seam' : 'graphs';
}

function heardWords(share: number): string {
  return share === 1 ? 'normalized' : `${Math.round(share * 100)} % of the way to normalized`;
}

/** The stretch of the phrase that is seen: all of it, or a part close up. */
function useCloseUp(solid: Clip) {
  const all = useMemo((): TimeWindow => ({ fromTick: 0, toTick: Math.max(1, solid.length) }), [solid.length]);
  const [closeUp, setCloseUp] = useState<TimeWindow | null>(null);
  const window = closeUp && closeUp.toTick <= all.toTick ? closeUp : all;
  const zoom = (factor: number) => setCloseUp(zoomed(window, middleOf(window), factor, all.toTick));
  return { window, setCloseUp, zoom };
}

/** The sheaf's other parts, where they are wanted: heard, drawn behind, and where they clash. */
function useSheaf(phrase: PhraseWire, edit: PhraseEdit, solid: Clip) {
  const [isShown, show] = useState(false);
  const siblings = useQueries({ queries: phrase.siblings.map(({ id }) => phraseQuery(id)) });
  const loaded = siblings.map(({ dataUpdatedAt }) => dataUpdatedAt).join();
  return useMemo(() => {
    const others = isShown ? siblings.flatMap(({ data }) => data ?? []) : [];
    const heard = others.map((other) => heardClip(other.clip, other));
    const names = [edit.name, ...others.map(({ name }) => name)];
    const clips = [heardClip(solid, edit), ...heard];
    const clashes = clashesBetween(clips.map((clip, k) => ({ name: names[k]!, clip }))).filter(({ parts }) =>
      parts.includes(0),
    );
    const places = clashes.map((clash) => clashInWords(clash, names, solid.key));
    return {
      isShown,
      show,
      lanes: others.map(({ id }, i) => ({ id, clip: heard[i]! })),
      behind: others.map(({ clip }) => inFrameOf(clip, solid)),
      clashing: new Set(clashes.flatMap(({ parts, notes }) => notes[parts.indexOf(0)]!)),
      words: [...new Set(places)].join('; '),
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the queries' list is new at every drawing
  }, [isShown, loaded, solid, edit.takeKey]);
}

/** Another part of the sheaf as it is drawn behind: in the ticks, the key and from the bar one of this one. */
function inFrameOf(clip: Clip, frame: Clip): Clip {
  const scale = frame.timeline.ppq / clip.timeline.ppq;
  const notes = inKey(clip, frame.key).notes.map((note) => ({
    ...note,
    tick: Math.round((note.tick - clip.pickup) * scale) + frame.pickup,
    duration: Math.round(note.duration * scale),
  }));
  return { ...clip, notes };
}

function PhraseHeading({
  phrase,
  row,
  name,
  isNamedByRecipe,
  onName,
}: {
  phrase: PhraseWire;
  row: TakeWire;
  name: string;
  isNamedByRecipe: boolean;
  onName: (name: string) => void;
}) {
  return (
    <div className="flex items-baseline gap-4">
      <h1 className="min-w-0 flex-1 text-xl">
        <input
          aria-label="Name of the phrase"
          className="w-full rounded-[3px] border border-transparent bg-transparent hover:border-rule focus:bg-card"
          value={name}
          readOnly={isNamedByRecipe}
          title={isNamedByRecipe ? 'Named by the recipe: switch its Name step off to type one' : undefined}
          maxLength={200}
          onChange={(event) => onName(event.target.value)}
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
  );
}

function Legend({ clip }: { clip: Clip }) {
  return (
    <>
      <span className="flex items-center gap-1.5">
        <svg width="22" height="10" aria-hidden="true">
          <rect x="1" y="1" width="20" height="8" rx="4" fill="none" stroke="var(--ink)" strokeWidth="1.2" />
        </svg>
        as captured
      </span>
      <span className="flex items-center gap-1.5">
        <svg
          width="22"
          height="10"
          aria-hidden="true"
          style={{ color: `var(--${ROLE_LOOK[clip.role].dye})` }}
        >
          <rect x="1" y="2" width="20" height="6" rx="3" fill="currentColor" />
        </svg>
        as the recipe leaves it
      </span>
      <span className="text-muted">
        {isPitched(clip) && clip.key
          ? `drawn and kept in ${keyName(clip.key)}`
          : 'drawn on the lanes of the kit'}
      </span>
    </>
  );
}
