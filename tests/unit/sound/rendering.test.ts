import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { test } from 'node:test';
import { SoundBankLoader, SpessaSynthProcessor } from 'spessasynth_core';
import { messagesDue, soundProgram, type Lane } from '../../../src/sound/program.ts';
import { barOf } from '../../support/clips.ts';

const RATE = 44_100;
const BLOCK = 128;
const bank = SoundBankLoader.fromArrayBuffer(new Uint8Array(readFileSync('public/sound/gm-bank.sf2')).buffer);

/** What a program sounds like, rendered by the synthesizer the pages use, one channel of samples. */
async function render(lanes: Lane[], seconds: number, loop: boolean): Promise<Float32Array> {
  const synth = new SpessaSynthProcessor(RATE, { eventsEnabled: false });
  synth.soundBankManager.addSoundBank(bank, 'main');
  await synth.processorInitialized;
  // Reverb rings on; what is measured here is the notes.
  for (let channel = 0; channel < 16; channel++) synth.controllerChange(channel, 91, 0);
  const program = soundProgram(lanes);
  for (const bytes of program.setUp) synth.processMessage([...bytes]);
  const due = messagesDue(program, { speed: 1, loop, fromTick: 0 }, 0, seconds);
  const out = new Float32Array(Math.floor((seconds * RATE) / BLOCK) * BLOCK);
  const other = new Float32Array(out.length);
  let next = 0;
  for (let at = 0; at < out.length; at += BLOCK) {
    while (next < due.length && due[next]!.seconds * RATE < at + BLOCK)
      synth.processMessage([...due[next++]!.bytes]);
    synth.process(out, other, at, BLOCK);
  }
  return out;
}

/** Root mean square from one second to another. */
function loudness(samples: Float32Array, from: number, to: number): number {
  const part = samples.subarray(from * RATE, to * RATE);
  return Math.sqrt(part.reduce((sum, value) => sum + value * value, 0) / part.length);
}

/** Fundamental in Hz, by the highest peak of the autocorrelation between 60 and 1500 Hz. */
function frequency(samples: Float32Array, from: number, to: number): number {
  const part = samples.subarray(from * RATE, to * RATE);
  let best = 0;
  let bestLag = 1;
  const scores: number[] = [];
  for (let lag = Math.floor(RATE / 1500); lag < RATE / 60; lag++) {
    let sum = 0;
    for (let i = 0; i + lag < part.length; i++) sum += part[i]! * part[i + lag]!;
    scores[lag] = sum / (part.length - lag);
    best = Math.max(best, scores[lag]!);
  }
  // The first peak near the highest is the period; later ones are its multiples.
  for (let lag = Math.floor(RATE / 1500) + 1; lag < RATE / 60 - 1; lag++) {
    const score = scores[lag]!;
    if (score > 0.9 * best && score >= scores[lag - 1]! && score >= scores[lag + 1]!) {
      bestLag = lag;
      break;
    }
  }
  return RATE / bestLag;
}

test('a note sounds when it should, at its pitch, and stops when it should', async () => {
  // A4 (440 Hz in equal temperament, ISO 16) from beat 2 to beat 3 at 120 BPM: 0.5 s to 1 s.
  const samples = await render([{ id: 'a', clip: barOf([[480, 480, 69]]) }], 2, false);
  assert.ok(loudness(samples, 0, 0.49) < 1e-4, 'silent before');
  assert.ok(loudness(samples, 0.6, 1) > 0.01, 'sounds');
  assert.ok(loudness(samples, 1.5, 2) < loudness(samples, 0.6, 1) / 50, 'over after its release');
  const onset = samples.findIndex((value) => Math.abs(value) > 1e-3) / RATE;
  assert.ok(onset >= 0.5 - BLOCK / RATE && onset < 0.56, `onset at ${onset}`);
  const cents = 1200 * Math.log2(frequency(samples, 0.65, 0.95) / 440);
  assert.ok(Math.abs(cents) < 30, `${cents} cents off`);
});

test('an octave apart is twice the frequency', async () => {
  const low = frequency(await render([{ id: 'a', clip: barOf([[0, 960, 57]]) }], 1, false), 0.2, 0.8);
  const high = frequency(await render([{ id: 'a', clip: barOf([[0, 960, 69]]) }], 1, false), 0.2, 0.8);
  assert.ok(Math.abs(high / low - 2) < 0.05, `${high} / ${low}`);
});

test('a looped held note sounds on through the seam', async () => {
  const organ = barOf([[0, 1920, 60]], { program: 19 });
  const samples = await render([{ id: 'a', clip: organ }], 4.5, true);
  assert.ok(loudness(samples, 1.5, 1.95) > 0.01);
  assert.ok(loudness(samples, 2.3, 3.9) > 0.01, 'the second pass sounds');
  assert.ok(loudness(samples, 1.98, 2.08) > loudness(samples, 1.5, 1.95) / 20, 'no gap at the seam');
});

test('drums sound from the drum bank: a closed hat has no pitch of a flute and is short', async () => {
  const hat = barOf([[0, 60, 42]], { role: 'drums', channel: 0 });
  const samples = await render([{ id: 'kit', clip: hat }], 1, false);
  assert.ok(loudness(samples, 0, 0.1) > 1e-3);
  assert.ok(loudness(samples, 0.6, 1) < loudness(samples, 0, 0.1) / 20);
});

test('the same program renders to the same samples', async () => {
  const lanes = [
    {
      id: 'a',
      clip: barOf([
        [0, 480, 69],
        [960, 480, 72],
      ]),
    },
  ];
  assert.deepEqual(await render(lanes, 1.5, true), await render(lanes, 1.5, true));
});
