import { followIncoming } from '../../devices/incoming-tempo.ts';
import { useEffect, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { mark } from '../../devices/hearing.ts';
import { handOverRest } from '../../devices/keeping.ts';
import { recordOrStop } from '../../devices/recorder.ts';
import { armedSources, changeSettings, useRecorder } from '../../devices/recorder-state.ts';
import { askedOf, playStandIn, stopStandIn, useStandIns } from '../../devices/stand-ins.ts';
import { useActions } from '../../ui/actions.ts';
import { usePlace } from '../../ui/history/place.ts';
import { CaptureHeading } from '../shared/CaptureHeading.tsx';
import { AccountList, accountWords } from '../shared/takes/AccountList.tsx';
import '../shared/captures.ts';
import { Help } from './Causes.tsx';
import { DeviceForm } from './DeviceForm.tsx';
import { Roll } from './Roll.tsx';
import { SourceList } from './SourceList.tsx';
import { StandInForm } from './StandInForm.tsx';
import { Transport } from './Transport.tsx';
import { Unfinished } from './Unfinished.tsx';

/** Capture, live: sources, what arrives, and recording it. */
export default function LiveView() {
  const [params] = useSearchParams();
  const [kept, setChosen] = usePlace('live source', 'chord-player');
  const chosen = params.get('source') ?? kept;
  const sources = useRecorder((state) => state.sources);
  const source = sources.find(({ id }) => id === chosen);
  const plays = useStandIns((all) => all[chosen]?.playing ?? false);
  useOwnTempo();
  useEffect(() => {
    window.addEventListener('pagehide', handOverRest);
    return () => window.removeEventListener('pagehide', handOverRest);
  }, []);
  useEffect(followIncoming, []);
  useActions('Live', [
    {
      title: 'Record, or stop',
      keys: ['r'],
      run: recordOrStop,
      words: 'capture start end take',
    },
    { title: 'That one: mark the bars before now', keys: ['m'], run: () => mark() },
    {
      title: 'Play the chosen stand-in, or stop it',
      keys: ['p'],
      run: () => source?.kind === 'stand-in' && (plays ? stopStandIn(chosen) : playStandIn(chosen)),
    },
  ]);
  return (
    <>
      <aside className="w-[268px] flex-none overflow-auto border-r border-rule p-4">
        <SourceList chosen={chosen} onChoose={setChosen} />
        <div className="mt-3 flex flex-wrap gap-1.5">
          <Help />
        </div>
      </aside>
      <div className="flex min-w-0 flex-1 flex-col gap-3 px-5 pt-3 pb-4">
        <div className="-mb-3">
          <CaptureHeading />
        </div>
        <Unfinished />
        <Transport />
        <Problem />
        <Roll />
        <Finished />
      </div>
      <aside className="w-[290px] flex-none overflow-auto border-l border-rule p-4">
        {source?.kind === 'stand-in' ? (
          <StandInForm key={chosen} id={chosen} />
        ) : source ? (
          <DeviceForm key={source.name} source={source} />
        ) : (
          <h2 className="text-lg">No source</h2>
        )}
      </aside>
    </>
  );
}

/** Where one stand-in alone is ticked, bars are counted by its tempo and meter, as it is set. */
function useOwnTempo(): void {
  const prompt = useRecorder((state) => state.prompt);
  const clock = useRecorder((state) => state.settings.clock);
  const armed = armedSources(useRecorder((state) => state.sources));
  const only = armed.length === 1 && armed[0]!.kind === 'stand-in' ? armed[0]!.id : undefined;
  const settings = useStandIns((all) => (only ? all[only]!.settings : undefined));
  useEffect(() => {
    if (!only || !settings || prompt || useRecorder.getState().phase !== 'idle') return;
    try {
      const { bpm, meter, bars } = askedOf(only);
      // Without a clock nobody knows where its bars end: it is stopped by hand.
      changeSettings({ bpm, meter, bars: clock === 'none' ? null : bars });
    } catch {
      // A chart that is half typed: the form says so.
    }
  }, [only, settings, prompt, clock]);
}

function Problem() {
  const problem = useRecorder((state) => state.problem);
  return problem ? (
    <p role="alert" className="rounded-[3px] border border-madder px-3 py-1.5 text-madder">
      {problem}
    </p>
  ) : (
    <Silence />
  );
}

/** How long nothing may come before it is said, in milliseconds. */
const PATIENCE_MS = 4000;

/** Nothing has come for a while, although something is recorded. */
function Silence() {
  const startMs = useRecorder((state) => state.startMs);
  const [long, setLong] = useState(false);
  const waits = useRecorder(({ phase, notes }) => phase === 'recording' && notes === 0);
  useEffect(() => {
    setLong(false);
    if (!waits) return;
    const timer = setTimeout(() => setLong(true), Math.max(0, startMs + PATIENCE_MS - performance.now()));
    return () => clearTimeout(timer);
  }, [waits, startMs]);
  return long ? (
    <p role="status" className="flex items-center gap-2 rounded-[3px] border border-rule bg-card px-3 py-1.5">
      Nothing has arrived yet. <Help />
    </p>
  ) : null;
}

/** The plain account of what was recorded last. */
function Finished() {
  const finished = useRecorder((state) => state.finished);
  if (!finished) return null;
  const { takeId, account, name } = finished;
  return (
    <section aria-label="The take" className="max-h-56 flex-none overflow-auto">
      <div className="mb-1.5 flex items-baseline gap-3">
        <h2 className="truncate">
          {takeId ? (
            <Link to={`/split/${takeId}`} className="underline decoration-rule underline-offset-3">
              {name}
            </Link>
          ) : (
            'No take'
          )}
        </h2>
        <span className="text-muted">{accountWords(account)}</span>
        {takeId && (
          <Link to={`/split/${takeId}`} className="ml-auto underline decoration-rule underline-offset-3">
            Split it
          </Link>
        )}
      </div>
      <AccountList account={account} takeId={takeId} />
    </section>
  );
}
