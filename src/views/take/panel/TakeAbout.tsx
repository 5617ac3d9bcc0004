import { Link } from 'react-router';
import { guessWords } from '../../../core/capture/name-guess.ts';
import { keyName } from '../../../core/music/key.ts';
import { plural } from '../../../core/words.ts';
import { Button } from '../../../ui/Button.tsx';
import { openLeave } from '../../shared/leaving/leaving.ts';
import { FileLink } from '../../../ui/ButtonLink.tsx';
import { Facts } from '../../../ui/Ticket.tsx';
import type { TakeWire } from '../../api/queries.ts';
import { EditDialog } from '../../shared/takes/EditDialog.tsx';
import { useLayOut } from '../../shared/takes/lay-out.ts';
import { useTakeChanges } from '../../shared/takes/bulk.ts';
import { AccountList, accountWords } from '../../shared/takes/AccountList.tsx';
import type { BarRange } from '../../shared/takes/strand-columns.ts';

/** Everything that is known of a take. */
export function TakeAbout({
  row,
  onRange,
  editing,
  onEditing: setEditing,
}: {
  row: TakeWire;
  onRange: (range: BarRange) => void;
  /** Whether what is known of it is being changed. */
  editing: boolean;
  onEditing: (on: boolean) => void;
}) {
  const changes = useTakeChanges();
  const layOut = useLayOut();
  const { capture, asked, account } = row;
  const guess = guessWords(row.guesses);
  const change = (what: string, now: Parameters<typeof changes.mutate>[0]['change']) =>
    changes.mutate({ ids: [row.id], change: now, done: `${row.name}: ${what}`, what: 'the change' });
  return (
    <div className="flex flex-1 flex-col gap-4">
      {capture && capture.stars.length > 0 && <Stars stars={capture.stars} onRange={onRange} />}
      {account && (
        <section aria-label="The account">
          <h2 className="mb-1">The account</h2>
          <p className="mb-1.5 text-sm">{accountWords(account)}</p>
          <AccountList account={account} takeId={row.id} />
        </section>
      )}
      <section aria-label="As a weave">
        <h2 className="mb-1">As a weave</h2>
        <p className="text-sm text-muted">
          Its sections side by side, where a part is replaced by a phrase that is found by ear.
        </p>
        <div className="mt-1.5 flex flex-wrap gap-1.5">
          {([true, false] as const).map((withParts) => (
            <Button
              key={String(withParts)}
              small
              disabled={layOut.isPending}
              onClick={() => layOut.mutate({ takeId: row.id, withParts })}
            >
              {withParts ? 'Lay out with its parts' : 'Only its sections'}
            </Button>
          ))}
        </div>
      </section>
      <section>
        <h2 className="mb-1">Where it comes from</h2>
        <Facts
          rows={[
            ['Source', row.source ?? <Unsaid />],
            ['Whose', row.contributor ?? <Unsaid />],
            ['Rights', row.rights || <Unsaid />],
            asked.chart ? ['Chart', asked.chart] : null,
            asked.bars ? ['Bars asked', asked.bars] : null,
            asked.bpm ? ['Tempo asked', `${asked.bpm} BPM`] : null,
            asked.key ? ['Key asked', keyName(asked.key)] : null,
            guess ? ['Name says', <i key="guess">{guess}?</i>] : null,
            row.guesses.folder ? ['Folder', row.guesses.folder] : null,
          ]}
        />
        <div className="mt-1.5 flex flex-wrap gap-1.5">
          <Button small onClick={() => setEditing(true)}>
            Edit
          </Button>
          {(row.guesses.bpm || row.guesses.key) && !asked.bpm && !asked.key && (
            <Button
              small
              title="What its name says is what it was asked to play"
              onClick={() => {
                const { bpm, key } = row.guesses;
                change('asked as its name says', {
                  asked: { ...asked, ...(bpm ? { bpm } : {}), ...(key ? { key } : {}) },
                });
              }}
            >
              The name is right
            </Button>
          )}
          <Button
            small
            onClick={() => change(row.aside ? 'brought back' : 'set aside', { aside: !row.aside })}
          >
            {row.aside ? 'Bring the take back' : 'Set the take aside'}
          </Button>
        </div>
        <EditDialog
          open={editing}
          title={`Edit ${row.name}`}
          takes={[row]}
          onClose={() => setEditing(false)}
          onSave={(known) => change('changed', known)}
        />
      </section>
      {row.madeBy && (
        <section>
          <h2 className="mb-1">{row.madeBy.kind === 'comp' ? 'Of several passes' : 'Of a sweep'}</h2>
          <Link
            className="underline"
            to={
              row.madeBy.kind === 'comp' ? `/split/comp/${row.madeBy.id}` : `/capture/sweep/${row.madeBy.id}`
            }
          >
            {row.madeBy.name}
          </Link>
          {row.madeBy.kind === 'comp' && (
            <p className="text-sm text-muted">Its markers say which pass each bar is from.</p>
          )}
        </section>
      )}
      {capture && <Recorded capture={capture} />}
      <section>
        <h2 className="mb-1">The file</h2>
        <Facts
          rows={[
            [
              'Name',
              <span key="name" className="break-all">
                {row.fileName}
              </span>,
            ],
            ['Came in', new Date(row.createdAt).toLocaleString('en')],
            ['Format', `${row.facts.format}, ${row.facts.tracks} tracks, ${row.facts.ppq ?? 'film'} ticks`],
            [
              'SHA-256',
              <code key="sha" title={row.sha256}>
                {row.sha256.slice(0, 12)}
              </code>,
            ],
            row.facts.repairs.length > 0
              ? ['Repaired', row.facts.repairs.map(({ message }) => message).join(' ')]
              : null,
          ]}
        />
        <div className="mt-1.5 flex flex-wrap gap-1.5">
          <FileLink small href={`/api/takes/${row.id}/file`}>
            The original
          </FileLink>
          <Button small onClick={() => openLeave({ kind: 'take', id: row.id })} title="Ctrl+Shift+E">
            How it leaves ...
          </Button>
          <FileLink
            small
            href={`/api/takes/${row.id}/parts?as=zip`}
            title="Every note of it, what is set aside beside them"
          >
            All of it, a file a part
          </FileLink>
          {capture?.input && (
            <FileLink small href={`/api/takes/${row.id}/input`}>
              The keys that set it off
            </FileLink>
          )}
        </div>
      </section>
    </div>
  );
}

function Unsaid() {
  return <span className="text-muted">not said</span>;
}

/** Bars that were marked while it played: offered first. */
function Stars({
  stars,
  onRange,
}: {
  stars: readonly { bar: number; bars: number }[];
  onRange: (range: BarRange) => void;
}) {
  return (
    <section aria-label="Marked while it played">
      <h2 className="mb-1">"That one"</h2>
      <div className="flex flex-wrap gap-1.5">
        {stars.map(({ bar, bars }) => (
          <Button small key={`${bar} ${bars}`} onClick={() => onRange({ start: bar, count: bars })}>
            {bars === 1 ? `bar ${bar}` : `bars ${bar} to ${bar + bars - 1}`}
          </Button>
        ))}
      </div>
    </section>
  );
}

const CLOCK_WORDS = { click: 'to the click', followed: 'to the clock of its source', none: 'no click' };

function Recorded({ capture }: { capture: NonNullable<TakeWire['capture']> }) {
  const { recordedAt, clock, sources, messages, lateness, endedNotes, answers, barsBefore } = capture;
  return (
    <section aria-label="How it was recorded">
      <h2 className="mb-1">How it was recorded</h2>
      <Facts
        rows={[
          ['When', new Date(recordedAt).toLocaleString('en')],
          ['Bars by', CLOCK_WORDS[clock]],
          ['From', sources.map(({ name }) => name).join(', ')],
          answers
            ? [
                'Answers',
                <Link
                  key="answers"
                  className="underline decoration-rule underline-offset-3"
                  to={answers.kind === 'phrase' ? `/normalize/${answers.id}` : `/split/${answers.id}`}
                >
                  {answers.name}
                </Link>,
              ]
            : null,
          ['Messages', messages.toLocaleString('en')],
          barsBefore > 0 ? ['Before bar one', `${plural(barsBefore, 'bar')} were played`] : null,
          endedNotes > 0 ? ['Ended', `${endedNotes} notes that still sounded`] : null,
          lateness
            ? [
                'Handled',
                <span key="late" title="The times that are stored are the sender's own">
                  {lateness.median} ms late at the median, {lateness.p95} ms at the 95th percentile. Stored as
                  sent.
                </span>,
              ]
            : null,
        ]}
      />
    </section>
  );
}
