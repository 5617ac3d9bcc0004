import { programName } from '../midi/gm.ts';
import { isPitched } from '../phrase/clip.ts';
import { unchanged, type Step } from './step.ts';

export interface ChannelParams {
  /** 1..16, as people count them. */
  channel?: number;
  /** 1..128, as General MIDI prints them. */
  program?: number;
}

/** Says on which channel and with which program it leaves. No note is touched. */
export const setChannel: Step<ChannelParams> = (clip, params) => {
  const channel = params.channel === undefined ? clip.channel : params.channel - 1;
  const program = params.program === undefined ? clip.program : params.program - 1;
  const sound = isPitched(clip) ? programName(program) : 'a kit';
  return unchanged({ ...clip, channel, program }, `channel ${channel + 1}, ${sound}`);
};
