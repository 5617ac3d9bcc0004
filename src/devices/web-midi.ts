import type { MidiOutput, MidiSource } from './source.ts';

/** What the browser says about MIDI. */
export type MidiAccess = 'unasked' | 'asking' | 'absent' | 'refused' | 'ready';

export interface Devices {
  sources: MidiSource[];
  outputs: MidiOutput[];
}

/**
 * Asks the browser for MIDI devices. Calls back now and whenever one is plugged in or out. Without system exclusive:
 * that permission is more than is needed, and browsers warn of it.
 */
export async function askForDevices(
  onDevices: (devices: Devices) => void,
): Promise<'absent' | 'refused' | 'ready'> {
  if (typeof navigator.requestMIDIAccess !== 'function') return 'absent';
  let access: MIDIAccess;
  try {
    access = await navigator.requestMIDIAccess({ sysex: false });
  } catch {
    return 'refused';
  }
  const tell = () => onDevices(devicesOf(access));
  access.onstatechange = tell;
  tell();
  return 'ready';
}

function devicesOf(access: MIDIAccess): Devices {
  const present = <Port extends MIDIPort>(ports: Iterable<Port>) =>
    [...ports].filter(({ state }) => state === 'connected');
  return {
    sources: present(access.inputs.values()).map((port) => ({
      id: `device ${port.id}`,
      name: port.name ?? 'MIDI input',
      kind: 'device',
      listen: (onMessage) => {
        const hear = ({ timeStamp, data }: MIDIMessageEvent) => {
          if (data) onMessage({ ms: timeStamp, bytes: data }, 'played');
        };
        port.addEventListener('midimessage', hear as EventListener);
        // A port whose handler is set by listener has to be opened.
        void port.open();
        return () => port.removeEventListener('midimessage', hear as EventListener);
      },
    })),
    outputs: present(access.outputs.values()).map((port) => ({
      id: `device ${port.id}`,
      name: port.name ?? 'MIDI output',
      kind: 'device',
      send: ({ ms, bytes }) => port.send([...bytes], ms),
    })),
  };
}
