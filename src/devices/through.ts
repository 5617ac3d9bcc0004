import { create } from 'zustand';
import { STATUS } from '../core/midi/smf.ts';
import type { WireMessage } from '../core/midi/message.ts';
import { countLateness, createLateness, latenessFacts, type Lateness } from './lateness.ts';
import type { MidiOutput } from './source.ts';

/** By how much the page delays what it sends on from one device to another, in milliseconds, by the sender's name. */
export const useAdded = create<Record<string, NonNullable<ReturnType<typeof latenessFacts>>>>(() => ({}));

const measured = new Map<string, { lateness: Lateness; count: number; toldAt: number }>();

/** The numbers are told of so many messages and more, and so often, in milliseconds: what is shown takes time too. */
const TELL_FROM = 16;
const TELL_EVERY = 1000;

/** Sends a message of one device on to another, on that one's channel, at once; clocks and the like stay here. How late it was is counted. */
export function sendOn(name: string, { ms, bytes }: WireMessage, to: MidiOutput, channel: number): void {
  const [status = 0, ...data] = bytes;
  if (status < STATUS.noteOff || status >= 0xf0) return;
  const now = performance.now();
  to.send({ ms: now, bytes: [(status & 0xf0) | channel, ...data] });
  let own = measured.get(name);
  if (!own) measured.set(name, (own = { lateness: createLateness(), count: 0, toldAt: -Infinity }));
  countLateness(own.lateness, now - ms);
  own.count++;
  if (own.count < TELL_FROM || now - own.toldAt < TELL_EVERY) return;
  own.toldAt = now;
  const facts = latenessFacts(own.lateness);
  if (facts) useAdded.setState({ [name]: facts });
}
