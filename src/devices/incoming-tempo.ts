import { create } from 'zustand';
import { CLOCKS_PER_QUARTER, REALTIME, type WireMessage } from '../core/midi/message.ts';
import { deviceSetting } from './device-settings.ts';
import { changeSettings, useRecorder } from './recorder-state.ts';

/** The tempo that a device's clock brings, steady over two bars: BPM to a tenth, by the device's name. */
export const useIncomingTempo = create<Record<string, number>>(() => ({}));

/** Quarter notes over which a tempo has to be steady, and how steady, as a share. */
const OVER = 8;
const STEADY = 0.01;

const pulses = new Map<string, number[]>();

/** Listens to a device's clock. Jumps begin the count anew: no tempo is made of two. */
export function hearClock(name: string, { ms, bytes }: WireMessage): void {
  if (bytes[0] !== REALTIME.clock) return;
  const times = pulses.get(name) ?? [];
  pulses.set(name, times);
  times.push(ms);
  const count = OVER * CLOCKS_PER_QUARTER;
  if (times.length <= count) return;
  times.splice(0, times.length - count - 1);
  const bpm = steadyBpm(times);
  if (bpm === null) return;
  const told = Math.round(bpm * 10) / 10;
  if (useIncomingTempo.getState()[name] !== told) useIncomingTempo.setState({ [name]: told });
}

/** BPM of evenly sent clocks; null where one half goes faster than the other, or a clock is missing. */
export function steadyBpm(times: readonly number[]): number | null {
  if (times.length < 3) return null;
  const middle = (times.length - 1) >> 1;
  const quarters = (from: number, to: number) => (to - from) / CLOCKS_PER_QUARTER;
  const bpm = (from: number, to: number) => (60_000 * quarters(from, to)) / (times[to]! - times[from]!);
  const [first, second] = [bpm(0, middle), bpm(middle, times.length - 1)];
  const all = bpm(0, times.length - 1);
  return Number.isFinite(all) && Math.abs(first / second - 1) < STEADY ? all : null;
}

/** Whether a tempo that comes in is another than the one at hand. */
export function isOtherTempo(incoming: number, bpm: number): boolean {
  return Math.abs(incoming / bpm - 1) > STEADY / 2;
}

/** Follows the clocks whose tempo is to be taken. */
export function followIncoming(): () => void {
  return useIncomingTempo.subscribe((tempos) => {
    const { phase, sources } = useRecorder.getState();
    if (phase !== 'idle') return;
    for (const { name, kind, lost } of sources)
      if (kind === 'device' && !lost && tempos[name] !== undefined && deviceSetting(name).tempo === 'take')
        changeSettings({ bpm: tempos[name] });
  });
}
