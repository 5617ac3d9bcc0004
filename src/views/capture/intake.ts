import { create } from 'zustand';
import type { IntakeSettings } from '../../server/db/schema.ts';
import { request, sendJson } from '../api/client.ts';
import { renew, tellProblem, type IntakeJob } from '../api/queries.ts';
import type { NamedFile } from './named-files.ts';

interface IntakeState {
  /** The intake that this window has begun last. */
  jobId: string | undefined;
  /** While files are being sent. */
  sending: { sent: number; total: number } | null;
  /** Files that could not be sent, and why. */
  unsent: { file: string; reason: string }[];
}

/** The intake of this window. It outlives the view, so work goes on elsewhere. */
export const useIntake = create<IntakeState>(() => ({ jobId: undefined, sending: null, unsent: [] }));

/** Sent at once: enough files to be quick, few enough that a stop is heard soon. */
const FILES_AT_ONCE = 64;
const BYTES_AT_ONCE = 8 * 1024 * 1024;

let stopped = false;

/** What is being sent; more files wait for it. */
let underWay: Promise<void> = Promise.resolve();

/** Sends files to an intake of their own, where they are read in their turn; after those that are being sent. */
export function takeInFiles(files: readonly NamedFile[], settings: IntakeSettings): Promise<void> {
  if (files.length === 0) return underWay;
  underWay = underWay.then(() => sendAll(files, settings));
  return underWay;
}

async function sendAll(files: readonly NamedFile[], settings: IntakeSettings): Promise<void> {
  stopped = false;
  try {
    const { id } = await sendJson<IntakeJob>('POST', '/api/jobs', settings);
    useIntake.setState({ jobId: id, sending: { sent: 0, total: files.length }, unsent: [] });
    let sent = 0;
    for (const batch of batches(files)) {
      if (stopped) break;
      await send(id, sent, batch);
      sent += batch.length;
      useIntake.setState({ sending: { sent, total: files.length } });
    }
    await sendJson('POST', `/api/jobs/${id}/${stopped ? 'stop' : 'close'}`);
  } catch (error) {
    tellProblem(error);
  } finally {
    useIntake.setState({ sending: null });
    void renew('intakes', 'intake', 'takes', 'sources');
  }
}

function* batches(files: readonly NamedFile[]): Generator<NamedFile[]> {
  let batch: NamedFile[] = [];
  let bytes = 0;
  for (const named of files) {
    if (batch.length === FILES_AT_ONCE || (batch.length > 0 && bytes + named.file.size > BYTES_AT_ONCE)) {
      yield batch;
      batch = [];
      bytes = 0;
    }
    batch.push(named);
    bytes += named.file.size;
  }
  yield batch;
}

/** Sends one batch; where the server refuses it, each of its files alone, so that one does not keep out the rest. */
async function send(id: string, number: number, batch: readonly NamedFile[]): Promise<void> {
  const form = new FormData();
  form.set('batch', `b${number}-${batch.length}`);
  for (const { file, name } of batch) form.append('file', file, name);
  try {
    await request(`/api/jobs/${id}/files`, { method: 'POST', body: form });
  } catch (error) {
    if (stopped) return;
    if (batch.length === 1) {
      const reason = error instanceof Error ? error.message : String(error);
      useIntake.setState(({ unsent }) => ({ unsent: [...unsent, { file: batch[0]!.name, reason }] }));
      return;
    }
    for (const [i, one] of batch.entries()) await send(id, number + i, [one]);
  }
}

/** Ends an intake after what is being read. What was taken in stays. */
export async function stopIntake(id: string | undefined = useIntake.getState().jobId): Promise<void> {
  if (!id) return;
  stopped = true;
  try {
    await sendJson('POST', `/api/jobs/${id}/stop`);
  } catch (error) {
    tellProblem(error);
  }
  void renew('intakes', 'intake', 'takes');
}

/** The page is going: what was sent is all there is. */
export function closeIntakeOnLeave(): void {
  const { jobId, sending } = useIntake.getState();
  if (jobId && sending) void fetch(`/api/jobs/${jobId}/close`, { method: 'POST', keepalive: true });
}
