import { Link } from 'react-router';
import { ViewLink } from '../../ui/ButtonLink.tsx';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { RoleMark } from '../../ui/drawing/RoleMark.tsx';
import { plural } from '../../core/words.ts';
import { useTakesThat } from '../api/queries.ts';
import { isClean } from '../shared/takes/keep.ts';
import { KeepButton } from '../shared/takes/KeepButton.tsx';

/** What waits at Split: takes of which no phrase has been made; then those that are being worked on. */
export default function WaitingTakes() {
  const waiting = useTakesThat('waiting');
  const begun = useTakesThat('used');
  const error = waiting.error ?? begun.error;
  if (error) return <EmptyState title="The takes could not be loaded">{error.message}</EmptyState>;
  if (!waiting.data || !begun.data) return <Busy what="Looking for takes" />;
  if (waiting.data.total + begun.data.total === 0) {
    return (
      <EmptyState
        title="Nothing to split yet"
        action={
          <Link className="underline" to="/capture">
            Take in MIDI files
          </Link>
        }
      >
        A take comes apart here into its instruments. First one has to be captured.
      </EmptyState>
    );
  }
  return (
    <div className="mx-auto w-full max-w-4xl overflow-auto px-5 pt-4 pb-8">
      <div className="flex items-baseline gap-3">
        <h1 className="mb-1 text-xl">Split</h1>
        <span className="ml-auto">
          <ViewLink small to="/split/comp">
            Comps
          </ViewLink>
        </span>
      </div>
      <p className="mb-4 text-muted">Open a take, choose bars of a part, and make a phrase of them.</p>
      {[
        { title: 'Waiting', filter: 'waiting', ...waiting.data },
        { title: 'Begun', filter: 'used', ...begun.data },
      ].map(({ title, filter, total, takes }) => (
        <section key={title} className="mb-6">
          <h2 className="border-b border-rule pb-1">
            {title}, {total.toLocaleString('en')}
          </h2>
          {total === 0 && <p className="py-2 text-muted">No take.</p>}
          {takes.map((take) => (
            <div key={take.id} className="quiet-row flex items-center gap-4 px-1 hover:bg-card">
              <Link to={`/split/${take.id}`} className="flex min-w-0 flex-1 items-center gap-4 py-2">
                <span className="w-64 truncate font-bold">{take.name}</span>
                <span className="flex flex-1 flex-wrap gap-x-3 gap-y-1 text-sm">
                  {[...new Set(take.parts.map((part) => part.role))].map((role) => (
                    <RoleMark key={role} role={role} />
                  ))}
                </span>
                <span className="w-28 text-right text-sm text-muted">
                  {take.proposals > 0 ? `${take.proposals} to look at` : ''}
                </span>
                <span className="w-16 text-right text-sm text-muted">{take.facts.bars} bars</span>
              </Link>
              <span className="w-20 text-right text-sm text-muted">
                {isClean(take) ? (
                  <KeepButton take={take} />
                ) : take.phrases > 0 ? (
                  plural(take.phrases, 'phrase')
                ) : (
                  ''
                )}
              </span>
            </div>
          ))}
          {total > takes.length && (
            <Link className="block py-2 underline" to={`/capture?filter=${filter}`}>
              {(total - takes.length).toLocaleString('en')} more, searched and sorted under Capture
            </Link>
          )}
        </section>
      ))}
    </div>
  );
}
