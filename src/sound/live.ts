import { sharedSynth } from './player.ts';

/** Loads the synthesizer before anything is to sound: half a second, the first time, during which threads are busy. */
export async function loadSound(): Promise<void> {
  await sharedSynth();
}

/** Sounds a message now, or at a time of `performance.now()`; before the synthesizer is loaded, nothing is heard. */
export async function soundMessage(bytes: readonly number[], atMs = performance.now()): Promise<void> {
  const synth = await sharedSynth();
  const now = synth.now();
  synth.openAt(now);
  synth.send(bytes, Math.max(now, now + (atMs - performance.now()) / 1000));
}

/** High and low wood block of the General MIDI drum kit. */
const STRONG = 76;
const WEAK = 77;

/** One beat of the click. */
export function soundClick(atMs: number, first: boolean): Promise<void> {
  return soundMessage([0x99, first ? STRONG : WEAK, first ? 120 : 92], atMs);
}
