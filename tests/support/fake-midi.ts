import type { Page } from 'playwright-core';

/** The browser's side of Web MIDI, as far as the page uses it: ports that a test plugs in, plays and pulls out. */
export interface FakeMidi {
  plug(name: string): void;
  unplug(name: string): void;
  /** Sends messages with their own times. */
  send(name: string, messages: { at: number; bytes: number[] }[]): void;
  /** What the page has sent. */
  sent: { name: string; bytes: number[]; at: number }[];
}

declare global {
  interface Window {
    fakeMidi: FakeMidi;
  }
}

/** What the browser answers when it is asked for devices; absent where it does not know of them. */
type Answer = 'given' | 'refused' | 'absent';

/** Puts it into a page, before the page is loaded. */
export async function fakeMidi(page: Page, answer: Answer): Promise<void> {
  // Some loaders of TypeScript wrap functions so that they keep their names; the page has no such wrapper.
  await page.addInitScript('globalThis.__name ??= (named) => named;');
  await page.addInitScript(install, answer);
}

/** Runs in the page. */
function install(answer: Answer): void {
  const inputs = new Map<string, EventTarget>();
  const outputs = new Map<string, unknown>();
  const access = { inputs, outputs, onstatechange: null as (() => void) | null };
  window.fakeMidi = {
    sent: [],
    plug(name) {
      const port = { id: name, name, state: 'connected' };
      inputs.set(name, Object.assign(new EventTarget(), port, { open: async () => {} }));
      const send = (bytes: number[], at: number) => window.fakeMidi.sent.push({ name, bytes, at });
      outputs.set(name, { ...port, send });
      access.onstatechange?.();
    },
    unplug(name) {
      inputs.delete(name);
      outputs.delete(name);
      access.onstatechange?.();
    },
    send(name, messages) {
      const port = inputs.get(name)!;
      for (const { at, bytes } of messages) {
        const event = new Event('midimessage');
        Object.defineProperties(event, {
          data: { value: Uint8Array.from(bytes) },
          timeStamp: { value: at },
        });
        port.dispatchEvent(event);
      }
    },
  };
  const ask = async () => {
    if (answer === 'refused') throw new DOMException('no', 'NotAllowedError');
    return access;
  };
  const value = answer === 'absent' ? undefined : ask;
  Object.defineProperty(navigator, 'requestMIDIAccess', { configurable: true, value });
}
