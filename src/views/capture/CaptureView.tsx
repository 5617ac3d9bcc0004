import { FileUp } from 'lucide-react';
import { useRef, useState, type DragEvent } from 'react';
import { Link, useNavigate } from 'react-router';
import { keyLabel } from '../../core/music/key.ts';
import { useActions } from '../../ui/actions.ts';
import { Button } from '../../ui/Button.tsx';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { RoleMark } from '../../ui/RoleMark.tsx';
import { useLastIntake, useTakes } from '../api/queries.ts';
import { stopIntake, takeInFiles, useIntake, type FileOutcome } from './intake.ts';

/** Capture: files in, each read before one's eyes; and all takes there are. */
export default function CaptureView() {
  const [over, setOver] = useState(false);
  const [source, setSource] = useState('');
  const input = useRef<HTMLInputElement>(null);
  useActions('Capture', [
    { title: 'Choose MIDI files', run: () => input.current?.click() },
    { title: 'Stop the intake', run: stopIntake },
  ]);
  const onDrop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    void takeInFiles([...event.dataTransfer.files], source);
  };
  return (
    <div
      className="flex min-w-0 flex-1"
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={onDrop}
    >
      <div className="flex min-w-0 flex-1 flex-col px-5 pt-4">
        <h1 className="mb-3 text-xl">Takes</h1>
        <TakeTable onPick={() => input.current?.click()} />
      </div>
      <aside className="flex w-[330px] flex-none flex-col gap-4 overflow-auto border-l border-rule p-4">
        <div
          className={`flex flex-col items-center gap-3 rounded border-2 border-dashed p-5 text-center ${
            over ? 'border-madder bg-select' : 'border-rule'
          }`}
        >
          <FileUp size={26} aria-hidden="true" className="text-muted" />
          <div>
            <p className="font-bold">Drop MIDI files anywhere here</p>
            <p className="text-sm text-muted">
              The bytes are kept for ever; nothing done later touches them.
            </p>
          </div>
          <Button kind="primary" onClick={() => input.current?.click()}>
            Choose files
          </Button>
          <input
            ref={input}
            type="file"
            multiple
            accept=".mid,.midi,.smf,.kar,.rmi,audio/midi"
            className="sr-only"
            aria-label="MIDI files"
            tabIndex={-1}
            onChange={(event) => {
              void takeInFiles([...(event.target.files ?? [])], source);
              event.target.value = '';
            }}
          />
        </div>
        <label className="grid gap-1">
          <span className="label">Where they come from (a device, a program, a folder)</span>
          <input
            className="field"
            value={source}
            onChange={(event) => setSource(event.target.value)}
            maxLength={200}
          />
        </label>
        <IntakeList />
      </aside>
    </div>
  );
}

function TakeTable({ onPick }: { onPick: () => void }) {
  const { data: takes, error, isPending } = useTakes();
  const navigate = useNavigate();
  if (isPending) return <Busy what="Looking for takes" />;
  if (error) return <EmptyState title="The takes could not be loaded">{error.message}</EmptyState>;
  if (takes.length === 0) {
    return (
      <EmptyState
        title="No takes yet"
        action={
          <Button kind="primary" onClick={onPick}>
            Choose MIDI files
          </Button>
        }
      >
        Export what your generator or arranger played as MIDI files and drop them here. Each is taken apart by
        instrument at once.
      </EmptyState>
    );
  }
  return (
    <div className="-mx-2 min-h-0 flex-1 overflow-auto px-2">
      <table className="w-full border-collapse">
        <thead className="sticky top-0 z-10 bg-paper text-left text-sm text-muted">
          <tr className="border-b border-rule">
            <th className="py-1.5 pr-3 font-normal">Take</th>
            <th className="px-3 font-normal">Parts</th>
            <th className="px-3 text-right font-normal">Notes</th>
            <th className="px-3 text-right font-normal">Bars</th>
            <th className="px-3 text-right font-normal">Length</th>
            <th className="px-3 text-right font-normal">BPM</th>
            <th className="px-3 font-normal">Meter</th>
            <th className="px-3 font-normal">Key</th>
            <th className="px-3 font-normal">File</th>
            <th className="pl-3 text-right font-normal">Phrases</th>
          </tr>
        </thead>
        <tbody>
          {takes.map((take) => {
            const { facts } = take;
            const key = take.chosenKey ?? take.keys[0];
            const meter = facts.meters[0];
            return (
              <tr
                key={take.id}
                className="quiet-row cursor-pointer hover:bg-card"
                onClick={() => void navigate(`/split/${take.id}`)}
              >
                <td className="py-1.5 pr-3">
                  <Link
                    to={`/split/${take.id}`}
                    className="font-bold"
                    onClick={(event) => event.stopPropagation()}
                  >
                    {take.name}
                  </Link>
                  <div className="text-xs text-muted">
                    {[take.source, take.contributor].filter(Boolean).join(', ') || take.fileName}
                  </div>
                </td>
                <td className="px-3">
                  <span
                    className="flex flex-wrap gap-1"
                    title={take.parts.map((part) => `${part.name} (${part.role})`).join(', ')}
                  >
                    {take.parts.slice(0, 10).map((part, i) => (
                      <RoleMark key={i} role={part.role} bare />
                    ))}
                    <span className="text-muted">{take.parts.length}</span>
                  </span>
                </td>
                <td className="px-3 text-right">{facts.notes.toLocaleString('en')}</td>
                <td className="px-3 text-right">{facts.bars}</td>
                <td className="px-3 text-right">{clockTime(facts.seconds)}</td>
                <td className="px-3 text-right">
                  {facts.tempos[0] ? (
                    Math.round(facts.tempos[0].bpm * 10) / 10
                  ) : (
                    <span title="The file gives no tempo; 120 is assumed">120?</span>
                  )}
                </td>
                <td className="px-3">
                  {meter ? (
                    `${meter.numerator}/${meter.denominator}`
                  ) : (
                    <span title="The file gives no meter; 4/4 is assumed">4/4?</span>
                  )}
                </td>
                <td className="px-3">{key ? keyLabel(key) : ''}</td>
                <td className="px-3 text-sm whitespace-nowrap text-muted">
                  format {facts.format}, {facts.tracks} tr.
                  {facts.repairs.length > 0 && (
                    <span
                      className="ml-1.5 text-madder"
                      title={facts.repairs.map((repair) => repair.message).join('\n')}
                    >
                      {facts.repairs.length} repaired
                    </span>
                  )}
                </td>
                <td className="pl-3 text-right">{take.phrases || ''}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

function clockTime(seconds: number): string {
  const whole = Math.round(seconds);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`;
}

const STATE_WORDS: Record<FileOutcome['state'], string> = {
  waiting: 'waits',
  reading: 'being read',
  taken: 'taken in',
  known: 'already here, byte for byte',
  refused: 'refused',
  stopped: 'left out, stopped',
};

/** What comes of each file; after a reload, what came of the last intake. */
function IntakeList() {
  const { running, files } = useIntake();
  const { data: last } = useLastIntake();
  const { data: takes } = useTakes();
  const shown: FileOutcome[] =
    files.length > 0
      ? files
      : (last?.outcomes ?? []).map(({ outcome, ...rest }) => ({ ...rest, state: outcome }));
  if (shown.length === 0) return null;
  const done = shown.filter(({ state }) => state !== 'waiting' && state !== 'reading').length;
  return (
    <section aria-label="Intake">
      <div className="mb-2 flex items-center justify-between">
        <h2>{running ? `Reading ${done + 1} of ${shown.length}` : 'Last intake'}</h2>
        {running && (
          <Button small onClick={stopIntake}>
            Stop
          </Button>
        )}
      </div>
      {running && (
        <progress
          className="mb-2 h-1 w-full accent-[var(--madder)]"
          value={done}
          max={shown.length}
          aria-label="Files read"
        />
      )}
      <ul>
        {shown.map(({ file, state, takeId, reason }, i) => {
          const facts = takes?.find((take) => take.id === takeId)?.facts;
          return (
            <li key={i} className="quiet-row py-1.5">
              <div className="flex justify-between gap-2">
                {takeId ? (
                  <Link to={`/split/${takeId}`} className="truncate font-bold">
                    {file}
                  </Link>
                ) : (
                  <span className="truncate font-bold">{file}</span>
                )}
                <span className={`flex-none text-sm ${state === 'refused' ? 'text-madder' : 'text-muted'}`}>
                  {STATE_WORDS[state]}
                </span>
              </div>
              {reason && <p className="text-sm">{reason}</p>}
              {facts && (
                <p className="text-xs text-muted">
                  format {facts.format}, {facts.tracks} tracks, {facts.notes} notes,{' '}
                  {clockTime(facts.seconds)}
                  {facts.tempos[0] && `, ${Math.round(facts.tempos[0].bpm)} BPM`}
                  {facts.repairs.length > 0 &&
                    `, ${facts.repairs.length} repaired: ${facts.repairs[0]!.message}`}
                </p>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}
