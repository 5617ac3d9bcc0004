import type { WireMessage } from '../core/midi/message.ts';

/** What a source sends: what it plays, or (where it has an input) what it was set off by. */
export type SourceStream = 'played' | 'input';

/** Something that sends MIDI: a device or a stand-in. Times are the sender's own, in ms of `performance.now()`. */
export interface MidiSource {
  id: string;
  name: string;
  kind: 'device' | 'stand-in';
  /** Calls back for every message until the answer is called. */
  listen(onMessage: (message: WireMessage, stream: SourceStream) => void): () => void;
}

/** Something that MIDI can be sent to, at times that may lie a little ahead. */
export interface MidiOutput {
  id: string;
  name: string;
  kind: 'device' | 'stand-in';
  send(message: WireMessage): void;
}
