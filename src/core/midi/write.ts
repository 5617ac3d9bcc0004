import { channelDataLength, STATUS, type Division, type MidiEvent, type MidiFile } from './smf.ts';

/**
 * Writes a Standard MIDI File (RP-001): header of six bytes, shortest lengths, running status. Equal data
 * gives equal bytes. Events must stand in order of time.
 *
 * @throws RangeError when an event's time goes backwards or a length needs more than four bytes.
 */
export function writeMidiFile(file: MidiFile): Uint8Array {
  const out = new ByteSink();
  out.text('MThd');
  out.uint32(6);
  out.uint16(file.format);
  out.uint16(file.tracks.length);
  out.uint16(divisionWord(file.division));
  for (let i = 0; i <= file.tracks.length; i++) {
    for (const chunk of file.otherChunks) {
      if (chunk.beforeTrack === i) writeChunk(out, chunk.id, () => out.bytes(chunk.bytes));
    }
    const track = file.tracks[i];
    if (track) writeChunk(out, 'MTrk', () => writeTrack(out, track));
  }
  return out.result();
}

/** The bytes of a variable-length quantity (RP-001), 0 to 0x0FFFFFFF. @throws RangeError outside. */
export function variableLength(value: number): Uint8Array {
  const out = new ByteSink();
  out.quantity(value);
  return out.result();
}

function writeTrack(out: ByteSink, events: MidiEvent[]): void {
  let tick = 0;
  let running = 0;
  for (const event of events) {
    if (event.tick < tick) throw new RangeError(`An event at tick ${event.tick} stands behind tick ${tick}.`);
    out.quantity(event.tick - tick);
    tick = event.tick;
    if (event.status < 0xf0) {
      if (event.status !== running) out.byte(event.status);
      running = event.status;
      out.byte(event.data1);
      if (channelDataLength(event.status) === 2) out.byte(event.data2);
    } else {
      running = 0;
      out.byte(event.status);
      if (event.status === STATUS.meta) out.byte(event.data1);
      const data = event.bytes ?? new Uint8Array();
      out.quantity(data.length);
      out.bytes(data);
    }
  }
}

function writeChunk(out: ByteSink, id: string, body: () => void): void {
  out.text(id);
  const lengthAt = out.length;
  out.uint32(0);
  body();
  out.patchUint32(lengthAt, out.length - lengthAt - 4);
}

function divisionWord(division: Division): number {
  if (division.kind === 'metrical') return division.ppq;
  const frames = division.framesPerSecond === 29.97 ? 29 : division.framesPerSecond;
  return ((256 - frames) << 8) | division.ticksPerFrame;
}

/** Bytes that grow as they are written. */
class ByteSink {
  private data = new Uint8Array(1024);
  length = 0;

  byte(value: number): void {
    this.reserve(1);
    this.data[this.length++] = value;
  }

  bytes(values: Uint8Array): void {
    this.reserve(values.length);
    this.data.set(values, this.length);
    this.length += values.length;
  }

  text(ascii: string): void {
    for (let i = 0; i < ascii.length; i++) this.byte(ascii.charCodeAt(i));
  }

  uint16(value: number): void {
    this.byte(value >> 8);
    this.byte(value & 0xff);
  }

  uint32(value: number): void {
    this.uint16(value >>> 16);
    this.uint16(value & 0xffff);
  }

  patchUint32(at: number, value: number): void {
    new DataView(this.data.buffer).setUint32(at, value);
  }

  quantity(value: number): void {
    if (value < 0 || value > 0x0fffffff) {
      throw new RangeError(`${value} does not fit a variable-length quantity (0 to 268435455).`);
    }
    if (value >= 1 << 21) this.byte(0x80 | (value >> 21));
    if (value >= 1 << 14) this.byte(0x80 | ((value >> 14) & 0x7f));
    if (value >= 1 << 7) this.byte(0x80 | ((value >> 7) & 0x7f));
    this.byte(value & 0x7f);
  }

  result(): Uint8Array {
    return this.data.slice(0, this.length);
  }

  private reserve(count: number): void {
    if (this.length + count <= this.data.length) return;
    const larger = new Uint8Array(Math.max(this.data.length * 2, this.length + count));
    larger.set(this.data.subarray(0, this.length));
    this.data = larger;
  }
}
