import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { clockTimes } from '../../../src/core/capture/clock.ts';
import {
  appendMessage,
  createLog,
  decodeLog,
  encodeLog,
  logSince,
  messageAt,
  STREAM,
  type MessageLog,
  type Stream,
} from '../../../src/core/capture/message-log.ts';
import { recordingOf, type RecordingPlan } from '../../../src/core/capture/recording.ts';
import { takeFrom, trackName } from '../../../src/core/capture/take.ts';
import { takeAccount } from '../../../src/core/analyze/account.ts';
import { readMidiFile } from '../../../src/core/midi/read.ts';
import { writeMidiFile } from '../../../src/core/midi/write.ts';
import { bpmOf, ticksToSeconds } from '../../../src/core/music/timeline.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { performanceMessages } from '../../../src/core/standins/performance.ts';
import { STAND_INS } from '../../../src/core/standins/stand-ins.ts';

const plan: RecordingPlan = {
  name: 'Take',
  recordedAt: '2026-11-25T10:00:00.000Z',
  clock: 'click',
  bpm: 120,
  meter: { numerator: 4, denominator: 4 },
  startMs: 1000,
  countInBars: 1,
  bars: null,
  sources: [
    { name: 'Pads', kind: 'device' },
    { name: 'Pedal', kind: 'device' },
  ],
  markBars: 4,
};

function logOf(messages: [ms: number, bytes: number[], source?: number, stream?: Stream][]): MessageLog {
  const log = createLog(2);
  for (const [ms, bytes, source = 0, stream = STREAM.played] of messages)
    appendMessage(log, { ms, bytes }, source, stream);
  return log;
}

test('a log goes through bytes and comes back, however it is cut into pieces between messages', () => {
  const message = fc.tuple(
    fc.double({ min: 0, max: 1e7, noNaN: true }),
    fc.oneof(
      fc.tuple(fc.integer({ min: 0x80, max: 0xbf }), fc.nat(127), fc.nat(127)),
      fc.tuple(fc.integer({ min: 0xc0, max: 0xdf }), fc.nat(127)),
      fc.constantFrom([0xf8], [0xfa], [0xf0, 1, 2, 3, 4, 0xf7]),
    ),
    fc.nat(5),
    fc.constantFrom(0, 1, 2),
  );
  fc.assert(
    fc.property(fc.array(message), fc.nat(), (messages, cut) => {
      const log = logOf(messages as Parameters<typeof logOf>[0]);
      const at = log.length === 0 ? 0 : cut % (log.length + 1);
      const back = decodeLog([encodeLog(log, 0, at), encodeLog(log, at)]);
      assert.equal(back.length, log.length);
      for (let i = 0; i < log.length; i++) assert.deepEqual(messageAt(back, i), messageAt(log, i));
    }),
  );
});

test('a piece that was cut off ends with its last whole message', () => {
  const bytes = encodeLog(
    logOf([
      [1, [0x90, 60, 90]],
      [2, [0x80, 60, 0]],
    ]),
  );
  for (let length = 0; length < bytes.length; length++)
    assert.equal(decodeLog([bytes.subarray(0, length)]).length, length < 15 ? 0 : 1);
});

test('to the click, bar one is tick 0 and milliseconds become ticks', () => {
  const { played, facts } = recordingOf(
    logOf([
      [1000, [0x90, 60, 90]],
      [1500, [0x80, 60, 0]],
      [3000, [0x99, 36, 100]],
      [3100, [0x89, 36, 0]],
    ]),
    plan,
    5000,
  );
  const take = takeFrom(played);
  assert.deepEqual([...take.notes.tick], [0, 4 * 960]);
  assert.deepEqual([...take.notes.duration], [960, 192]);
  assert.equal(bpmOf(take.timing.tempos[0]!.microseconds), 120);
  assert.equal(take.timing.ticks, 8 * 960);
  assert.deepEqual([facts.barsBefore, facts.endedNotes, facts.clock], [0, 0, 'click']);
});

test('several sources feed one take, a track each; messages are put in order of their own time', () => {
  const log = logOf([
    [1500, [0x80, 60, 0]],
    [1000, [0x90, 60, 90]],
    [1200, [0xb0, 64, 127], 1],
    [1400, [0xb0, 64, 0], 1],
  ]);
  const take = takeFrom(recordingOf(log, plan, 3000).played);
  assert.deepEqual(
    take.file.tracks.map((_, track) => trackName(take.file, track)),
    ['Take', 'Pads', 'Pedal'],
  );
  assert.deepEqual([...take.notes.duration], [960]);
  assert.deepEqual(take.repairs, []);
});

test('what set it off is kept beside it, over the same bars, and is never among the notes', () => {
  const log = logOf([
    [1000, [0x90, 48, 90], 0, STREAM.input],
    [3000, [0x80, 48, 0], 0, STREAM.input],
    ...[0, 1, 2, 3].flatMap((n): [number, number[]][] => [
      [1000 + n * 500, [0x90, 60 + n, 80]],
      [1200 + n * 500, [0x80, 60 + n, 0]],
    ]),
  ]);
  const { played, input } = recordingOf(log, plan, 3000);
  assert.deepEqual([...takeFrom(played).notes.pitch], [60, 61, 62, 63]);
  assert.deepEqual([...takeFrom(input!).notes.pitch], [48]);
  assert.equal(takeFrom(input!).timing.ticks, takeFrom(played).timing.ticks);
});

test('notes of the count-in stay where they were: whole bars are written for them, and bar one is marked', () => {
  const { played, facts } = recordingOf(
    logOf([
      [900, [0x90, 59, 90]],
      [990, [0x80, 59, 0]],
      [1000, [0x90, 60, 90]],
      [1500, [0x80, 60, 0]],
    ]),
    plan,
    3000,
  );
  const take = takeFrom(played);
  assert.deepEqual([...take.notes.tick], [4 * 960 - 192, 4 * 960]);
  assert.equal(facts.barsBefore, 1);
  assert.deepEqual(take.timing.markers, [{ tick: 4 * 960, text: 'Bar one' }]);
});

test('a stop in the middle of notes ends them, counts them, and the account tells the cut', () => {
  const { played, facts } = recordingOf(
    logOf([
      [1000, [0x90, 60, 90]],
      [1000, [0x90, 64, 90]],
      [1400, [0x80, 64, 0]],
    ]),
    plan,
    2000,
  );
  const take = takeFrom(played);
  assert.equal(facts.endedNotes, 1);
  assert.deepEqual(take.repairs, []);
  const account = takeAccount(take, splitTake(take), {}, facts);
  assert.deepEqual(
    account.findings.map(({ code }) => code),
    ['cut'],
  );
});

test('one tap marks the bars before it', () => {
  const { facts, played } = recordingOf(
    logOf([
      [1000, [0x90, 60, 90]],
      [1500, [0x80, 60, 0]],
      [1000 + 6 * 2000 + 100, [0], 0, STREAM.mark],
    ]),
    plan,
    20_000,
  );
  assert.deepEqual(facts.stars, [{ bar: 3, bars: 4 }]);
  assert.deepEqual(takeFrom(played).timing.markers, [{ tick: 2 * 4 * 960, text: 'That one' }]);
});

/** Clock messages of a tempo that goes from one to another, after a start. */
function clocks(
  fromBpm: number,
  toBpm: number,
  quarters: number,
  start: number[] = [0xfa],
): [number, number[]][] {
  const messages: [number, number[]][] = [[499, start]];
  let ms = 500;
  for (let n = 0; n <= quarters * 24; n++) {
    messages.push([ms, [0xf8]]);
    ms += 60_000 / (fromBpm + ((toBpm - fromBpm) * n) / (quarters * 24)) / 24;
  }
  return messages;
}

test("another's clock is followed: bar one at its start, its tempo in the file, quarters on quarters", () => {
  const pulses = clocks(100, 100, 16);
  const quarter = (n: number) => pulses[1 + n * 24]![0];
  const log = logOf([
    ...pulses,
    ...[0, 1, 2, 3, 4].flatMap((n): [number, number[]][] => [
      [quarter(n), [0x90, 60, 90]],
      [quarter(n) + 100, [0x80, 60, 0]],
    ]),
  ]);
  const { played, facts } = recordingOf(log, { ...plan, clock: 'followed' }, quarter(16));
  const take = takeFrom(played);
  assert.deepEqual([...take.notes.tick], [0, 960, 1920, 2880, 3840]);
  assert.ok(Math.abs(bpmOf(take.timing.tempos[0]!.microseconds) - 100) < 0.01);
  assert.equal(facts.clock, 'followed');
});

test('a clock that slows down is followed beat by beat, and the seconds stay', () => {
  const pulses = clocks(120, 60, 16);
  const quarter = (n: number) => pulses[1 + n * 24]![0];
  const log = logOf([
    ...pulses,
    ...[...Array(16).keys()].flatMap((n): [number, number[]][] => [
      [quarter(n), [0x90, 60, 90]],
      [quarter(n) + 50, [0x80, 60, 0]],
    ]),
  ]);
  const take = takeFrom(recordingOf(log, { ...plan, clock: 'followed' }, quarter(16)).played);
  [...take.notes.tick].forEach((tick, n) => {
    assert.equal(tick, n * 960);
    const seconds = ticksToSeconds(take.timing.timeline, tick);
    assert.ok(Math.abs(seconds - (quarter(n) - 500) / 1000) < 0.01, `quarter ${n}: ${seconds}`);
  });
});

test('a song position tells where a continued clock goes on (MIDI 1.0: sixteenths)', () => {
  const pulses = clocks(100, 100, 4, [0xfb]);
  const log = logOf([[498, [0xf2, 32, 0]], ...pulses, [500, [0x90, 60, 90]], [600, [0x80, 60, 0]]]);
  const take = takeFrom(recordingOf(log, { ...plan, clock: 'followed' }, 2000).played);
  assert.deepEqual([...take.notes.tick], [8 * 960]);
});

test('a clock that never came leaves a recording without bars, and says so', () => {
  const { facts, played } = recordingOf(
    logOf([
      [1000, [0x90, 60, 90]],
      [1250, [0x80, 60, 0]],
    ]),
    { ...plan, clock: 'followed' },
    2000,
  );
  assert.equal(facts.clock, 'none');
  assert.deepEqual(takeFrom(played).timing.tempos, []);
});

test('without a click, ticks measure time and no tempo is claimed', () => {
  const { played } = recordingOf(
    logOf([
      [1777, [0x90, 60, 90]],
      [2000, [0x80, 60, 0]],
    ]),
    { ...plan, clock: 'none', bpm: 87 },
    3000,
  );
  const take = takeFrom(played);
  assert.deepEqual(take.timing.tempos, []);
  assert.ok(Math.abs(ticksToSeconds(take.timing.timeline, take.notes.tick[0]!) - 0.777) < 0.0005);
});

test('MIDI clock is sent 24 times a quarter note, in windows that neither miss nor repeat', () => {
  const whole = clockTimes(100, 120, 0, 2100);
  assert.equal(whole.length, 96);
  const windows = [0, 1, 2].flatMap((n) => clockTimes(100, 120, n * 700, (n + 1) * 700));
  assert.deepEqual(windows, whole);
});

test('a take out of the rolling memory holds what was played since', () => {
  const log = logOf([
    [100, [0x90, 60, 90]],
    [200, [0x80, 60, 0]],
    [900, [0x90, 62, 90]],
    [950, [0xf0, 1, 2, 3, 0xf7]],
  ]);
  const kept = logSince([log], 500);
  assert.equal(kept.length, 2);
  assert.deepEqual([...messageAt(kept, 1).bytes], [0xf0, 1, 2, 3, 0xf7]);
});

test('SysEx and controllers are written, real-time messages are not; what is written reads back the same', () => {
  const log = logOf([
    [1000, [0xf0, 0x7e, 1, 2, 3, 0xf7]],
    [1000, [0xf8]],
    [1010, [0xfe]],
    [1100, [0xc0, 5]],
    [1200, [0x90, 60, 90]],
    [1300, [0x90, 60, 0]],
  ]);
  const bytes = writeMidiFile(recordingOf(log, plan, 2000).played);
  const { file, repairs } = readMidiFile(bytes);
  assert.deepEqual(repairs, []);
  assert.deepEqual(
    file.tracks[1]!.map(({ status }) => status),
    [0xff, 0xf0, 0xc0, 0x90, 0x90, 0xff],
  );
});

test('every stand-in, sent message by message and recorded to the click, is its schedule to a millisecond', () => {
  for (const standIn of STAND_INS) {
    const performance = standIn.play(standIn.defaults);
    const log = createLog();
    for (const { ms, bytes } of performanceMessages(performance))
      appendMessage(log, { ms: ms + 1000, bytes }, 0, STREAM.played);
    const { bpm, meter, bars } = performance;
    const take = takeFrom(recordingOf(log, { ...plan, bpm, meter, bars }, 1000).played);
    const ms = (tick: number, ppq: number) => (tick * 60_000) / bpm / ppq;
    const wanted = performance.parts.flatMap(({ notes, channel }) =>
      notes.map((note) => ({ ...note, channel })),
    );
    const key = (note: { pitch: number; channel: number; at: number }) =>
      note.channel * 1e9 + note.pitch * 1e6 + note.at;
    const recorded = [...Array(take.notes.length).keys()]
      .map((i) => ({
        pitch: take.notes.pitch[i]!,
        channel: take.notes.channel[i]!,
        at: ms(take.notes.tick[i]!, 960),
      }))
      .sort((a, b) => key(a) - key(b));
    const schedule = wanted
      .map((note) => ({ pitch: note.pitch, channel: note.channel, at: ms(note.tick, 480) }))
      .sort((a, b) => key(a) - key(b));
    assert.equal(recorded.length, schedule.length);
    recorded.forEach((note, i) =>
      assert.ok(
        note.pitch === schedule[i]!.pitch && Math.abs(note.at - schedule[i]!.at) <= 1,
        `${standIn.title} note ${i}`,
      ),
    );
  }
});
