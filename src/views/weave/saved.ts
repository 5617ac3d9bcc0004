import { useQueryClient } from '@tanstack/react-query';
import equal from 'fast-deep-equal';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { Weave } from '../../core/weave/weave.ts';
import type { WeaveDetail } from '../../server/library/weaves.ts';
import type { useHistory } from '../../ui/history.ts';
import { sendJson } from '../api/client.ts';
import { renew } from '../api/queries.ts';

/** A weave is saved this long after the last change, in milliseconds. */
const REST = 600;

/** Saves each change once it has rested; the answer has what other windows changed in other cells. Tells why it could not. */
export function useSaved(id: string, history: ReturnType<typeof useHistory<Weave>>): string | null {
  const { value, base, rebase, settle } = history;
  const [problem, setProblem] = useState<string | null>(null);
  const client = useQueryClient();
  const current = useRef(value);
  current.current = value;
  const save = useCallback(
    async (from: Weave, weave: Weave) => {
      try {
        const kept = await sendJson<WeaveDetail>('PUT', `/api/weaves/${id}`, { base: from, weave });
        client.setQueryData(['weave', id], kept);
        if (equal(kept.weave, weave) || current.current !== weave) rebase(weave);
        if (!equal(kept.weave, weave) && current.current === weave) settle(kept.weave);
        setProblem(null);
        void renew('weaves');
      } catch (error) {
        setProblem(error instanceof Error ? error.message : String(error));
      }
    },
    [id, client, rebase, settle],
  );
  useEffect(() => {
    if (equal(value, base)) return;
    const timer = setTimeout(() => void save(base, value), REST);
    return () => clearTimeout(timer);
  }, [value, base, save]);
  return problem;
}
