import { create } from 'zustand';
import { STATUS } from '../core/midi/smf.ts';
import type { WireMessage } from '../core/midi/message.ts';
import { countLateness, createLateness, latenessFacts, type Lateness } from './lateness.ts';
import type { MidiOutput } from './source.ts';

/** By how much the page delays what it sends on from one device to another, in milliseconds, by the sender's name. */
export const useAdded = create<Record<string, NonNullable<ReturnType<typeof latenessFacts>>>>(() => ({}));

const measured = new Map<string, { lateness: Lateness; count: number }>();

/** The numbers are told again after so many messages. */
const TELL_EVERY = 16;

/** Sends a message of one device on to another, on that one's channel, at once; clocks and the like stay here. How late it was is counted. */
export function sendOn(name: string, { ms, bytes }: WireMessage, to: MidiOutput, channel: number): void {
  const [status = 0, ...data] = bytes;
  if (status < STATUS.noteOff || status >= 0xf0) return;
  const now = performance.now();
  to.send({ ms: now, bytes: [(status & 0xf0) | channel, ...data] });
  let own = measured.get(name);
  if (!own) measured.set(name, (own = { lateness: createLateness(), count: 0 }));
  countLateness(own.lateness, now - ms);
  own.count++;
  const facts = own.count % TELL_EVERY === 0 ? latenessFacts(own.lateness) : undefined;
  if (facts) useAdded.setState({ [name]: facts });
}
