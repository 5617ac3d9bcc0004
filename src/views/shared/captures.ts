import { keepRecordingsIn, type CaptureEnding } from '../../devices/keeping.ts';
import type { RecordingPlan } from '../../core/capture/recording.ts';
import type { FinishedCapture } from '../../server/library/takes/captures.ts';
import { request, sendJson } from '../api/client.ts';
import { renew } from '../api/queries.ts';

/** What the server makes of a recording, whoever began it. */
export async function finishCapture(
  id: string,
  end: Partial<CaptureEnding> & { name?: string } = {},
): Promise<FinishedCapture> {
  const finished = await sendJson<FinishedCapture>('POST', `/api/captures/${id}/finish`, end);
  void renew('takes', 'captures', 'sources');
  return finished;
}

/** Bytes that may travel with a request that outlives its page (Fetch standard: 64 KiB for all of them). */
const LEAVING_BYTES = 60_000;

keepRecordingsIn({
  begin: (plan: RecordingPlan) => sendJson<{ id: string }>('POST', '/api/captures', plan),
  keep: (id, position, bytes) =>
    request(`/api/captures/${id}/pieces/${position}`, {
      method: 'PUT',
      headers: { 'content-type': 'application/octet-stream' },
      body: bytes as Uint8Array<ArrayBuffer>,
      keepalive: bytes.length < LEAVING_BYTES,
    }),
  finish: finishCapture,
});
