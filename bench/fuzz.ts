/**
 * A long run of damaged files, not part of `npm test`: `node --import tsx bench/fuzz.ts [COUNT]`. Whole files
 * are cut, spliced and overwritten with the bytes that mean most to a reader. Fails on any error that is not
 * our own, on a file that takes longer than a second, and on notes or events beyond the file's size.
 */
import { readTakes } from '../src/core/capture/take.ts';
import { NotMidiError } from '../src/core/midi/smf.ts';
import { splitTake } from '../src/core/split/split.ts';
import { tallyOf } from '../src/core/split/tally.ts';
import { seededRandom } from '../src/core/random.ts';
import { midiMaterial } from './material.ts';

const count = Number(process.argv[2] ?? 100_000);
const random = seededRandom(Number(process.argv[3] ?? 1));
const pick = (below: number) => Math.floor(random() * below);
/** Lengths, statuses and chunk names: where a reader's decisions hang. */
const TELLING = [0x00, 0x7f, 0x80, 0x81, 0x90, 0xb0, 0xc0, 0xf0, 0xf7, 0xff, 0x2f, 0x51, 0x58, 0x4d, 0x54];
// The start of a file holds most of its decisions; short material is damaged more thoroughly.
const material = midiMaterial().map((bytes) => Uint8Array.from(bytes.subarray(0, 4000)));

function damaged(): Uint8Array {
  const bytes = material[pick(material.length)]!.slice();
  const pokes = 1 + pick(12);
  for (let i = 0; i < pokes; i++) {
    bytes[pick(random() < 0.3 ? 64 : bytes.length)] =
      random() < 0.7 ? TELLING[pick(TELLING.length)]! : pick(256);
  }
  const cut = random() < 0.3 ? bytes.subarray(0, pick(bytes.length)) : bytes;
  if (random() > 0.2) return cut;
  const other = material[pick(material.length)]!;
  return Uint8Array.from([...cut.subarray(0, pick(cut.length + 1)), ...other.subarray(pick(other.length))]);
}

let read = 0;
let refused = 0;
let slowest = 0;
for (let i = 0; i < count; i++) {
  const bytes = damaged();
  const start = performance.now();
  try {
    for (const take of readTakes(bytes)) {
      const events = take.file.tracks.reduce((sum, track) => sum + track.length, 0);
      if (events > bytes.length + take.file.tracks.length || take.notes.length > bytes.length) {
        throw new Error(`More came out than went in: ${events} events of ${bytes.length} bytes.`);
      }
      if (!tallyOf(splitTake(take)).balanced) throw new Error('The tally does not balance.');
    }
    read++;
  } catch (error) {
    if (!(error instanceof NotMidiError)) {
      console.error(`File ${i}: ${Buffer.from(bytes).toString('hex')}`);
      throw error;
    }
    refused++;
  }
  slowest = Math.max(slowest, performance.now() - start);
}
const megabytes = Math.round(process.memoryUsage().rss / 1024 / 1024);
console.log(
  `${count} damaged files: ${read} read, ${refused} refused, slowest ${slowest.toFixed(1)} ms, memory ${megabytes} MB`,
);
if (slowest > 1000) process.exitCode = 1;
