/** A note on its way: when, in milliseconds, and what. */
export interface TimedNote {
  ms: number;
  pitch: number;
  velocity: number;
}

/** What comes back so soon is no answer but an echo, in milliseconds: no generator waits less than it takes to send a message twice. */
const ECHO_MS = 25;

/**
 * Of the notes that were sent to a device, the share (0..1) that it sent back at once, the same pitch and velocity. Near 1 its MIDI thru is
 * on, or a loop is in the cabling: what is recorded then is what was sent.
 */
export function echoShare(sent: readonly TimedNote[], came: readonly TimedNote[]): number {
  if (sent.length === 0) return 0;
  const free = came.map(() => true);
  let echoed = 0;
  let from = 0;
  for (const { ms, pitch, velocity } of sent) {
    while (from < came.length && came[from]!.ms < ms) from++;
    for (let k = from; k < came.length && came[k]!.ms <= ms + ECHO_MS; k++) {
      if (!free[k] || came[k]!.pitch !== pitch || came[k]!.velocity !== velocity) continue;
      free[k] = false;
      echoed++;
      break;
    }
  }
  return echoed / sent.length;
}
