import equal from 'fast-deep-equal';
import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { passOfBar } from '../../core/comp/choice.ts';
import { choiceOf, isStarred, mergedComp, withStar, withTaken, type Comp } from '../../core/comp/document.ts';
import type { Joint } from '../../core/comp/join.ts';
import type { Suggestion } from '../../core/comp/suggest.ts';
import { barsWords, jointWords } from '../../core/comp/words.ts';
import { barTicks } from '../../core/music/timeline.ts';
import { plural } from '../../core/words.ts';
import type { CompDetail } from '../../server/library/takes/comps.ts';
import { listen, toggleListening, type Listening } from '../../sound/player.ts';
import { useActions } from '../../ui/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { useHistory } from '../../ui/history/history.ts';
import { Tabs } from '../../ui/Tabs.tsx';
import { UndoButtons } from '../../ui/history/UndoButtons.tsx';
import { request, sendJson } from '../api/client.ts';
import { renew, tellProblem } from '../api/queries.ts';
import { BehindAlert } from '../shared/editing/BehindAlert.tsx';
import { useOffered } from '../shared/leaving/offered.ts';
import { useSaved } from '../shared/editing/saved.ts';
import { CompAbout } from './CompAbout.tsx';
import { CompBar } from './CompBar.tsx';
import { CompBox } from './CompBox.tsx';
import { CompGrid, type GridPlace } from './CompGrid.tsx';
import type { CompSheet } from './comp.worker.ts';
import { suggestion, useCells, useHeard, useJoined, useSheet } from './passes.ts';

/** Several passes over one chart, and the best bars of them as one take. */
export default function CompView() {
  const { id = '' } = useParams();
  const { data, error } = useQuery({
    queryKey: ['comp', id],
    queryFn: () => request<CompDetail>(`/api/comps/${id}`),
  });
  if (error) return <EmptyState title="This comp could not be opened">{error.message}</EmptyState>;
  if (!data) return <Busy what="Opening the comp" />;
  return <WithPasses key={id} detail={data} />;
}

function WithPasses({ detail }: { detail: CompDetail }) {
  const { comp, takes } = detail;
  const { sheet, problem, opened, at } = useSheet(detail, comp.chart);
  if (problem)
    return <EmptyState title="The passes could not be laid along the chart">{problem.message}</EmptyState>;
  if (!sheet) return <Busy what={`Opening the passes: ${opened} of ${takes.length}`} />;
  if (sheet.passes.length < 2)
    return (
      <EmptyState title="There are not two passes that play this chart">
        {[...sheet.leftOut, ...sheet.remarks].map(({ text }) => text).join(' ')}
      </EmptyState>
    );
  return <OpenComp detail={detail} sheet={sheet} at={at} />;
}

const names = (of: readonly { name: string }[]) => of.map(({ name }) => name);

function OpenComp({ detail, sheet, at }: { detail: CompDetail; sheet: CompSheet; at: number }) {
  const { id } = detail;
  const navigate = useNavigate();
  const history = useHistory<Comp>(`comp ${id}`, detail.comp, `/split/comp/${id}`);
  const { value: comp, set } = history;
  const { problem, isBehind } = useSaved(
    { kind: 'comp', id, kept: detail.comp, revision: detail.revision, merge: mergedComp },
    history,
  );
  const [row, setRow] = useState(-1);
  const [place, setPlace] = useState<GridPlace>({ pass: 0, anchor: 0, bar: 0 });
  const [from, to] = [Math.min(place.anchor, place.bar), Math.max(place.anchor, place.bar)];
  const [isKeeping, setKeeping] = useState(false);
  const [isAbout, setAbout] = useState(false);
  const cells = useCells(sheet, at, row);
  const rowsMeant = row < 0 ? sheet.rows : [sheet.rows[row]!];
  const choice = useMemo(
    () => choiceOf(comp, { passes: names(sheet.passes), rows: names(sheet.rows), bars: sheet.chart.length }),
    [comp, sheet],
  );
  const stars = useMemo(
    () =>
      sheet.passes.map(({ name }, pass) =>
        sheet.chart.map((_, bar) => isStarred(comp, name, bar, cells?.[pass]?.[bar]?.wasMarked ?? false)),
      ),
    [comp, sheet, cells],
  );
  // What is tried lies under the others as they are taken; where nothing is taken yet, its own pass plays them.
  const tried = useMemo(
    () =>
      choice.map((bars, one) =>
        bars.map((pass, bar) =>
          bar < from || bar > to ? null : row < 0 || one === row ? place.pass : (pass ?? place.pass),
        ),
      ),
    [choice, row, place.pass, from, to],
  );
  const column = useJoined(sheet, at, { choice: tried, bpm: comp.bpm, from, to });
  const whole = useJoined(sheet, at, { choice, bpm: comp.bpm, from: 0, to: sheet.chart.length - 1 });
  const heard = useHeard(column, {
    ...{ id: `comp ${id} bars ${from} ${to}`, bars: to - from + 1 },
    title: `${comp.title}: ${barsWords(from, to)}, pass ${place.pass + 1}`,
  });
  const heardWhole = useHeard(whole, { id: `comp ${id}`, title: comp.title, bars: sheet.chart.length });
  useOffered(heard, 'bar');
  const joints = useMemo(() => steppedJoints(whole?.joints ?? [], row), [whole, row]);
  const take = (pass: number | null, first = from, last = to) =>
    set(
      (old) =>
        withTaken(old, { rows: rowsMeant.map(({ name }) => name), from: first, to: last }, () =>
          pass === null ? null : sheet.passes[pass]!.name,
        ),
      pass === null ? 'bars emptied' : 'bars taken',
    );
  const move = (bars: number, passes: number, isLonger = false) =>
    setPlace((old) => {
      const bar = Math.min(Math.max(0, old.bar + bars), sheet.chart.length - 1);
      const pass = Math.min(Math.max(0, old.pass + passes), sheet.passes.length - 1);
      return { pass, bar, anchor: isLonger || bars === 0 ? old.anchor : bar };
    });
  const star = () => {
    const isOn = stars[place.pass]![place.bar]!;
    set((old) => withStar(old, sheet.passes[place.pass]!.name, place.bar, !isOn), isOn ? 'a star off' : 'a star'); // prettier-ignore
  };
  const letSuggest = (way: Suggestion) =>
    void suggestion(row, way, stars).then(
      (found) =>
        set(
          (old) =>
            withTaken(
              old,
              { rows: rowsMeant.map(({ name }) => name), from: 0, to: sheet.chart.length - 1 },
              (bar) => {
                // prettier-ignore
                const { pass } = found[bar]!;
                return pass === null ? null : sheet.passes[pass]!.name;
              },
            ),
          way === 'errors' ? 'the fewest errors' : 'the most different fills',
        ),
      tellProblem,
    );
  const hear = (one: Listening | null) => void (one && toggleListening(one));
  const keep = () => {
    setKeeping(true);
    // What was decided last is saved before it is kept.
    const saved = equal(comp, history.base) ? Promise.resolve() : sendJson('PUT', `/api/comps/${id}`, { base: history.base, comp }).then(() => history.rebase(comp)); // prettier-ignore
    saved
      .then(() => sendJson<{ takeId: string }>('POST', `/api/comps/${id}/keep`, {}))
      .then(async ({ takeId }) => {
        await renew('takes', 'comps', 'comp');
        void navigate(`/split/${takeId}`);
      })
      .catch(tellProblem)
      .finally(() => setKeeping(false));
  };
  const nextRow = (by: number) => {
    const count = sheet.rows.length + 1;
    setRow(((row + 1 + by + count) % count) - 1);
  };
  useActions('The comp', [
    { title: 'Go round the bars, or stop', keys: [' '], run: () => hear(heard) },
    { title: 'The pass above, under the others', keys: ['ArrowUp'], run: () => move(0, -1) },
    { title: 'The pass below, under the others', keys: ['ArrowDown'], run: () => move(0, 1) },
    { title: 'The bar before', keys: ['ArrowLeft'], run: () => move(-1, 0) },
    { title: 'The next bar', keys: ['ArrowRight'], run: () => move(1, 0) },
    { title: 'A bar less', keys: ['Shift+ArrowLeft'], run: () => move(-1, 0, true) },
    { title: 'A bar more', keys: ['Shift+ArrowRight'], run: () => move(1, 0, true) },
    { title: 'Take the bars from this pass', keys: ['Enter'], run: () => take(place.pass) },
    { title: 'Take nothing in the bars', keys: ['Delete'], run: () => take(null) },
    { title: 'Star the bar of this pass, or not', keys: ['s'], run: star },
    { title: 'The next part', keys: ['.'], run: () => nextRow(1) },
    { title: 'The part before', keys: [','], run: () => nextRow(-1) },
    { title: 'Hear all that is taken, or stop', keys: ['w'], run: () => hear(heardWhole) },
    { title: 'Suggest the fewest errors', keys: ['g'], run: () => letSuggest('errors') },
    { title: 'Suggest the most different fills', keys: ['f'], run: () => letSuggest('fills') },
    { title: 'Title, chart and tempo of the comp', run: () => setAbout(true), words: 'rename bpm' },
    { title: 'Keep what is taken as a take', keys: ['k'], run: keep },
  ]);
  const tally = whole?.tally;
  return (
    <>
      <div className="flex min-w-0 flex-1 flex-col gap-2 px-5 pt-3 pb-2">
        <div className="flex items-center gap-4">
          <h1 className="truncate text-xl">{comp.title}</h1>
          <span className="text-sm whitespace-nowrap text-muted">
            {plural(sheet.passes.length, 'pass', 'passes')}, {plural(sheet.chart.length, 'bar')},{' '}
            {sheet.meter.numerator}/{sheet.meter.denominator}
          </span>
          <div className="ml-auto flex items-center gap-2">
            <Button small onClick={() => setAbout(true)}>
              Title, chart, tempo
            </Button>
            <UndoButtons history={history} />
            <Button kind="primary" disabled={isKeeping || !tally?.bars.used} onClick={keep}>
              {isKeeping ? 'Keeping' : 'Keep as a take'}
            </Button>
          </div>
        </div>
        {isBehind && (
          <BehindAlert
            what="decided the same bars otherwise"
            onTheirs={() => history.settle(detail.comp)}
            onMine={() => history.rebase(detail.comp)}
          />
        )}
        {problem && !isBehind && (
          <p className="text-sm text-madder" role="alert">
            {problem}
          </p>
        )}
        <div
          className="flex flex-wrap items-end gap-x-4 gap-y-1 border-b border-rule"
          aria-label="Parts"
          role="group"
        >
          <Tabs
            value={String(row)}
            tabs={[['-1', 'All parts'], ...sheet.rows.map(({ label }, one) => [String(one), label] as const)]}
            onValue={(value) => setRow(Number(value))}
          />
        </div>
        <CompGrid
          {...{ sheet, cells, choice, row, place, stars, joints }}
          onPlace={setPlace}
          onTake={(pass, first, last) => take(pass, first, last)}
        />
        <CompBar
          bars={{ from, to }}
          pass={place.pass}
          canHear={heard !== null}
          canHearAll={heardWhole !== null}
          tally={tally}
          isSaved={equal(comp, history.base)}
          onHear={() => hear(heard)}
          onHearAll={() => hear(heardWhole)}
          onTake={() => take(place.pass)}
          onSuggest={letSuggest}
        />
      </div>
      {isAbout && (
        <CompAbout
          comp={comp}
          beats={sheet.meter.numerator}
          onClose={() => setAbout(false)}
          onChange={(change) => set((old) => ({ ...old, ...change }), 'title, chart or tempo')}
        />
      )}
      <CompBox
        sheet={sheet}
        place={place}
        to={to}
        from={from}
        cell={cells?.[place.pass]?.[place.bar] ?? null}
        isStarred={stars[place.pass]?.[place.bar] ?? false}
        joints={whole?.joints ?? []}
        onStar={star}
        onJoint={(bar) => {
          const near = { ...place, anchor: Math.max(0, bar - 1), bar };
          setPlace({ ...near, pass: passOfBar(choice, bar) ?? place.pass });
          const clip = whole?.clips[0]?.clip;
          const before = Math.max(0, bar - 1);
          if (heardWhole && clip)
            void listen(heardWhole, clip.pickup + before * barTicks(clip.timeline.ppq, sheet.meter));
        }}
      />
    </>
  );
}

/** Of joints with a step that is heard, what is told, by their bars; of one row, or (-1) of all. */
function steppedJoints(joints: readonly Joint[], row: number): ReadonlyMap<number, string> {
  const told = new Map<number, string>();
  for (const joint of joints)
    if (joint.marks.length > 0 && (row < 0 || joint.row === row) && !told.has(joint.bar))
      told.set(joint.bar, jointWords(joint));
  return told;
}
