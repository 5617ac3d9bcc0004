import { wrap, type Remote } from 'comlink';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { WovenPhrase } from '../../core/weave/cell.ts';
import type { WeaveRemark, WeaveSound } from '../../core/weave/lay.ts';
import type { Weave } from '../../core/weave/weave.ts';
import type { LayingWorker } from './laying.worker.ts';

/** A weave as the page has it: how it sounds, and what is told of its cells. */
export interface LaidSheet extends WeaveSound {
  remarks: WeaveRemark[];
  /** Of which weave it is. */
  weave: Weave;
}

let worker: Remote<LayingWorker> | undefined;

export function layingWorker(): Remote<LayingWorker> {
  worker ??= wrap<LayingWorker>(
    new Worker(new URL('./laying.worker.ts', import.meta.url), { type: 'module' }),
  );
  return worker;
}

/** An open sheet: its number in the worker, the phrases that are there, and what was laid last. */
interface Sheet {
  number: number;
  sent: Map<string, WovenPhrase>;
  laid: LaidSheet | null;
}

let sheets = 0;

interface Laid {
  laid: LaidSheet | null;
  problem: string | null;
  /** Its number in the worker, for what is asked of the laid sheet. */
  number: number;
  /** The sheet as it is when what was changed so far has been laid; null where it cannot be. */
  settled: () => Promise<LaidSheet | null>;
}

/**
 * A weave laid in a worker. While a new answer is under way the one before stands; of changes that come faster than they are
 * laid the last is laid. `phrases` is null until all of them are there.
 */
export function useLaidSheet(weave: Weave, phrases: ReadonlyMap<string, WovenPhrase> | null): Laid {
  const [sheet] = useState<Sheet>(() => ({ number: ++sheets, sent: new Map(), laid: null }));
  const [state, setState] = useState<Pick<Laid, 'laid' | 'problem'>>({ laid: null, problem: null });
  const wanted = useRef<{ weave: Weave; phrases: ReadonlyMap<string, WovenPhrase> } | null>(null);
  const running = useRef<Promise<void> | null>(null);
  const isOpen = useRef(true);
  useEffect(() => {
    isOpen.current = true;
    return () => {
      isOpen.current = false;
      sheet.sent.clear();
      sheet.laid = null;
      void layingWorker().close(sheet.number);
    };
  }, [sheet]);
  useEffect(() => {
    if (!phrases) return;
    wanted.current = { weave, phrases };
    const layWanted = async () => {
      while (wanted.current && isOpen.current) {
        const next = wanted.current;
        wanted.current = null;
        const answer = await laidAgain(sheet, next.weave, next.phrases);
        if (isOpen.current) setState(answer);
      }
    };
    running.current ??= layWanted()
      .catch((error: unknown) => setState({ laid: null, problem: String(error) }))
      .finally(() => (running.current = null));
  }, [weave, phrases, sheet]);
  const settled = useCallback(async () => {
    await running.current;
    return sheet.laid;
  }, [sheet]);
  return { ...state, number: sheet.number, settled };
}

async function laidAgain(
  sheet: Sheet,
  weave: Weave,
  phrases: ReadonlyMap<string, WovenPhrase>,
): Promise<Pick<Laid, 'laid' | 'problem'>> {
  const fresh = [...phrases].filter(([id, phrase]) => sheet.sent.get(id) !== phrase);
  for (const [id, phrase] of fresh) sheet.sent.set(id, phrase);
  const answer = await layingWorker().lay(sheet.number, weave, fresh);
  if (typeof answer === 'string') return { laid: null, problem: answer };
  const before = new Map(sheet.laid?.parts.map(({ part, clip }) => [part.id, clip]));
  const parts = answer.parts.map(({ part, clip }) => ({ part, clip: clip ?? before.get(part.id)! }));
  sheet.laid = { ...answer, parts, weave };
  return { laid: sheet.laid, problem: null };
}
