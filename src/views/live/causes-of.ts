import type { SourceState } from '../../devices/recorder-state.ts';
import type { MidiAccess } from '../../devices/web-midi.ts';

/** One cause: true where it is ruled out, false where it is the trouble, null where it cannot be seen from here. */
export interface Cause {
  ruledOut: boolean | null;
  title: string;
  way: string;
}

/** The causes in the order in which one would look for them. */
export function causesOf({
  sources,
  access,
  messages,
  notes,
  plays,
}: {
  sources: readonly SourceState[];
  access: MidiAccess;
  /** Of the sources that are ticked: how many messages came, whether notes were among them, whether one plays. */
  messages: number;
  notes: boolean;
  plays: boolean;
}): Cause[] {
  const armed = sources.filter((source) => source.armed && !source.lost);
  const devices = armed.filter(({ kind }) => kind === 'device');
  const standIns = armed.filter(({ kind }) => kind === 'stand-in');
  return [
    {
      ruledOut: armed.length > 0,
      title: 'A source is ticked',
      way: 'Tick the source at the left; only ticked ones are recorded.',
    },
    {
      ruledOut: devices.length > 0 ? true : access === 'ready' || standIns.length > 0 ? null : false,
      title: 'The page may hear MIDI devices',
      way:
        access === 'unasked'
          ? 'Press "Look for devices" and allow it.'
          : access === 'absent'
            ? 'This browser has no Web MIDI. Use one that has, or take in files.'
            : access === 'refused'
              ? 'Allow MIDI for this page in the settings of the site.'
              : 'A device that is plugged in shows up by itself. Try another cable or port: many cables only charge.',
    },
    {
      ruledOut: sources.some(({ lost, armed: ticked }) => lost && ticked) ? false : true,
      title: 'The source is still connected',
      way: 'It was unplugged or switched off. Connect it again; it comes back by itself.',
    },
    {
      ruledOut: messages > 0 ? true : plays ? true : null,
      title: 'It sends on this port',
      way: 'Choose this port as the output in the device or program. Another program may hold the port: close it there.',
    },
    {
      ruledOut: messages === 0 ? null : notes,
      title: 'It sends notes, not only a clock',
      way: 'Press play on it, or hold the keys that set it off. Some send notes only while their own track is armed.',
    },
    {
      ruledOut: notes ? true : null,
      title: 'Nothing on the way swallows them',
      way: 'Local off, channel filters, settings that send start and stop but no notes, and thru boxes drop notes: send on all channels, filters off.',
    },
    {
      ruledOut: notes ? true : null,
      title: 'The generator is not locked inside another program',
      way: 'One that sounds inside another program sends nothing out until it is given a virtual MIDI port, or exports files.',
    },
  ];
}
