import { useQueryClient } from '@tanstack/react-query';
import equal from 'fast-deep-equal';
import { useCallback, useEffect, useState } from 'react';
import { mergedWeave } from '../../core/weave/merge.ts';
import type { Weave } from '../../core/weave/weave.ts';
import type { WeaveDetail } from '../../server/library/weaves.ts';
import { useFollowed, type useHistory } from '../../ui/history.ts';
import { sendJson } from '../api/client.ts';
import { renew } from '../api/queries.ts';

/** A weave is saved this long after the last change, in milliseconds. */
const REST = 600;

/**
 * Saves each change once it has rested, and follows what others do in other cells; tells why it could not be saved, and whether somebody else has changed the
 * same: one of both has to be chosen.
 */
export function useSaved(
  { id, weave: kept, revision }: Pick<WeaveDetail, 'id' | 'weave' | 'revision'>,
  history: ReturnType<typeof useHistory<Weave>>,
): { problem: string | null; isBehind: boolean } {
  const { value, base, rebase } = history;
  const [problem, setProblem] = useState<string | null>(null);
  const [isSaving, setSaving] = useState(false);
  /** The revision that our last change was written as. */
  const [own, setOwn] = useState(0);
  const client = useQueryClient();
  // What comes while ours is on its way may have it already, and what was there before it is nobody's change.
  const isOld = isSaving || revision < own;
  const isBehind = useFollowed(history, `weave ${id}`, isOld ? base : kept, mergedWeave, {
    savesItself: true,
  });
  const save = useCallback(
    async (from: Weave, weave: Weave) => {
      setSaving(true);
      try {
        const saved = await sendJson<WeaveDetail>('PUT', `/api/weaves/${id}`, { base: from, weave });
        // First ours: what the answer has besides is theirs.
        rebase(weave);
        setOwn(saved.revision);
        client.setQueryData(['weave', id], saved);
        setProblem(null);
        void renew('weaves');
      } catch (error) {
        setProblem(error instanceof Error ? error.message : String(error));
        // What stands there now is looked at: what was changed alike is shown beside it.
        await client.invalidateQueries({ queryKey: ['weave', id] });
      } finally {
        setSaving(false);
      }
    },
    [id, client, rebase],
  );
  useEffect(() => {
    if (isSaving || isBehind || equal(value, base)) return;
    const timer = setTimeout(() => void save(base, value), REST);
    return () => clearTimeout(timer);
  }, [value, base, isSaving, isBehind, save]);
  return { problem, isBehind };
}
