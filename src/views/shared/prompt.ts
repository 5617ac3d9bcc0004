import { bpmOf, meterAt, roundedBpm, tempoAt, ticksToSeconds } from '../../core/music/timeline.ts';
import type { WireMessage } from '../../core/midi/message.ts';
import { setPrompt, type Prompt } from '../../devices/recorder-state.ts';
import { soundProgram, type Lane, type SoundProgram } from '../../sound/program.ts';
import { fetchPhrase, heardClip } from './phrases/listening.ts';

/** What sounds, as messages with their times in milliseconds from bar one. */
export function timedMessages(program: SoundProgram): WireMessage[] {
  const setUp = program.setUp.map((bytes) => ({ ms: 0, bytes: [...bytes] }));
  const messages = program.messages.map(({ tick, bytes }) => ({
    ms: ticksToSeconds(program.timeline, tick) * 1000,
    bytes: [...bytes],
  }));
  return [...setUp, ...messages];
}

/** Bars of a take as they are heard, as something that is played to a source. */
export function promptWithBars(
  lanes: readonly Lane[],
  { id, name, bars }: { id: string; name: string; bars: number },
): Prompt {
  const program = soundProgram(lanes);
  const { numerator, denominator } = meterAt(program.timeline, 0);
  const prompt: Prompt = {
    ...{ kind: 'take', id, name, bars, meter: { numerator, denominator } },
    bpm: roundedBpm(bpmOf(tempoAt(program.timeline, 0).microseconds)),
    messages: timedMessages(program),
  };
  setPrompt(prompt);
  return prompt;
}

/** A kept phrase as something that is played to a source, whose answer is recorded. */
export async function promptWithPhrase(id: string): Promise<Prompt> {
  const phrase = await fetchPhrase(id);
  const program = soundProgram([{ id, clip: heardClip(phrase.clip, phrase) }]);
  const prompt: Prompt = {
    kind: 'phrase',
    id,
    name: phrase.name,
    bpm: phrase.bpm,
    meter: { numerator: phrase.meterNumerator, denominator: phrase.meterDenominator },
    bars: phrase.bars,
    messages: timedMessages(program),
  };
  setPrompt(prompt);
  return prompt;
}

/** Where a source is asked in many ways what it makes of a phrase. */
export function sweepAddress({ id, name }: { id: string; name: string }): string {
  return `/capture/sweep?${new URLSearchParams({ phrase: id, name }).toString()}`;
}
