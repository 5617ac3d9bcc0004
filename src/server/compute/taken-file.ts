import type { CaptureFacts } from '../../core/capture/recording.ts';
import type { TakeAsked } from '../db/schema.ts';
import { deriveTakes, type DerivedTake } from '../library/keeping/derive.ts';

/** The sounding takes of a file that comes in. @throws LibraryError 413, 422 */
export function takenFile(
  bytes: Uint8Array,
  known: { asked?: TakeAsked | undefined; capture?: CaptureFacts | undefined },
): DerivedTake[] {
  return deriveTakes(bytes, known);
}
