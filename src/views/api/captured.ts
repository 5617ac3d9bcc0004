import { readTakes, type Take } from '../../core/capture/take.ts';
import { splitOf, type Base } from '../../core/split/base.ts';
import type { Split } from '../../core/split/split.ts';
import { request, requestBytes } from './client.ts';

/** A take as it came in, and the first split, on which its moves stand. */
export interface CapturedTake {
  take: Take;
  split: Split;
  /** Version of the method that found the split. */
  method: number;
}

/** Reads a take from its original bytes, in the page or in a worker of it. Neither bytes nor first split ever change. */
export async function fetchCaptured(id: string, pattern: number): Promise<CapturedTake> {
  const address = `/api/takes/${id}`;
  const [bytes, base] = await Promise.all([
    requestBytes(`${address}/file`),
    request<Base>(`${address}/base`),
  ]);
  return { take: readTakes(bytes)[pattern]!, split: splitOf(base), method: base.method };
}
