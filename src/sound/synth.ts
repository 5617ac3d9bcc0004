import { CONTROLLER, STATUS } from '../core/midi/smf.ts';
import { WorkletSynthesizer } from 'spessasynth_lib';
import processorUrl from 'spessasynth_lib/dist/spessasynth_processor.min.js?url';

/** The bank that ships with the application (public domain): every General MIDI sound and a drum kit. */
const BANK_URL = '/sound/gm-bank.sf2';

/** How fast the loudness follows when it is changed or playing stops, in seconds. No click is heard. */
const FADE = 0.015;

/** Something that sounds MIDI messages at given times. */
export interface Synth {
  /** The audio clock, in seconds. */
  now(): number;
  send(bytes: readonly number[], time: number): void;
  /** 0..1. */
  setVolume(volume: number): void;
  /** Ends everything that sounds and everything scheduled up to a moment, at once to the ear. */
  silence(until: number): void;
  /** Lets the audio clock run; browsers hold it until a person has done something. */
  wake(): Promise<void>;
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
  // Two gains in a row: loudness is the listener's, the gate is ours.
  const volume = context.createGain();
  const gate = context.createGain();
  synthesizer.connect(gate);
  gate.connect(volume).connect(context.destination);
  return {
    now: () => context.currentTime,
    send: (bytes, time) => synthesizer.sendMessage(bytes, 0, { time }),
    setVolume: (value) => volume.gain.setTargetAtTime(value * value, context.currentTime, FADE),
    silence: (until) => {
      gate.gain.cancelScheduledValues(context.currentTime);
      gate.gain.setTargetAtTime(0, context.currentTime, FADE);
      synthesizer.stopAll(true);
      // What was scheduled ahead would begin behind the closed gate: it is ended there too.
      for (let channel = 0; channel < 16; channel++) {
        synthesizer.sendMessage([STATUS.controller | channel, CONTROLLER.allSoundOff, 0], 0, { time: until });
        synthesizer.sendMessage([STATUS.controller | channel, CONTROLLER.resetControllers, 0], 0, {
          time: until,
        });
      }
    },
    wake: async () => {
      if (context.state === 'suspended') await context.resume();
    },
    openAt: (time) => {
      gate.gain.setValueAtTime(0, Math.max(context.currentTime, time - FADE));
      gate.gain.setValueAtTime(1, time);
    },
  };
}

async function loadBank(): Promise<ArrayBuffer> {
  const answer = await fetch(BANK_URL);
  if (!answer.ok) throw new Error(`The sound bank could not be loaded (${answer.status}).`);
  return answer.arrayBuffer();
}
