import { useQueryClient } from '@tanstack/react-query';
import equal from 'fast-deep-equal';
import { useCallback, useEffect, useState } from 'react';
import type { Merged } from '../../../core/merge/three-way.ts';
import { useFollowed, type useHistory } from '../../../ui/history/history.ts';
import { sendJson } from '../../api/client.ts';
import { renew } from '../../api/queries.ts';

/** A document is saved this long after the last change, in milliseconds. */
const REST = 600;

/** A document that is kept whole with a revision, and saved with what it was made of. */
interface SavedDocument<Value> {
  /** What it is: `/api/weaves/ID` answers a `weave`. */
  kind: 'weave' | 'comp';
  id: string;
  /** As it is kept on the server. */
  kept: Value;
  revision: number;
  merge: (base: Value, mine: Value, theirs: Value) => Merged<Value>;
}

/**
 * Saves each change once it has rested, and follows what others do in other places; tells why it could not be saved, and whether somebody else has changed the
 * same: one of both has to be chosen.
 */
export function useSaved<Value>(
  { kind, id, kept, revision, merge }: SavedDocument<Value>,
  history: ReturnType<typeof useHistory<Value>>,
): { problem: string | null; isBehind: boolean } {
  const { value, base, rebase } = history;
  const [problem, setProblem] = useState<string | null>(null);
  const [isSaving, setSaving] = useState(false);
  /** The revision that our last change was written as. */
  const [own, setOwn] = useState(0);
  const client = useQueryClient();
  // What comes while ours is on its way may have it already, and what was there before it is nobody's change.
  const isOld = isSaving || revision < own;
  const isBehind = useFollowed(history, `${kind} ${id}`, isOld ? base : kept, merge, {
    savesItself: true,
  });
  const save = useCallback(
    async (from: Value, mine: Value) => {
      setSaving(true);
      try {
        const change = { base: from, [kind]: mine };
        const saved = await sendJson<{ revision: number }>('PUT', `/api/${kind}s/${id}`, change);
        // First ours: what the answer has besides is theirs.
        rebase(mine);
        setOwn(saved.revision);
        client.setQueryData([kind, id], (old: object) => ({ ...old, ...saved }));
        setProblem(null);
        void renew(`${kind}s`);
      } catch (error) {
        setProblem(error instanceof Error ? error.message : String(error));
        // What stands there now is looked at: what was changed alike is shown beside it.
        await client.invalidateQueries({ queryKey: [kind, id] });
      } finally {
        setSaving(false);
      }
    },
    [kind, id, client, rebase],
  );
  useEffect(() => {
    if (isSaving || isBehind || equal(value, base)) return;
    const timer = setTimeout(() => void save(base, value), REST);
    return () => clearTimeout(timer);
  }, [value, base, isSaving, isBehind, save]);
  return { problem, isBehind };
}
