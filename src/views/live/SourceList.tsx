import { Cable } from 'lucide-react';
import { useEffect, useState } from 'react';
import { activityOf, armSource, askForMidi, hearStandIn, rememberedNotes } from '../../devices/hearing.ts';
import { takeFromMemory } from '../../devices/recorder.ts';
import { useRecorder, type SourceState } from '../../devices/recorder-state.ts';
import { useDeviceSetting } from '../../devices/device-settings.ts';
import { Button } from '../../ui/Button.tsx';
import { Meters } from './Meters.tsx';

/** All sources: which are recorded, what arrives on which channel, and what they played while nothing was recorded. */
export function SourceList({ chosen, onChoose }: { chosen: string; onChoose: (id: string) => void }) {
  const sources = useRecorder((state) => state.sources);
  const devices = sources.filter(({ kind }) => kind === 'device');
  const standIns = sources.filter(({ kind }) => kind === 'stand-in');
  const rows = (list: SourceState[]) =>
    list.map((source) => (
      <SourceRow key={source.id} source={source} chosen={source.id === chosen} onChoose={onChoose} />
    ));
  return (
    <div className="grid gap-3">
      <section aria-label="Devices">
        <h2 className="mb-1">Devices</h2>
        <DeviceAccess found={devices.length} />
        {rows(devices)}
      </section>
      <section aria-label="Stand-ins">
        <h2 className="mb-1">Stand-ins</h2>
        {rows(standIns)}
      </section>
    </div>
  );
}

/** Asks for devices, and says what became of it. */
function DeviceAccess({ found }: { found: number }) {
  const access = useRecorder((state) => state.access);
  const ask = (label: string) => (
    <Button small onClick={() => void askForMidi()}>
      <Cable size={13} aria-hidden="true" /> {label}
    </Button>
  );
  switch (access) {
    case 'unasked':
      return (
        <>
          <p className="mb-1.5 text-sm text-muted">
            The browser asks once whether this page may hear MIDI devices. It never leaves this computer.
          </p>
          {ask('Look for devices')}
        </>
      );
    case 'asking':
      return <p className="text-sm text-muted">Waiting for the browser's answer ...</p>;
    case 'absent':
      return (
        <p className="text-sm text-madder">
          This browser cannot hear MIDI devices. One that has Web MIDI can; files and stand-ins work in every
          browser.
        </p>
      );
    case 'refused':
      return (
        <>
          <p className="mb-1.5 text-sm text-madder">
            The browser was told not to let this page hear MIDI devices. Allow MIDI for this page in the
            browser's settings of the site, then look again.
          </p>
          {ask('Look again')}
        </>
      );
    case 'ready':
      return found === 0 ? (
        <p className="text-sm text-muted">
          None is connected. Plug one in, or open a virtual MIDI port: it shows up here by itself.
        </p>
      ) : null;
  }
}

function SourceRow({
  source,
  chosen,
  onChoose,
}: {
  source: SourceState;
  chosen: boolean;
  onChoose: (id: string) => void;
}) {
  const { id, name, kind, armed, lost } = source;
  const setsOff = useDeviceSetting(name).use !== 'recorded' && kind === 'device';
  return (
    <div
      className={`quiet-row grid grid-cols-[20px_1fr_auto] items-center gap-x-2 border-l-3 py-1 pl-1.5 ${
        chosen ? 'border-l-madder bg-select' : 'border-l-transparent hover:bg-card'
      }`}
    >
      <input
        type="checkbox"
        className="accent-[var(--madder)]"
        checked={armed && !setsOff}
        disabled={lost || setsOff}
        aria-label={`Record ${name}`}
        title="Recorded when you press Record"
        onChange={(event) => armSource(id, event.target.checked)}
      />
      <button
        type="button"
        className="truncate text-left font-bold"
        aria-pressed={chosen}
        onClick={() => {
          if (source.kind === 'stand-in') hearStandIn(id);
          onChoose(id);
        }}
      >
        {name}
        {lost && <span className="ml-1.5 font-normal text-madder">unplugged</span>}
        {!lost && setsOff && (
          <span className="block text-xs font-normal text-muted">sets the others off</span>
        )}
      </button>
      <Meters id={id} />
      {armed && <Arrives id={id} name={name} />}
      <Memory id={id} name={name} />
    </div>
  );
}

/** How often it is looked whether anything arrives, and how long it must be silent to be told again, in milliseconds. */
const LOOK_EVERY = 1000;
const SILENT_FOR = 8000;

/** Tells those who do not see the meter that something arrives, once until it has been silent for a while. */
function Arrives({ id, name }: { id: string; name: string }) {
  const [arrives, setArrives] = useState(false);
  useEffect(() => {
    const timer = setInterval(() => {
      const last = activityOf(id).at.reduce((most, at) => Math.max(most, at), -Infinity);
      const silent = performance.now() - last;
      setArrives((was) => silent < LOOK_EVERY || (was && silent < SILENT_FOR));
    }, LOOK_EVERY);
    return () => clearInterval(timer);
  }, [id]);
  return (
    <span role="status" className="sr-only">
      {arrives ? `${name} arrives` : ''}
    </span>
  );
}

/** What was played since the last pause although nothing was recording. */
function Memory({ id, name }: { id: string; name: string }) {
  const idle = useRecorder(({ phase }) => phase === 'idle');
  const [notes, setNotes] = useState(0);
  useEffect(() => {
    if (!idle) return;
    const look = () => setNotes(rememberedNotes(id));
    look();
    const timer = setInterval(look, 1000);
    return () => clearInterval(timer);
  }, [id, idle]);
  if (notes === 0 || !idle) return null;
  return (
    <button
      type="button"
      className="col-start-2 col-end-4 text-left text-xs text-muted underline decoration-rule underline-offset-3 hover:text-ink"
      aria-label={`Take what ${name} just played`}
      onClick={() => void takeFromMemory(id)}
    >
      take what it just played, {notes.toLocaleString('en')} notes
    </button>
  );
}
