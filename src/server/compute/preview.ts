import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  audioToWav,
  BasicMIDI,
  SoundBankLoader,
  SpessaSynthProcessor,
  SpessaSynthSequencer,
} from 'spessasynth_core';
import type { Preview } from '../../core/exchange/handoff.ts';
import { LibraryError } from '../library/errors.ts';
import { appRoot } from '../paths.ts';

/** Samples a second; as compact discs have them. */
const RATE = 44_100;
const BLOCK = 128;

/** After the last note a preview rings on for so long at the most, in seconds, or until it is quieter than -60 dBFS. */
const TAIL = 2;
const QUIET = 0.001;

/** The loudest sample of a preview: -6 dBFS, so that several can sound at once. */
const PEAK = 10 ** (-6 / 20);

/** A preview of more than this is a file of its own, in seconds. */
const LONGEST = 20 * 60;

let bank: ReturnType<typeof SoundBankLoader.fromArrayBuffer> | undefined;

/** The bank that ships with the application; read once a thread. */
function shippedBank() {
  bank ??= SoundBankLoader.fromArrayBuffer(
    new Uint8Array(readFileSync(join(appRoot, 'public/sound/gm-bank.sf2'))).buffer,
  );
  return bank;
}

/**
 * What a Standard MIDI File sounds like on the shipped bank, at its own tempo: WAV, 16 bit, 44.1 kHz, two channels, the file once and
 * its tail, the loudest sample at -6 dBFS. The same bytes give the same bytes.
 * @throws LibraryError 422 where it is longer than twenty minutes
 */
export async function previewOf(midi: Uint8Array): Promise<Preview> {
  const synth = new SpessaSynthProcessor(RATE, { eventsEnabled: false });
  synth.soundBankManager.addSoundBank(shippedBank(), 'main');
  await synth.processorInitialized;
  const sequencer = new SpessaSynthSequencer(synth);
  const song = BasicMIDI.fromArrayBuffer(new Uint8Array(midi).buffer);
  if (song.duration > LONGEST) throw new LibraryError(422, 'A preview lasts twenty minutes at the most.');
  sequencer.loadNewSongList([song]);
  sequencer.loopCount = 0;
  sequencer.play();
  const body = Math.ceil((song.duration * RATE) / BLOCK) * BLOCK;
  const length = body + Math.ceil((TAIL * RATE) / BLOCK) * BLOCK;
  const left = new Float32Array(length);
  const right = new Float32Array(length);
  for (let at = 0; at < length; at += BLOCK) {
    if (at < body) sequencer.processTick();
    synth.process(left, right, at, BLOCK);
  }
  const peak = Math.max(loudest(left), loudest(right));
  const end = endOf(left, right, body, peak);
  const factor = peak > 0 ? PEAK / peak : 1;
  const channels = [left, right].map((samples) => samples.subarray(0, end).map((sample) => sample * factor));
  const wav = audioToWav(channels, RATE, { normalizeAudio: false });
  return { wav: new Uint8Array(wav), peak: peak > 0 ? PEAK : 0 };
}

function loudest(samples: Float32Array): number {
  let most = 0;
  for (const sample of samples) most = Math.max(most, Math.abs(sample));
  return most;
}

/** Where the tail has become quiet. */
function endOf(left: Float32Array, right: Float32Array, body: number, peak: number): number {
  let end = left.length;
  while (end > body && Math.abs(left[end - 1]!) < QUIET * peak && Math.abs(right[end - 1]!) < QUIET * peak)
    end--;
  return end;
}
