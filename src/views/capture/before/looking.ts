import { proxy, wrap } from 'comlink';
import { useEffect, useState } from 'react';
import type { Listening } from '../../../sound/player.ts';
import type { NamedFile } from '../named-files.ts';
import type { FoundFile, LookWorker } from './look.worker.ts';

/** Files that are being looked into; `end` gives back what they took of memory. */
export function beginLooking(
  files: readonly NamedFile[],
  told: { found: (found: FoundFile[]) => void; ended: (problem: Error | null) => void },
) {
  const thread = new Worker(new URL('./look.worker.ts', import.meta.url), { type: 'module' });
  const worker = wrap<LookWorker>(thread);
  worker.look(files, proxy(told.found)).then(
    () => told.ended(null),
    (error: unknown) => told.ended(error instanceof Error ? error : new Error(String(error))),
  );
  return {
    stop: () => void worker.stop(),
    /** A file to be listened to. */
    async hear({ id, name }: FoundFile): Promise<Listening> {
      const lanes = await worker.hear(id);
      return {
        id: `before ${id} ${name}`,
        title: name.split('/').at(-1)!,
        subtitle: 'not taken in yet',
        lanes,
      };
    },
    async filesOf(ids: readonly string[]): Promise<NamedFile[]> {
      const files = await worker.filesOf(ids);
      return files.map(({ name, bytes }) => ({
        name,
        file: new File([bytes], name.split('/').at(-1)!),
      }));
    },
    end: () => thread.terminate(),
  };
}

export type Looking = ReturnType<typeof beginLooking>;

/** What is found in files, as it is found. */
export function useLooking(files: readonly NamedFile[]) {
  const [found, setFound] = useState<readonly FoundFile[]>([]);
  const [state, setState] = useState<'looking' | 'done' | Error>('looking');
  const [looking, setLooking] = useState<Looking | null>(null);
  useEffect(() => {
    const begun = beginLooking(files, {
      found: (more) => setFound((now) => [...now, ...more]),
      ended: (problem) => setState(problem ?? 'done'),
    });
    setLooking(begun);
    return () => begun.end();
  }, [files]);
  return { found, state, looking };
}
