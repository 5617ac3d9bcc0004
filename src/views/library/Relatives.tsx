import { useMutation } from '@tanstack/react-query';
import { Link } from 'react-router';
import { sendJson } from '../api/client.ts';
import { renew, tellProblem, useRelatives } from '../api/queries.ts';
import { Button } from '../../ui/Button.tsx';
import { RoleMark } from '../../ui/drawing/RoleMark.tsx';

/** What a phrase was made of, with the offer to follow it where it has changed since; and what was made of it. */
export function Relatives({ id, onChoose }: { id: string; onChoose: (id: string) => void }) {
  const { data } = useRelatives(id);
  const follow = useMutation({
    mutationFn: () => sendJson('POST', `/api/phrases/${id}/follow`),
    onError: tellProblem,
    onSuccess: () => renew('phrase', 'phrases', 'relatives', 'facets'),
  });
  if (!data) return null;
  const { parents, children, variants } = data;
  if (parents.length + children.length + variants.length === 0) return null;
  return (
    <>
      {parents.length > 0 && (
        <section aria-label="Made of">
          <h2 className="mb-1">Made of</h2>
          {parents.map((parent) => (
            <div key={parent.id} className="text-sm">
              <RelativeLine phrase={parent} onChoose={onChoose} />
              <p className="text-muted">{parent.done}</p>
              {parent.changed && (
                <p className="mt-1">
                  It has changed since.{' '}
                  <Button small disabled={follow.isPending} onClick={() => follow.mutate()}>
                    Make this anew of it
                  </Button>
                </p>
              )}
            </div>
          ))}
        </section>
      )}
      {children.length > 0 && (
        <section aria-label="Made of it">
          <h2 className="mb-1">Made of it</h2>
          <ul className="text-sm">
            {children.map((child) => (
              <li key={child.id}>
                <RelativeLine phrase={child} onChoose={onChoose} />
              </li>
            ))}
          </ul>
        </section>
      )}
      {variants.length > 0 && (
        <section aria-label="Its variants">
          <h2 className="mb-1">Its variants</h2>
          <ul className="text-sm">
            {variants.map((variant) => (
              <li key={variant.id}>
                <RelativeLine phrase={{ ...variant, done: 'a variant of it' }} onChoose={onChoose} />
              </li>
            ))}
          </ul>
        </section>
      )}
      <Link className="text-sm underline" to={`/reuse/lineage?phrase=${id}`}>
        Draw its lineage
      </Link>
    </>
  );
}

function RelativeLine({
  phrase,
  onChoose,
}: {
  phrase: { id: string; name: string; role: Parameters<typeof RoleMark>[0]['role']; done: string };
  onChoose: (id: string) => void;
}) {
  return (
    <button
      type="button"
      className="flex w-full items-center gap-2 py-0.5 text-left hover:underline"
      title={`${phrase.name}: ${phrase.done}`}
      onClick={() => onChoose(phrase.id)}
    >
      <RoleMark role={phrase.role} bare />
      <span className="truncate">{phrase.name}</span>
    </button>
  );
}
