import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { LRUCache } from 'lru-cache';
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

type SoundBank = ReturnType<typeof SoundBankLoader.fromArrayBuffer>;

/** The bank that ships with the application. */
const SHIPPED = join(appRoot, 'public/sound/gm-bank.sf2');

/** Banks that a thread holds: the shipped one, and one of one's own. */
const held = new LRUCache<string, SoundBank>({ max: 2 });

function bankAt(path: string): SoundBank {
  const bank = held.get(path) ?? readBank(readFileSync(path));
  held.set(path, bank);
  return bank;
}

function readBank(bytes: Uint8Array): SoundBank {
  return SoundBankLoader.fromArrayBuffer(new Uint8Array(bytes).buffer);
}

/** Looks a SoundFont through. @throws LibraryError 422 where it is none, or has no sounds */
export function checkedBank(bytes: Uint8Array): { presets: number } {
  try {
    const { presets } = readBank(bytes);
    if (presets.length > 0) return { presets: presets.length };
  } catch {
    // What is wrong in it is nothing that a person could put right.
  }
  throw new LibraryError(422, 'This is no SoundFont, or it is broken: no sound could be read from it.');
}

/**
 * What a Standard MIDI File sounds like on the shipped bank, or on another's file, at its own tempo: WAV, 16 bit, 44.1 kHz, two channels, the file once and
 * its tail, the loudest sample at -6 dBFS. The same bytes give the same bytes.
 * @throws LibraryError 422 where it is longer than twenty minutes
 */
export async function previewOf(midi: Uint8Array, bank: string = SHIPPED): Promise<Preview> {
  const synth = new SpessaSynthProcessor(RATE, { eventsEnabled: false });
  synth.soundBankManager.addSoundBank(bankAt(bank), 'main');
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
