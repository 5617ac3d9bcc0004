import { create } from 'zustand';
import { ApiProblem, request, sendJson } from '../api/client.ts';
import { queryClient } from '../api/queries.ts';

/** What came of one file, as it is shown while the rest goes on. */
export interface FileOutcome {
  file: string;
  state: 'waiting' | 'reading' | 'taken' | 'known' | 'refused' | 'stopped';
  takeId?: string;
  reason?: string;
}

interface IntakeState {
  running: boolean;
  files: FileOutcome[];
}

/** The intake that is going on or was the last in this window. It outlives the view, so work goes on elsewhere. */
export const useIntake = create<IntakeState>(() => ({ running: false, files: [] }));

let stopping: AbortController | null = null;

/** Ends the intake after the file that is being read. What was taken in stays. */
export function stopIntake(): void {
  stopping?.abort();
}

/** Takes files in one after the other; a refused file is named and the rest goes on. */
export async function takeInFiles(files: readonly File[], source: string): Promise<void> {
  if (files.length === 0 || useIntake.getState().running) return;
  stopping = new AbortController();
  const { signal } = stopping;
  useIntake.setState({ running: true, files: files.map(({ name }) => ({ file: name, state: 'waiting' })) });
  try {
    const job = await sendJson<{ id: string }>('POST', '/api/jobs', { total: files.length });
    for (const [i, file] of files.entries()) {
      if (signal.aborted) {
        update(i, { state: 'stopped' });
        continue;
      }
      update(i, { state: 'reading' });
      update(i, await takeInOne(file, job.id, source));
    }
    if (signal.aborted) await sendJson('POST', `/api/jobs/${job.id}/stop`);
  } catch (error) {
    const reason = error instanceof Error ? error.message : String(error);
    useIntake.setState(({ files: list }) => ({
      files: list.map((file) =>
        file.state === 'waiting' || file.state === 'reading' ? { ...file, state: 'refused', reason } : file,
      ),
    }));
  } finally {
    useIntake.setState({ running: false });
    for (const key of ['takes', 'stages', 'intake']) void queryClient.invalidateQueries({ queryKey: [key] });
  }
}

async function takeInOne(file: File, job: string, source: string): Promise<Partial<FileOutcome>> {
  const form = new FormData();
  form.set('file', file);
  form.set('job', job);
  if (source.trim()) form.set('source', source.trim());
  try {
    const taken = await request<{ isNew: boolean; takeIds: string[] }>('/api/takes', {
      method: 'POST',
      body: form,
    });
    void queryClient.invalidateQueries({ queryKey: ['takes'] });
    return { state: taken.isNew ? 'taken' : 'known', takeId: taken.takeIds[0] };
  } catch (error) {
    if (error instanceof ApiProblem && error.status > 0) return { state: 'refused', reason: error.message };
    throw error;
  }
}

function update(index: number, change: Partial<FileOutcome>): void {
  useIntake.setState(({ files }) => ({
    files: files.map((file, i) => (i === index ? { ...file, ...change } : file)),
  }));
}
