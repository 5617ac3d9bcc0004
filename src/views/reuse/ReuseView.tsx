import { group } from 'd3-array';
import { Play } from 'lucide-react';
import { Link } from 'react-router';
import { plural } from '../../core/words.ts';
import type { ChildItem } from '../../server/library/phrases/children.ts';
import { toggleListening } from '../../sound/player.ts';
import { Button } from '../../ui/Button.tsx';
import { ViewLink } from '../../ui/ButtonLink.tsx';
import { Busy, EmptyState } from '../../ui/EmptyState.tsx';
import { RoleMark } from '../../ui/drawing/RoleMark.tsx';
import { Swatch } from '../../ui/drawing/Swatch.tsx';
import { tellProblem, useChildren } from '../api/queries.ts';
import { fetchPhrase, phraseListening } from '../shared/phrases/listening.ts';

/** What was made of other phrases: the newest first, by what was done. */
export default function ReuseView() {
  const { data: children, error, isPending } = useChildren();
  if (isPending) return <Busy what="Looking for what was made" />;
  if (error) return <EmptyState title="What was made could not be loaded">{error.message}</EmptyState>;
  if (children.length === 0)
    return (
      <EmptyState
        title="Nothing is made of other phrases yet"
        action={
          <span className="flex gap-4">
            <Link className="underline" to="/library">
              Choose a phrase in the library
            </Link>
            <Link className="underline" to="/reuse/weave">
              Begin a weave
            </Link>
            <Link className="underline" to="/reuse/changes">
              Write changes
            </Link>
          </span>
        }
      >
        A phrase can be taken through other chords, made busier or calmer, moved by octaves. What comes of it
        is kept as its child, and the phrase stays as it is.
      </EmptyState>
    );
  return (
    <div className="mx-auto w-full max-w-5xl overflow-auto px-5 pt-4 pb-8">
      <div className="mb-3 flex items-baseline gap-3">
        <h1 className="text-xl">Made of other phrases</h1>
        <span className="text-muted">{plural(children.length, 'phrase')}</span>
        <div className="ml-auto flex gap-2">
          <ViewLink small to="/reuse/weave">
            Weaves
          </ViewLink>
          <ViewLink small to="/reuse/changes">
            Write changes
          </ViewLink>
          <ViewLink small to="/library">
            Choose another in the library
          </ViewLink>
        </div>
      </div>
      <ul>
        {groupsOf(children).map((group) => (
          <li key={group[0]!.id} className="border-t border-rule py-2">
            <Group group={group} />
          </li>
        ))}
      </ul>
    </div>
  );
}

/** Children of one deed together. */
function groupsOf(children: readonly ChildItem[]): ChildItem[][] {
  return [...group(children, ({ sheafId, id }) => sheafId ?? id).values()];
}

function Group({ group }: { group: readonly ChildItem[] }) {
  const [first] = group as [ChildItem];
  const parents = group.flatMap(({ parentId }) => parentId ?? []);
  return (
    <>
      <div className="flex items-baseline gap-3">
        <h2 className="text-base">{first.done}</h2>
        <span className="text-sm text-muted">from {first.takeName}</span>
        {parents.length > 0 && (
          <Link
            className="ml-auto text-sm underline decoration-rule underline-offset-3"
            to={`/reuse/through?of=${parents.join(',')}`}
          >
            Through yet other chords
          </Link>
        )}
      </div>
      <ul className="mt-1 grid gap-1">
        {group.map((child) => (
          <li key={child.id} className="grid grid-cols-[130px_140px_1fr_auto_auto] items-center gap-3">
            <RoleMark role={child.role} />
            <Swatch notes={child.swatch} role={child.role} bars={child.bars} width={140} height={26} />
            <Link className="truncate" to={`/normalize/${child.id}`} title={child.name}>
              {child.parentName}
            </Link>
            <span className="text-sm text-muted tabular-nums">
              {plural(child.bars, 'bar')}, {plural(child.noteCount, 'note')}
            </span>
            <Button
              small
              aria-label={`Listen to ${child.name}`}
              onClick={() =>
                void fetchPhrase(child.id).then(
                  (phrase) => toggleListening(phraseListening(phrase)),
                  tellProblem,
                )
              }
            >
              <Play size={12} aria-hidden="true" />
            </Button>
          </li>
        ))}
      </ul>
    </>
  );
}
