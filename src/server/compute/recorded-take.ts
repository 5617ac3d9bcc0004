import { takeAccount, type Account, type Asked } from '../../core/analyze/account.ts';
import { decodeLog, type MessageLog } from '../../core/capture/message-log.ts';
import { recordingOf, type CaptureFacts, type RecordingPlan } from '../../core/capture/recording.ts';
import { takeFrom } from '../../core/capture/take.ts';
import { writeMidiFile } from '../../core/midi/write.ts';
import { splitTake } from '../../core/split/split.ts';

/** What a recording came to: files, facts and the account. */
export interface RecordedTake {
  /** Null where nothing was played. */
  bytes: Uint8Array | null;
  /** The keys that set it off, where there were any. */
  input: Uint8Array | null;
  facts: CaptureFacts;
  account: Account;
}

/** Makes files of the pieces of a recording. */
export function recordedTake(
  pieces: readonly Uint8Array[],
  plan: RecordingPlan,
  asked: Asked,
  end: { endMs?: number | undefined; lost?: { source: string; ms: number }[] | undefined },
): RecordedTake {
  const log = decodeLog([...pieces]);
  const { played, input, facts } = recordingOf(log, plan, end.endMs ?? lastMs(log, plan), end.lost);
  const take = takeFrom(played);
  return {
    bytes: take.notes.length > 0 ? writeMidiFile(played) : null,
    input: input ? writeMidiFile(input) : null,
    facts,
    account: takeAccount(take, splitTake(take), asked, facts),
  };
}

/** When the last message of a recording came, on its own clock. */
export function lastMs(log: MessageLog, plan: RecordingPlan): number {
  let last = plan.startMs;
  for (let i = 0; i < log.length; i++) last = Math.max(last, log.ms[i]!);
  return last;
}
