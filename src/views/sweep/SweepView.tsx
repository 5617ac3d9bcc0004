import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import { runName, tagsOfRun } from '../../core/sweep/plan.ts';
import { heardAgain, sheetOf, sheetWords, type RunFinding } from '../../core/sweep/sheet.ts';
import type { Role } from '../../core/split/roles.ts';
import { plural } from '../../core/words.ts';
import type { SweepDetail } from '../../server/library/takes/sweeps.ts';
import { toggleListening, usePlayer } from '../../sound/player.ts';
import { useActions } from '../../ui/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { toastWithUndo } from '../../ui/history/undoToast.ts';
import { request, sendJson } from '../api/client.ts';
import { renew, tellProblem } from '../api/queries.ts';
import { setPhraseState } from '../shared/phrases/state.ts';
import { fetchTakeListening } from '../shared/takes/heard-take.ts';
import { SweepRows } from './SweepRows.tsx';
import { DeviceRuns } from './DeviceRuns.tsx';

/** One sweep: its runs, which of them are distinct, and the best of them kept. */
export default function SweepView() {
  const { id = '' } = useParams();
  const { data, error } = useQuery({
    queryKey: ['sweep', id],
    queryFn: () => request<SweepDetail>(`/api/sweeps/${id}`),
  });
  if (error) return <EmptyState title="This sweep could not be opened">{error.message}</EmptyState>;
  if (!data) return <Busy what="Opening the sweep" />;
  return <OpenSweep key={id} sweep={data} />;
}

function OpenSweep({ sweep }: { sweep: SweepDetail }) {
  const { id, name, plan, state, runs } = sweep;
  const [current, setCurrent] = useState(0);
  const [onlyDistinct, setOnlyDistinct] = useState(false);
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const findings = useMemo(() => {
    const done = runs.filter((run) => run.state === 'done' || run.state === 'silent');
    const found = sheetOf(done.map(({ position, heard }) => heardAgain(position, heard)));
    return new Map<number, RunFinding>(found.map((one) => [one.position, one]));
  }, [runs]);
  const shown = onlyDistinct
    ? runs.filter(({ position }) => findings.get(position)?.verdict === 'distinct')
    : runs;
  const at = Math.max(0, shown.findIndex(({ position }) => position === current)); // prettier-ignore
  const here = shown[at];
  const waiting = runs.filter((run) => run.state === 'waiting').length;
  // What is set aside already has its reason.
  const same = runs.filter(({ position, reason }) => reason === '' && findings.get(position)?.sameAs != null);
  const sounds = usePlayer(({ state: playing }) => playing === 'playing');
  const hear = (run = here) =>
    run?.takeId && void fetchTakeListening(run.takeId).then(toggleListening, tellProblem);
  const step = (by: number) => {
    const next = shown[Math.min(Math.max(0, at + by), shown.length - 1)];
    if (!next) return;
    setCurrent(next.position);
    // What sounds goes over to the next one, under what is pinned.
    if (sounds && next.takeId && next.position !== here?.position) hear(next);
  };
  const toggle = (position: number) =>
    setChosen((old) => {
      const next = new Set(old);
      if (!next.delete(position)) next.add(position);
      return next;
    });
  const meant = chosen.size > 0 ? [...chosen].sort((a, b) => a - b) : here ? [here.position] : [];
  const set = (next: 'running' | 'stopped') =>
    void sendJson('PATCH', `/api/sweeps/${id}`, { state: next }).then(() => renew('sweep', 'sweeps'), tellProblem); // prettier-ignore
  const keep = () =>
    void sendJson<{ phraseIds: string[] }>('POST', `/api/sweeps/${id}/keep`, { runs: meant }).then(
      async ({ phraseIds }) => {
        await renew('phrases', 'facets', 'takes');
        toastWithUndo(
          `${plural(phraseIds.length, 'phrase')} kept, tagged ${tagsOfRun(plan, runs[meant[0]!]!.settings).join(', ')}${meant.length > 1 ? ' and so on' : ''}.`,
          'keeping them',
          () => setPhraseState(phraseIds, 'discarded').catch(tellProblem),
        );
        setChosen(new Set());
      },
      tellProblem,
    );
  const setAside = () =>
    void sendJson<{ aside: string[] }>('POST', `/api/sweeps/${id}/same`, {}).then(async ({ aside }) => {
      await renew('takes', 'sweep');
      toastWithUndo(
        `${plural(aside.length, 'take')} set aside: each is there already.`,
        'setting them aside',
        () =>
        sendJson('PATCH', '/api/takes', { ids: aside, aside: false }).then(() => renew('takes')), // prettier-ignore
      );
    }, tellProblem);
  useActions('The sweep', [
    { title: 'The run above', keys: ['ArrowUp'], run: () => step(-1) },
    { title: 'The run below', keys: ['ArrowDown'], run: () => step(1) },
    { title: 'Listen to the run, or stop', keys: [' '], run: () => hear() },
    { title: 'Choose the run, or not', keys: ['x'], run: () => here && toggle(here.position) },
    { title: 'Keep the chosen runs as phrases', keys: ['k'], run: keep },
    { title: 'Distinct runs only, or all', keys: ['d'], run: () => setOnlyDistinct(!onlyDistinct) },
    { title: 'Set aside what is there twice', run: setAside },
  ]);
  return (
    <div className="flex min-w-0 flex-1 flex-col gap-2 px-5 pt-3 pb-2">
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        <h1 className="truncate text-xl">{name}</h1>
        <span className="text-muted tabular-nums" role="status">
          {waiting > 0
            ? `${runs.length - waiting} of ${runs.length} runs`
            : sheetWords([...findings.values()])}
          {state === 'stopped' ? ', stopped' : ''}
        </span>
        {waiting > 0 && plan.source.kind === 'stand-in' && (
          <Button small onClick={() => set(state === 'running' ? 'stopped' : 'running')}>
            {state === 'running' ? 'Stop' : 'Go on'}
          </Button>
        )}
        <Link className="ml-auto text-sm underline" to="/capture/sweep">
          Another sweep
        </Link>
      </div>
      {
        waiting > 0 &&
        <progress className="h-1.5 w-full accent-[var(--madder)]" max={runs.length} value={runs.length - waiting} aria-label="Runs that are done" /> // prettier-ignore
      }
      {plan.source.kind === 'device' && waiting > 0 && <DeviceRuns sweep={sweep} />}
      <p className="text-sm text-muted">
        {plan.trigger.kind === 'chart'
          ? `Asked: ${plan.trigger.chart}`
          : plan.trigger.kind === 'phrase'
            ? `Set off by ${plan.trigger.name}`
            : 'What it plays by itself'}
        , {plan.bpm} BPM
      </p>
      <SweepRows
        runs={shown}
        role={roleOf(plan)}
        nameOf={(run) => runName(plan, run.settings)}
        findings={findings}
        current={here?.position ?? -1}
        chosen={chosen}
        onCurrent={setCurrent}
        onChoose={toggle}
        onHear={hear}
      />
      <div className="flex items-center gap-2 text-sm">
        <Button small onClick={() => hear()} disabled={!here?.takeId}>
          Listen
        </Button>
        <Button small onClick={keep} disabled={meant.length === 0 || !here?.takeId}>
          Keep {chosen.size > 0 ? plural(chosen.size, 'run') : `run ${(here?.position ?? 0) + 1}`} as phrases
        </Button>
        <Button small aria-pressed={onlyDistinct} onClick={() => setOnlyDistinct(!onlyDistinct)}>
          {onlyDistinct ? 'Show all runs' : 'Distinct runs only'}
        </Button>
        <Button small onClick={setAside} disabled={same.length === 0}>
          Set aside what is there twice, {same.length}
        </Button>
        {here?.takeId && (
          <Link className="ml-auto underline" to={`/split/${here.takeId}`}>
            Open the take
          </Link>
        )}
      </div>
    </div>
  );
}

/** What the stand-ins play, for the drawing. */
const ROLES: Readonly<Record<string, Role>> = {
  'chord-player': 'keys',
  arpeggiator: 'arpeggio',
  'drum-player': 'drums',
  'step-grid': 'drums',
  strummer: 'guitar',
};

function roleOf({ source }: SweepDetail['plan']): Role {
  return (source.kind === 'stand-in' ? ROLES[source.id] : undefined) ?? 'other';
}
