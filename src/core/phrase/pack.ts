import type { ClipNote, Control } from './clip.ts';

/**
 * Notes and controls as bytes for the database: a table of 32-bit integers, column after column.
 * Layout, little-endian: version, columns, rows, then rows x columns values.
 */
const VERSION = 1;

export function packTable(columns: readonly (readonly number[])[]): Uint8Array {
  const rows = columns[0]?.length ?? 0;
  const table = new DataView(new ArrayBuffer(12 + 4 * rows * columns.length));
  [VERSION, columns.length, rows].forEach((value, i) => table.setInt32(i * 4, value, true));
  columns.forEach((column, c) => {
    for (let r = 0; r < rows; r++) table.setInt32(12 + 4 * (c * rows + r), column[r]!, true);
  });
  return new Uint8Array(table.buffer);
}

/** @throws RangeError when the bytes are not a table of that many columns. */
export function unpackTable(bytes: Uint8Array, columns: number): number[][] {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const rows = bytes.length >= 12 ? view.getInt32(8, true) : -1;
  if (
    rows < 0 ||
    view.getInt32(0, true) !== VERSION ||
    view.getInt32(4, true) !== columns ||
    bytes.length !== 12 + 4 * rows * columns
  ) {
    throw new RangeError(`These bytes are not a packed table of ${columns} columns.`);
  }
  return Array.from({ length: columns }, (_, c) =>
    Array.from({ length: rows }, (_, r) => view.getInt32(12 + 4 * (c * rows + r), true)),
  );
}

/**
 * A list of indices, most of which go up by little: the way to each from the one before, doubled, a way down less one; seven bits a byte,
 * the last byte of each below 128.
 */
const INDICES_VERSION = 2;

/** Indices as bytes for the database: a quarter of what they are as a table. */
export function packIndices(indices: readonly number[]): Uint8Array {
  const bytes = [INDICES_VERSION, 0, 0, 0];
  let before = 0;
  for (const index of indices) {
    let way = index < before ? 2 * (before - index) - 1 : 2 * (index - before);
    for (; way >= 128; way = Math.floor(way / 128)) bytes.push(128 + (way % 128));
    bytes.push(way);
    before = index;
  }
  return Uint8Array.from(bytes);
}

/** Indices as they were packed, now or as a table of one column before. @throws RangeError when the bytes are neither */
export function unpackIndices(bytes: Uint8Array): number[] {
  if (bytes.length < 4 || new DataView(bytes.buffer, bytes.byteOffset).getInt32(0, true) !== INDICES_VERSION)
    return unpackTable(bytes, 1)[0]!;
  const indices: number[] = [];
  let [index, way, times] = [0, 0, 1];
  for (const byte of bytes.subarray(4)) {
    way += (byte % 128) * times;
    times *= 128;
    if (byte >= 128) continue;
    index += way % 2 === 1 ? -(way + 1) / 2 : way / 2;
    indices.push(index);
    [way, times] = [0, 1];
  }
  if (times > 1) throw new RangeError('These bytes end within an index.');
  return indices;
}

const NOTE_COLUMNS = ['tick', 'duration', 'pitch', 'velocity', 'release', 'origin'] as const;
const CONTROL_COLUMNS = ['tick', 'kind', 'data1', 'data2'] as const;

export function packClipNotes(notes: readonly ClipNote[]): Uint8Array {
  return packTable(NOTE_COLUMNS.map((column) => notes.map((note) => note[column])));
}

export function unpackClipNotes(bytes: Uint8Array): ClipNote[] {
  const [tick, duration, pitch, velocity, release, origin] = unpackTable(bytes, NOTE_COLUMNS.length);
  return tick!.map((_, i) => ({
    tick: tick![i]!,
    duration: duration![i]!,
    pitch: pitch![i]!,
    velocity: velocity![i]!,
    release: release![i]!,
    origin: origin![i]!,
  }));
}

export function packControls(controls: readonly Control[]): Uint8Array {
  return packTable(CONTROL_COLUMNS.map((column) => controls.map((control) => control[column])));
}

export function unpackControls(bytes: Uint8Array): Control[] {
  const [tick, kind, data1, data2] = unpackTable(bytes, CONTROL_COLUMNS.length);
  return tick!.map((_, i) => ({ tick: tick![i]!, kind: kind![i]!, data1: data1![i]!, data2: data2![i]! }));
}
