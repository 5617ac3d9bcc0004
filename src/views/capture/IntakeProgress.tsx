import { Link } from 'react-router';
import { guessWords } from '../../core/capture/name-guess.ts';
import { plural } from '../../core/words.ts';
import { Button } from '../../ui/Button.tsx';
import { FileLink } from '../../ui/ButtonLink.tsx';
import { clockTime } from '../../ui/time.ts';
import { useIntakeDetail, useIntakes, type IntakeDetail } from '../api/queries.ts';
import { useJoin } from './BulkBar.tsx';
import { intakeWords, useRenewedTakes } from './intake-end.ts';
import { stopIntake, useIntake } from './intake.ts';
import { StreamChoice } from './StreamChoice.tsx';

type Item = IntakeDetail['items'][number];

const STATE_WORDS: Record<Item['state'], string> = {
  waiting: 'waits',
  taken: 'taken in',
  known: 'already here, byte for byte',
  refused: 'refused',
  opened: 'opened',
};

const ORIGIN_WORDS = { page: '', inbox: ' from the inbox', command: ' by command' };

/** The last intake, wherever it was begun: how far it is, and what came of each file. */
export function IntakeProgress() {
  const { jobId, sending, unsent } = useIntake();
  const { data: intakes } = useIntakes();
  // The list may not know yet of the intake that this window has just begun.
  const known = intakes?.intakes.some(({ id }) => id === jobId);
  const { data: shown } = useIntakeDetail(jobId && !known ? jobId : intakes?.intakes[0]?.id);
  useRenewedTakes(shown);
  if (!shown) return null;
  return (
    <section aria-label="Intake">
      <Heading job={shown} sending={shown.id === jobId ? sending : null} />
      {shown.id === jobId && unsent.length > 0 && (
        <ul>
          {unsent.map(({ file, reason }) => (
            <li key={file} className="quiet-row py-1.5">
              <div className="flex justify-between gap-2">
                <b className="truncate">{file}</b>
                <span className="flex-none text-sm text-madder">not sent</span>
              </div>
              <p className="text-sm">{reason}</p>
            </li>
          ))}
        </ul>
      )}
      <Passes job={shown} />
      <FileList job={shown} />
    </section>
  );
}

function Heading({ job, sending }: { job: IntakeDetail; sending: { sent: number; total: number } | null }) {
  const { waiting, taken, known, refused } = job.counts;
  const done = taken + known + refused;
  const total = Math.max(done + waiting, sending?.total ?? 0);
  const runs = job.state === 'running';
  return (
    <>
      <div className="mb-1 flex items-center justify-between gap-2">
        <h2>
          {runs
            ? `Reading ${Math.min(done + 1, total).toLocaleString('en')} of ${total.toLocaleString('en')}`
            : `Last intake${ORIGIN_WORDS[job.origin]}${job.state === 'stopped' ? ', stopped' : ''}`}
        </h2>
        {runs ? (
          <Button small onClick={() => void stopIntake(job.id)}>
            Stop
          </Button>
        ) : (
          refused > 0 && (
            <FileLink small href={`/api/jobs/${job.id}/refused`}>
              Refused as CSV
            </FileLink>
          )
        )}
      </div>
      {runs && (
        <progress
          className="mb-1 h-1 w-full accent-[var(--madder)]"
          value={done}
          max={Math.max(1, total)}
          aria-label="Files read"
        />
      )}
      {total > 1 && <p className="text-sm text-muted">{intakeWords(job)}</p>}
    </>
  );
}

/** Files that look like passes of one performance, offered to be joined. */
function Passes({ job }: { job: IntakeDetail }) {
  const join = useJoin();
  return (
    <>
      {job.passes.map(({ name, takeIds }) => (
        <div key={name} className="my-2 rounded-[3px] border border-rule bg-card p-2">
          <p className="mb-1.5 text-sm">
            <b>{takeIds.length} files look like passes of one performance,</b> "{name}": their names differ by
            an instrument, and they are equally long.
          </p>
          <Button small disabled={join.isPending} onClick={() => join.mutate({ ids: takeIds, name })}>
            Join to one take
          </Button>
        </div>
      ))}
    </>
  );
}

function FileList({ job }: { job: IntakeDetail }) {
  const briefs = new Map(job.takes.map((take) => [take.id, take]));
  const only = job.items.length === 1 ? job.items[0]! : undefined;
  const all = Object.values(job.counts).reduce((sum, count) => sum + count, 0) - job.counts.opened;
  return (
    <>
      <ul>
        {job.items.map((item) => (
          <FileLine
            key={item.position}
            item={item}
            brief={item.takeId ? briefs.get(item.takeId) : undefined}
          />
        ))}
      </ul>
      {only?.takeId && job.state !== 'running' && <StreamChoice takeId={only.takeId} />}
      {all > job.items.length && (
        <p className="py-2 text-sm text-muted">{(all - job.items.length).toLocaleString('en')} more files.</p>
      )}
    </>
  );
}

function FileLine({ item, brief }: { item: Item; brief: IntakeDetail['takes'][number] | undefined }) {
  const { file, state, takeId, reason } = item;
  const name = file.split('/').at(-1);
  const guess = brief && guessWords(brief.guesses);
  return (
    <li className="quiet-row py-1.5">
      <div className="flex justify-between gap-2">
        {takeId ? (
          <Link to={`/split/${takeId}`} className="truncate font-bold" title={file}>
            {name}
          </Link>
        ) : (
          <span className="truncate font-bold" title={file}>
            {name}
          </span>
        )}
        <span className={`flex-none text-sm ${state === 'refused' ? 'text-madder' : 'text-muted'}`}>
          {STATE_WORDS[state]}
        </span>
      </div>
      {reason && <p className="text-sm">{reason}</p>}
      {brief && (
        <p className="text-xs text-muted">
          format {brief.format}, {plural(brief.tracks, 'track')}, {brief.notes.toLocaleString('en')} notes,{' '}
          {clockTime(brief.seconds)}
          {brief.bpm !== null && `, ${Math.round(brief.bpm)} BPM`}
          {guess && `; its name says ${guess}`}
        </p>
      )}
      {brief?.repairs[0] && (
        <p className="text-xs text-madder">
          {brief.repairs.length} repaired: {brief.repairs[0]}
        </p>
      )}
      {brief?.warnings.map((text) => (
        <p key={text} className="text-xs text-madder">
          {text}
        </p>
      ))}
    </li>
  );
}
