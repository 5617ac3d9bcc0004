import { proxy, wrap } from 'comlink';
import { useEffect, useState } from 'react';
import type { Listening } from '../../../sound/player.ts';
import type { TakeOfFile } from '../../../server/library/takes/of-files.ts';
import { sendJson } from '../../api/client.ts';
import { tellProblem } from '../../api/queries.ts';
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

/** Takes that files were read as before, by the files' checksums. */
export type HereAlready = ReadonlyMap<string, TakeOfFile>;

async function takesOf(found: readonly FoundFile[]): Promise<TakeOfFile[]> {
  const sha256 = found.flatMap((file) => file.sha256 ?? []);
  if (sha256.length === 0) return [];
  return (await sendJson<{ takes: TakeOfFile[] }>('POST', '/api/takes/known', { sha256 })).takes;
}

/** What is found in files, as it is found, and what of it is here already. */
export function useLooking(files: readonly NamedFile[]) {
  const [found, setFound] = useState<readonly FoundFile[]>([]);
  const [here, setHere] = useState<HereAlready>(new Map());
  const [state, setState] = useState<'looking' | 'done' | Error>('looking');
  const [looking, setLooking] = useState<Looking | null>(null);
  useEffect(() => {
    const begun = beginLooking(files, {
      found: (more) => {
        setFound((now) => [...now, ...more]);
        takesOf(more)
          .then((known) =>
            setHere((now) => new Map([...now, ...known.map((one) => [one.sha256, one] as const)])),
          )
          .catch(tellProblem);
      },
      ended: (problem) => setState(problem ?? 'done'),
    });
    setLooking(begun);
    return () => begun.end();
  }, [files]);
  return { found, here, state, looking };
}
