import { useCallback, useMemo, useRef, useState, type RefObject } from 'react';
import { useNavigate } from 'react-router';
import { plural } from '../../core/words.ts';
import { toggleListening } from '../../sound/player.ts';
import { useActions } from '../../ui/actions.ts';
import { usePlace } from '../../ui/history/place.ts';
import { Button } from '../../ui/Button.tsx';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { ColumnMenu } from '../../ui/table/ColumnMenu.tsx';
import { SearchField } from '../../ui/fields/SearchField.tsx';
import { tellProblem, useSources, useTakeList } from '../api/queries.ts';
import { isClean, useKeep } from '../shared/takes/keep.ts';
import { fetchTakeListening } from '../shared/takes/heard-take.ts';
import { BulkBar, setTakesAside, type BulkDialog } from './BulkBar.tsx';
import { useTakeChanges } from '../shared/takes/bulk.ts';
import { useChoosing } from '../shared/choosing.ts';
import { CaptureHeading } from '../shared/CaptureHeading.tsx';
import { bringIn } from './DropAnywhere.tsx';
import { BeforeDialog } from './before/BeforeDialog.tsx';
import { stopIntake, takeInFiles } from './intake.ts';
import { namedFiles, type NamedFile } from './named-files.ts';
import { pickFiles } from './pick-files.ts';
import { knownSettings } from '../shared/takes/known.ts';
import { setKnownOfNext, useKnownOfNext } from './known-store.ts';
import { IntakePanel } from './IntakePanel.tsx';
import { TAKE_COLUMNS } from './take-columns.tsx';
import {
  FILTER_WORDS,
  orderOf,
  orderParams,
  TAKE_ORDERS,
  useTakeQuery,
  type TakeQueryState,
} from './take-query.ts';
import { TakeTable } from './TakeTable.tsx';

/** Capture: files, folders and archives in, each read before one's eyes; and all takes there are. */
export default function TakesView() {
  const { known } = useKnownOfNext();
  const picker = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  const take = (files: readonly File[]) =>
    void bringIn(files, (path) => void navigate(path)).catch(tellProblem);
  const [before, setBefore] = useState<readonly NamedFile[] | null>(null);
  const listenFirst = () => pickFiles((files) => setBefore(namedFiles(files).named));
  return (
    <>
      <TakeList onPick={() => picker.current?.click()} onBefore={listenFirst} />
      <IntakePanel
        known={known}
        onKnown={setKnownOfNext}
        picker={picker}
        onFiles={take}
        onBefore={listenFirst}
      />
      {before && (
        <BeforeDialog
          files={before}
          onClose={() => setBefore(null)}
          onTake={(files) => void takeInFiles(files, knownSettings(known))}
        />
      )}
    </>
  );
}

function TakeList({ onPick, onBefore }: { onPick: () => void; onBefore: () => void }) {
  const query = useTakeQuery();
  const list = useTakeList(query.query);
  const takes = list.data?.pages.flatMap((page) => page.takes) ?? [];
  const total = list.data?.pages[0]?.total ?? 0;
  const [current, setCurrent] = usePlace<string | undefined>('row of takes', undefined);
  const { chosen, choose: toggle, chooseAll, chooseNone } = useChoosing(takes);
  const [bulk, setBulk] = useState<BulkDialog>(null);
  const changes = useTakeChanges();
  const search = useRef<HTMLInputElement>(null);
  const navigate = useNavigate();
  const at = takes.findIndex(({ id }) => id === current);
  const here = takes[at];

  const step = (by: number) => {
    const next = takes[Math.min(Math.max(0, at + by), takes.length - 1)];
    if (next) setCurrent(next.id);
  };
  const choose = (id: string, others: boolean) => {
    toggle(id, others ? current : undefined);
    setCurrent(id);
  };
  const asideIds = chosen.size > 0 ? [...chosen] : here ? [here.id] : [];
  const keep = useKeep();
  useActions('Capture', [
    { title: 'Choose MIDI files', run: onPick, words: 'import open upload intake take in' },
    {
      title: 'Listen to files before they are taken in',
      run: onBefore,
      words: 'preview hear audition archive zip',
    },
    { title: 'Stop the intake', run: () => void stopIntake() },
    { title: 'Search the takes', keys: ['/'], run: () => search.current?.focus() },
    { title: 'The take above', keys: ['ArrowUp'], run: () => step(-1) },
    { title: 'The take below', keys: ['ArrowDown'], run: () => step(1) },
    {
      title: 'Listen to the take, or stop',
      keys: [' '],
      run: () => here && void fetchTakeListening(here.id).then(toggleListening, tellProblem),
    },
    { title: 'Open the take', keys: ['Enter'], run: () => here && void navigate(`/split/${here.id}`) },
    {
      title: 'Keep the phrase of a take of one clean part',
      keys: ['k'],
      run: () => here && isClean(here) && keep.mutate(here),
    },
    { title: 'Choose the take, or not', keys: ['x'], run: () => here && choose(here.id, false) },
    { title: 'Choose all that are loaded', keys: ['Ctrl+a'], run: chooseAll },
    {
      title: 'Set aside what is chosen, or bring it back',
      keys: ['a'],
      run: () => asideIds.length > 0 && setTakesAside(changes, asideIds, query.get('filter') !== 'aside'),
    },
    { title: 'Choose none', keys: ['Escape'], run: chooseNone },
    {
      title: 'Edit what is known of the chosen takes',
      run: () => setBulk(chosen.size > 0 ? 'edit' : null),
      words: 'source contributor whose rights chart bars tempo key',
    },
    {
      title: 'Join the chosen takes to one',
      run: () => setBulk(chosen.size > 1 ? 'join' : null),
      words: 'merge combine passes',
    },
    {
      title: 'Comp across the chosen takes',
      run: () => setBulk(chosen.size > 1 ? 'comp' : null),
      words: 'passes best bars side by side chart',
    },
  ]);

  const { fetchNextPage, hasNextPage, isFetching } = list;
  const onEnd = useCallback(() => {
    if (hasNextPage && !isFetching) void fetchNextPage();
  }, [fetchNextPage, hasNextPage, isFetching]);

  const order = useMemo(() => orderOf(query), [query]);
  const chosenTakes = takes.filter(({ id }) => chosen.has(id));
  return (
    <div className="flex min-w-0 flex-1 flex-col px-5 pt-3">
      <CaptureHeading>
        <span className="text-sm text-muted" role="status">
          {list.data && plural(total, 'take')}
        </span>
      </CaptureHeading>
      <Narrowing query={query} search={search} />
      {chosenTakes.length > 0 && (
        <BulkBar chosen={chosenTakes} changes={changes} open={bulk} onOpen={setBulk} onDone={chooseNone} />
      )}
      {list.isPending ? (
        <Busy what="Looking for takes" />
      ) : list.error ? (
        <EmptyState title="The takes could not be loaded">{list.error.message}</EmptyState>
      ) : takes.length === 0 ? (
        <NoTakes query={query} onPick={onPick} />
      ) : (
        <TakeTable
          takes={takes}
          total={total}
          current={current}
          chosen={chosen}
          order={order}
          onOrder={(next) => query.setAll(orderParams(next))}
          onCurrent={setCurrent}
          onChoose={choose}
          onChooseAll={chooseAll}
          onEnd={onEnd}
        />
      )}
    </div>
  );
}

/** Search, source, which takes, and their order. */
function Narrowing({ query, search }: { query: TakeQueryState; search: RefObject<HTMLInputElement | null> }) {
  const { data: sources } = useSources();
  const select = (name: 'source' | 'filter' | 'sort', label: string, options: [string, string][]) => (
    <select
      className="field w-auto"
      aria-label={label}
      value={query.get(name)}
      onChange={(event) =>
        query.setAll({ [name]: event.target.value, ...(name === 'sort' ? { turned: '' } : {}) })
      }
    >
      {options.map(([value, words]) => (
        <option key={value} value={value}>
          {words}
        </option>
      ))}
    </select>
  );
  const words = (all: Record<string, string>) =>
    Object.entries(all).map(([value, text], i): [string, string] => [i === 0 ? '' : value, text]);
  return (
    <div className="mb-2 flex items-center gap-2">
      <SearchField
        ref={search}
        label="Search takes"
        placeholder="Search names, files, sources and people ( / )"
        value={query.get('search')}
        onChange={(text) => query.set('search', text)}
      />
      {select('source', 'Source', [
        ['', 'every source'],
        ...(sources ?? []).map((source): [string, string] => [source, source]),
      ])}
      {select('filter', 'Which takes', words(FILTER_WORDS))}
      {select(
        'sort',
        'Order',
        Object.entries(TAKE_ORDERS).map(([id, { words: text }]): [string, string] => [
          id === 'newest' ? '' : id,
          text,
        ]),
      )}
      <ColumnMenu table="takes" columns={TAKE_COLUMNS} />
    </div>
  );
}

function NoTakes({ query, onPick }: { query: TakeQueryState; onPick: () => void }) {
  if (query.query)
    return (
      <EmptyState title="No take fits this" action={<Button onClick={query.clear}>Show all</Button>}>
        Nothing that was captured has these words, this source and this kind together.
      </EmptyState>
    );
  return (
    <EmptyState
      title="No takes yet"
      action={
        <Button kind="primary" onClick={onPick}>
          Choose MIDI files
        </Button>
      }
    >
      Export what your generator or arranger played as MIDI files and drop them here, or record it under Live.
      Each take is taken apart by instrument at once.
    </EmptyState>
  );
}
