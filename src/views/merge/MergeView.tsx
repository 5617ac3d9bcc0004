import { useMutation, useQuery } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import {
  ALL_ALONG,
  ALONG,
  FATES,
  wayFor,
  type Along,
  type Fate,
  type MergeWay,
} from '../../core/exchange/merge.ts';
import { plural } from '../../core/words.ts';
import type { MergeRow, MergeTable } from '../../server/library/handoff/merging.ts';
import type { Taken } from '../../server/library/handoff/taking-packs.ts';
import { usePlayer } from '../../sound/player.ts';
import { useActions } from '../../ui/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { Checkbox } from '../../ui/fields/Checkbox.tsx';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { SelectField } from '../../ui/fields/SelectField.tsx';
import { day } from '../../ui/time.ts';
import { request } from '../api/client.ts';
import { renew, tellProblem } from '../api/queries.ts';
import { HandOffRoom } from '../shared/leaving/HandOffRoom.tsx';
import { tellKept } from '../shared/takes/keep.ts';
import { useHowFar, type HowFar } from '../shared/work.ts';
import { hearOurs, hearTheirs } from './hear.ts';
import { LateCard } from './LateCard.tsx';
import { MergeList } from './MergeList.tsx';
import { ALONG_WORDS, FATE_WORDS, WAY_WORDS } from './words.ts';

/** Ways that can be chosen for all that changed. */
const FOR_ALL: readonly MergeWay[] = ['child', 'theirs', 'ours', 'both'];

/** A pack that came in, phrase by phrase, and what is taken of it. */
export default function MergeView() {
  const { id = '' } = useParams();
  const { data: table, error } = useQuery({
    queryKey: ['pack-in', id],
    queryFn: () => request<MergeTable>(`/api/merge/${id}`),
  });
  if (error) return <EmptyState title="This pack could not be opened">{error.message}</EmptyState>;
  if (!table) return <Busy what="Holding the pack against the library" />;
  return <OpenPack key={id} id={id} table={table} />;
}

function OpenPack({ id, table }: { id: string; table: MergeTable }) {
  const navigate = useNavigate();
  const [all, setAll] = useState<MergeWay>('child');
  const [ways, setWays] = useState<Readonly<Record<string, MergeWay>>>({});
  const [chosenId, choose] = useState<string>();
  const { added } = table;
  const beside = added.filter(({ isTaken }) => !isTaken).length;
  const rows = inOrder(table.rows);
  const wayOf = ({ id: row, fate }: MergeRow) => ways[row] ?? wayFor(fate, all);
  const open = rows.filter(({ ways: own }) => own.length > 1);
  const taking = open.filter((row) => wayOf(row) !== 'ours');
  const chosen = rows.find((row) => row.id === chosenId) ?? rows[0];
  const sounding = usePlayer((player) => (player.state === 'playing' ? player.listening?.id : undefined));
  const [along, setAlong] = useState<Along>(ALL_ALONG);
  const { take, stop } = useTake(id, { all, ways, along });
  const taken = useHowFar('merge', id);
  const step = (by: number) => {
    const at = rows.findIndex((row) => row === chosen);
    choose(rows[Math.min(rows.length - 1, Math.max(0, at + by))]?.id);
  };
  useActions('Came back', [
    {
      title: 'Hear it as it came, or stop',
      keys: [' '],
      run: () => chosen?.theirs && hearTheirs(id, chosen),
    },
    { title: 'Hear ours, or stop', keys: ['h'], run: () => chosen?.ours && hearOurs(chosen.ours.id) },
    { title: 'The phrase above', keys: ['ArrowUp'], run: () => step(-1) },
    { title: 'The phrase below', keys: ['ArrowDown'], run: () => step(1) },
    { title: 'Take what is chosen', keys: ['Ctrl+s'], run: () => take.mutate(), words: 'merge accept' },
    { title: 'Back to the packs', keys: ['Escape'], run: () => void navigate('/handoff/came-back') },
  ]);
  return (
    <HandOffRoom>
      <header className="mt-3 mb-2 flex flex-wrap items-end gap-x-4 gap-y-2">
        <div className="min-w-0 flex-1">
          <h1 className="truncate text-xl">{table.title}</h1>
          <p className="text-sm text-muted">
            {table.from && `${table.isOurs ? 'For' : 'From'} ${table.from}, `}
            packed {table.isOurs ? 'here' : 'in another library'} on {day(table.madeAt)}
          </p>
        </div>
        <SelectField
          label="What changed is"
          className="w-56"
          value={all}
          onChange={(way) => {
            setAll(way as MergeWay);
            setWays({});
          }}
        >
          {FOR_ALL.map((way) => (
            <option key={way} value={way}>
              {WAY_WORDS[way]}
            </option>
          ))}
        </SelectField>
        {take.isPending || taken ? (
          <Taking taking={taken} {...(take.isPending ? { onStop: stop } : {})} />
        ) : (
          <Button kind="primary" disabled={taking.length + beside === 0} onClick={() => take.mutate()}>
            {takenWords(taking.length, beside)}
          </Button>
        )}
      </header>
      {table.late && <LateCard late={table.late} />}
      <div className="flex flex-wrap items-baseline gap-x-6">
        <Summary rows={rows} />
        <fieldset className="mb-2 ml-auto flex flex-wrap items-center gap-x-3">
          <legend className="float-left mr-3 text-sm text-muted">With the notes come</legend>
          {ALONG.map((what) => (
            <Checkbox
              key={what}
              label={ALONG_WORDS[what]}
              on={along[what]}
              onChange={(on) => setAlong((old) => ({ ...old, [what]: on }))}
            />
          ))}
        </fieldset>
      </div>
      <MergeList
        rows={rows}
        chosen={chosen?.id}
        sounding={sounding}
        wayOf={wayOf}
        onChoose={choose}
        onWay={(row, way) => setWays((old) => ({ ...old, [row]: way }))}
        onHearTheirs={(row) => hearTheirs(id, row)}
        onHearOurs={hearOurs}
      />
      {added.length > 0 && (
        <section aria-label="Put beside" className="flex-none border-t border-rule py-2 text-sm">
          <h2 className="label">Put beside it, taken in as takes</h2>
          {added.map(({ file, notes, isTaken }) => (
            <p key={file}>
              {file} <span className="text-muted">{isTaken ? 'a take here' : plural(notes, 'note')}</span>
            </p>
          ))}
        </section>
      )}
    </HandOffRoom>
  );
}

const inOrder = (rows: readonly MergeRow[]) =>
  rows.toSorted((a, b) => FATES.indexOf(a.fate) - FATES.indexOf(b.fate));

/** What would be taken, in words. */
function takenWords(phrases: number, files: number): string {
  const parts = [phrases > 0 ? plural(phrases, 'phrase') : '', files > 0 ? plural(files, 'file') : ''];
  const said = parts.filter(Boolean).join(' and ');
  return said ? `Take ${said}` : 'Nothing to take';
}

/** How many phrases there are of each fate. */
function Summary({ rows }: { rows: readonly MergeRow[] }) {
  const count = (fate: Fate) => rows.filter((row) => row.fate === fate).length;
  const there = FATES.filter((fate) => count(fate) > 0);
  return (
    <p className="mb-2 flex flex-wrap gap-x-4 text-sm" role="status">
      {there.map((fate) => (
        <span key={fate}>
          <b>{count(fate)}</b> {FATE_WORDS[fate]}
        </span>
      ))}
    </p>
  );
}

/** Takes what is chosen; it can be stopped between two phrases, and goes on where it was. */
function useTake(
  id: string,
  choice: { all: MergeWay; ways: Readonly<Record<string, MergeWay>>; along: Along },
) {
  const stopping = useRef<AbortController | null>(null);
  const take = useMutation({
    mutationFn: () => {
      stopping.current = new AbortController();
      return request<Taken>(`/api/merge/${id}`, {
        method: 'POST',
        signal: stopping.current.signal,
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(choice),
      });
    },
    onError: (error) => {
      if (!stopping.current?.signal.aborted) tellProblem(error);
    },
    onSuccess: ({ written, phraseIds }) =>
      tellKept(
        written === 0 ? 'Nothing new was in it.' : `${plural(written, 'phrase')} taken.`,
        'taking them',
        phraseIds,
      ),
    onSettled: () =>
      renew(
        'pack-in',
        'phrases',
        'facets',
        'phrase',
        'takes',
        'stages',
        'tags',
        'lineage',
        'children',
        'relatives',
      ),
  });
  return { take, stop: () => stopping.current?.abort() };
}

/** How far it is, whoever takes it in: it goes on where the server was started again. */
function Taking({ taking, onStop }: { taking: HowFar | null; onStop?: () => void }) {
  return (
    <span className="flex items-center gap-2 text-sm" role="status">
      {taking ? `${taking.done} of ${taking.of}` : 'Beginning'}
      {onStop && (
        <Button small onClick={onStop}>
          Stop
        </Button>
      )}
    </span>
  );
}
