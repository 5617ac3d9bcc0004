import { CONTROLLER, STATUS } from '../core/midi/smf.ts';
import { WorkletSynthesizer } from 'spessasynth_lib';
import processorUrl from 'spessasynth_lib/dist/spessasynth_processor.min.js?url';

/** The bank that ships with the application (public domain): every General MIDI sound and a drum kit. */
const BANK_URL = '/sound/gm-bank.sf2';

/** How fast the loudness follows when it is changed, in seconds. No click is heard. */
const FADE = 0.015;

/** In so many seconds the gate is closed; no click is heard. */
const CLOSING = 0.01;

/**
 * Sets of sixteen channels, of which one is played at a time. The synthesizer takes back no message that was scheduled: what was, when a
 * silence comes, ends on a set that has been muted, and what begins then has another one.
 */
const DECKS = 3;
const CHANNELS = 16;

/** Something that sounds MIDI messages at given times. */
export interface Synth {
  /** The audio clock, in seconds. */
  now(): number;
  send(bytes: readonly number[], time: number): void;
  /** 0..1. */
  setVolume(volume: number): void;
  /** Ends everything that sounds and everything scheduled up to a moment, at once. Answers when something new may begin. */
  silence(until: number): number;
  /** Lets the audio clock run; browsers hold it until a person has done something. */
  wake(): Promise<void>;
  isAwake(): boolean;
  /** Makes sounding possible again after silence, from a moment on. */
  openAt(time: number): void;
}

/** Starts the synthesizer and loads its bank. Half a second the first time; call it on first use. */
export async function startSynth(): Promise<Synth> {
  const context = new AudioContext({ latencyHint: 'interactive' });
  const [bank] = await Promise.all([loadBank(), context.audioWorklet.addModule(processorUrl)]);
  const synthesizer = new WorkletSynthesizer(context);
  await synthesizer.soundBankManager.addSoundBank(bank, 'main');
  await synthesizer.isReady;
  for (let added = CHANNELS; added < DECKS * CHANNELS; added++) synthesizer.addNewChannel();
  // Added channels are all drums, at volume 0, until they are reset as the first sixteen are.
  synthesizer.reset();
  // Two gains in a row: loudness is the listener's, the gate is ours.
  const volume = context.createGain();
  const gate = context.createGain();
  synthesizer.connect(gate);
  gate.connect(volume).connect(context.destination);
  /** When the last message that was scheduled for a set has had its time. */
  const freeAt = Array<number>(DECKS).fill(0);
  let deck = 0;
  const channelsOf = (one: number) => synthesizer.midiChannels.slice(one * CHANNELS, (one + 1) * CHANNELS);
  const send = (bytes: readonly number[], time: number) =>
    synthesizer.sendMessage(bytes, deck * CHANNELS, { time });
  return {
    now: () => context.currentTime,
    send,
    setVolume: (value) => volume.gain.setTargetAtTime(value * value, context.currentTime, FADE),
    silence: (until) => {
      const now = context.currentTime;
      gate.gain.cancelScheduledValues(now);
      gate.gain.setValueAtTime(gate.gain.value, now);
      gate.gain.linearRampToValueAtTime(0, now + CLOSING);
      for (const channel of channelsOf(deck)) channel.setSystemParameter('isMuted', true);
      for (let channel = 0; channel < CHANNELS; channel++) {
        send([STATUS.controller | channel, CONTROLLER.allSoundOff, 0], until);
        send([STATUS.controller | channel, CONTROLLER.resetControllers, 0], until);
      }
      freeAt[deck] = until;
      deck = freeAt.indexOf(Math.min(...freeAt));
      for (const channel of channelsOf(deck)) channel.setSystemParameter('isMuted', false);
      return Math.max(now + CLOSING, freeAt[deck]!);
    },
    isAwake: () => context.state === 'running',
    wake: async () => {
      if (context.state === 'suspended') await context.resume();
    },
    openAt: (time) => {
      const from = Math.max(context.currentTime, time);
      // A gate that is still closing opens all the same.
      gate.gain.cancelScheduledValues(from);
      gate.gain.setValueAtTime(1, from);
    },
  };
}

async function loadBank(): Promise<ArrayBuffer> {
  const answer = await fetch(BANK_URL);
  if (!answer.ok) throw new Error(`The sound bank could not be loaded (${answer.status}).`);
  return answer.arrayBuffer();
}
