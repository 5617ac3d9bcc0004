import { create } from 'zustand';
import { persist } from 'zustand/middleware';

/**
 * What a device is to a recording: its notes become the take; it sets the others off, and its keys are kept beside the take; or the
 * same, and the page sends them on to the one that is recorded.
 */
export const DEVICE_USES = ['recorded', 'trigger', 'through'] as const;
export type DeviceUse = (typeof DEVICE_USES)[number];

/** What is done with the tempo that a device's clock brings: asked once, then done so. */
export type IncomingTempo = 'ask' | 'take' | 'keep';

/** How one device is used, and what it is asked to play. */
export interface DeviceSetting {
  use: DeviceUse;
  /** 0..15: on which it is played to. */
  channel: number;
  /** Whether it is sent MIDI Clock. */
  clock: boolean;
  tempo: IncomingTempo;
  /** What it was told to play, so that its account and the chart check hold; empty where nobody said. */
  chart: string;
  /** Such as "Dm"; empty where nobody said. */
  key: string;
  bars: number | null;
}

const FRESH: DeviceSetting = {
  ...{ use: 'recorded', channel: 0, clock: true, tempo: 'ask', chart: '', key: '', bars: null },
};

/** Settings by the names of devices: the same one is known again at another port, and on another day. */
const useSettings = create<Record<string, DeviceSetting>>()(persist(() => ({}), { name: 'device settings' }));

export function deviceSetting(name: string): DeviceSetting {
  return { ...FRESH, ...useSettings.getState()[name] };
}

export function useDeviceSetting(name: string): DeviceSetting {
  const kept = useSettings((all) => all[name]);
  return { ...FRESH, ...kept };
}

export function setDevice(name: string, change: Partial<DeviceSetting>): void {
  useSettings.setState({ [name]: { ...deviceSetting(name), ...change } });
}
