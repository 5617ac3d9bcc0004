import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import {
  alone,
  besidePins,
  changedAtBar,
  pinsOf,
  triedLayer,
  type HowHeard,
  type Listening,
} from '../../../src/sound/arrange.ts';
import { messagesOfLayers, nextMoment, speedAt, type Layer } from '../../../src/sound/layers.ts';
import { messagesDue, nextBarLine, soundProgram, type Playing } from '../../../src/sound/program.ts';
import { BLANK_CARD } from '../../../src/core/exchange/card.ts';
import { barOf } from '../../support/clips.ts';

/** 120 BPM: a bar of 4/4 lasts two seconds. */
const BAR = 2;

const heard = (change: Partial<HowHeard> = {}): HowHeard => ({
  ...{ tempo: null, sound: null, loop: true, project: null, inProject: false, throughChords: false },
  ...{ pins: [], fittedFor: 'none' },
  ...change,
});

const tried = (id: string, pitch: number, role: 'keys' | 'bass' = 'keys'): Listening => ({
  ...{ id, title: id, subtitle: '' },
  lanes: [
    {
      id,
      clip: barOf(
        [
          [0, 480, pitch],
          [960, 1400, pitch + 4],
        ],
        { role },
      ),
    },
  ],
});

const pin = {
  id: 'pin',
  title: 'Pin',
  clip: barOf(
    [
      [0, 960, 36],
      [960, 960, 43],
    ],
    { role: 'bass' },
  ),
};

const isOn = (bytes: readonly number[]) => bytes[0]! >> 4 === 9;
const isOff = (bytes: readonly number[]) => bytes[0]! >> 4 === 8;

const start = (first = tried('a', 60)) => besidePins(first, heard({ pins: [pin] }));

/** What the player does: the old one ends at the line, the next begins there. */
function changeTo(layers: Layer[], next: Listening, channel: number, at: number): Layer[] {
  for (const layer of layers) if (!layer.isPin && layer.until > at) layer.until = at;
  return [...layers, triedLayer(next, 120, heard(), channel, at)];
}

// Check values of the design (library.md, "By ear").
test('a bar lasts 2.667 s at 90 BPM in 4/4, and 2.034 s at 118', () => {
  for (const [tempo, seconds] of [
    [90, 2.667],
    [118, 2.034],
  ] as const)
    assert.equal(
      Math.round(besidePins(tried('a', 60), heard({ pins: [pin], tempo })).bar * 1000) / 1000,
      seconds,
    );
});

test('what is tried begins on the line, what was tried ends on it, and the pins go on as if nothing were', () => {
  const { layers } = start();
  const alone = messagesOfLayers(
    layers.filter(({ isPin }) => isPin),
    0,
    4 * BAR,
  );
  const all = messagesOfLayers(changeTo(layers, tried('b', 72), 13, BAR), 0, 4 * BAR);
  const ofPin = all.filter(({ lane }) => lane === 'pin');
  assert.deepEqual(ofPin, alone);
  const b = all.filter(({ lane, bytes }) => lane === 'b' && isOn(bytes));
  assert.equal(b[0]!.seconds, BAR);
  const a = all.filter(({ lane }) => lane === 'a');
  assert.ok(a.every(({ seconds }) => seconds <= BAR));
  assert.equal(a.filter(({ bytes }) => isOn(bytes)).length, a.filter(({ bytes }) => isOff(bytes)).length);
});

test('a pin of the role that is tried is silent meanwhile, and plays again after it', () => {
  const { layers } = start(tried('a', 40, 'bass'));
  const messages = messagesOfLayers(changeTo(layers, tried('b', 60), 13, 2 * BAR), 0, 4 * BAR);
  const pinned = messages
    .filter(({ lane, bytes }) => lane === 'pin' && isOn(bytes))
    .map(({ seconds }) => seconds);
  assert.deepEqual(pinned, [4, 5, 6, 7]);
});

test('200 changes in a row leave no hanging note, whenever they come and however they are asked for', () => {
  const gaps = fc.array(fc.double({ min: 0.01, max: 3, noNaN: true }), { minLength: 200, maxLength: 200 });
  fc.assert(
    fc.property(gaps, fc.constantFrom('bar' as const, 'once' as const), (waits, change) => {
      let { layers } = start();
      const sounding = new Map<string, number>();
      const hear = (from: number, to: number) => {
        for (const { bytes, seconds } of messagesOfLayers(layers, from, to)) {
          assert.ok(seconds >= from && seconds < to);
          const key = `${bytes[0]! & 15} ${bytes[1]}`;
          if (isOn(bytes)) sounding.set(key, (sounding.get(key) ?? 0) + 1);
          else if (isOff(bytes)) sounding.delete(key);
        }
      };
      let [now, channel] = [0, 13];
      waits.forEach((wait, k) => {
        const at = nextMoment(change, now, { bar: BAR, round: BAR, ahead: 0.06 });
        layers = changeTo(layers, tried(`c${k}`, 50 + (k % 30)), channel, at);
        channel = 25 - channel;
        hear(now, now + wait);
        now += wait;
        layers = layers.filter(({ until }) => until >= now);
      });
      for (const layer of layers) layer.until = Math.min(layer.until, now + 1);
      hear(now, now + 2);
      assert.deepEqual([...sounding], []);
    }),
    { numRuns: 20 },
  );
});

test('however the time is cut, each message is due once, at the same moment, and none at the end of what it belongs to or later', () => {
  const moment = fc.double({ min: 0, max: 8, noNaN: true });
  // Ends that a rounding away from a stroke of the phrase are the hard ones.
  const hard = fc
    .tuple(moment, fc.integer({ min: 0, max: 4 }))
    .map(([from, beats]) => [from, from + beats + Number.EPSILON * from] as const);
  fc.assert(
    fc.property(hard, fc.array(moment, { maxLength: 30 }), ([from, until], cuts) => {
      const layer = { ...triedLayer(tried('a', 60), 120, heard(), 13, from), until };
      const whole = messagesOfLayers([layer], 0, 20);
      const edges = [0, from, until, ...cuts, 20].sort((a, b) => a - b);
      const pieces = edges.slice(1).flatMap((to, k) => messagesOfLayers([layer], edges[k]!, to));
      assert.deepEqual(pieces, whole);
      for (const { bytes, seconds } of whole) if (isOn(bytes)) assert.ok(seconds >= from && seconds < until);
    }),
    { numRuns: 500 },
  );
});

test('the next moment is a line that is still to be reached', () => {
  fc.assert(
    fc.property(
      fc.double({ min: 0, max: 500, noNaN: true }),
      fc.constantFrom('bar' as const, 'round' as const),
      (now, change) => {
        const at = nextMoment(change, now, { bar: BAR, round: 4 * BAR, ahead: 0.06 });
        const every = change === 'bar' ? BAR : 4 * BAR;
        assert.ok(at >= now + 0.06 - 1e-6 && at < now + 0.06 + every + 1e-6);
        assert.ok(Math.abs(at / every - Math.round(at / every)) < 1e-9);
      },
    ),
  );
});

test('above 1.41 and below 0.71 times its tempo a phrase is heard in half or double time', () => {
  assert.deepEqual(speedAt(100, 140), { speed: 1.4, time: 'own' });
  assert.deepEqual(speedAt(100, 150), { speed: 0.75, time: 'half' });
  assert.deepEqual(speedAt(100, 70), { speed: 1.4, time: 'double' });
});

test('what is tried is heard at the level of its role: the louder does not win', () => {
  const at = (velocity: number) => {
    const { notes, ...clip } = barOf([[0, 480, 60]], { role: 'keys' });
    const struck = { ...clip, notes: notes.map((note) => ({ ...note, velocity })) };
    const quiet = { ...tried('a', 60), lanes: [{ id: 'a', clip: struck }] };
    const { layers } = besidePins(quiet, heard({ pins: [pin] }));
    return messagesOfLayers(layers, 0, 1).find(({ lane, bytes }) => lane === 'a' && isOn(bytes))!.bytes[2];
  };
  assert.equal(at(20), at(120));
});

test("what has chords is heard through the project's, at its tempo; what has none is moved into its key", () => {
  const project = { name: 'Ferry', keyTonic: 9, keyMode: 'minor' as const, bpm: 90, chords: 'Am | Dm' };
  const chord = barOf(
    [60, 64, 67].map((pitch) => [0, 1900, pitch] as const),
    { key: { tonic: 0, mode: 'major' } },
  );
  const through = heard({ project, inProject: true, throughChords: true });
  const pitchesOf = (lane: Listening['lanes'][number], how: HowHeard) => {
    const { program } = triedLayer({ ...tried('a', 60), lanes: [lane] }, 90, how, 8, 0);
    const on = program.messages.filter(({ bytes }) => isOn(bytes));
    return [0, 1].map((bar) =>
      on
        .filter(({ tick }) => Math.floor(tick / 1920) === bar)
        .map(({ bytes }) => bytes[1]! % 12)
        .sort((a, b) => a - b),
    );
  };
  assert.deepEqual(pitchesOf({ id: 'a', clip: chord, over: 'C' }, through), [
    [0, 4, 9],
    [2, 5, 9],
  ]);
  // The relative of A minor: not moved.
  assert.deepEqual(pitchesOf({ id: 'a', clip: chord }, through), [[0, 4, 7], []]);
  assert.deepEqual(pitchesOf({ id: 'a', clip: chord, over: 'C' }, { ...through, throughChords: false }), [
    [0, 4, 7],
    [],
  ]);
});

test('the next bar line: in a loop of three bars, in a pass that began in the middle, at another speed', () => {
  const { clip } = tried('a', 60).lanes[0]!;
  const program = soundProgram([{ id: 'a', clip: { ...clip, length: 3 * 1920 } }]);
  const next = (seconds: number, playing: Partial<Playing> = {}) =>
    nextBarLine(program, { speed: 1, loop: true, fromTick: 0, ...playing }, seconds);
  assert.deepEqual(next(0), { seconds: 0, tick: 0 });
  assert.deepEqual(next(0.5), { seconds: BAR, tick: 1920 });
  assert.deepEqual(next(2 * BAR + 0.1), { seconds: 3 * BAR, tick: 0 });
  assert.deepEqual(next(4 * BAR + 0.1), { seconds: 5 * BAR, tick: 2 * 1920 });
  assert.deepEqual(next(0.1, { fromTick: 960 }), { seconds: BAR / 2, tick: 1920 });
  assert.deepEqual(next(0.5, { speed: 2 }), { seconds: BAR / 2, tick: 1920 });
});

test('property: what sounds alone and is changed goes on from the bar line as the new version has it, and no note hangs', () => {
  const bars = (pitch: number): Listening => ({
    ...{ id: 'weave', title: 'x', subtitle: '' },
    lanes: [0, 1].map((k) => ({
      id: `lane ${k}`,
      clip: {
        ...barOf(
          Array.from(
            { length: 9 },
            (_, n) => [n * 640, 900, pitch + 12 * k + (n % 5)] as [number, number, number],
          ),
          { role: 'keys' },
        ),
        length: 3 * 1920,
      },
    })),
  });
  const waits = fc.array(fc.double({ min: 0.01, max: 3, noNaN: true }), { minLength: 1, maxLength: 40 });
  fc.assert(
    fc.property(waits, fc.nat(3 * 1920 - 1), (gaps, fromTick) => {
      let { layers } = alone(bars(40), heard(), fromTick);
      const sounding = new Set<string>();
      let now = 0;
      const hear = (to: number) => {
        const due = messagesOfLayers(layers, now, to);
        for (const { bytes } of due) {
          const key = `${bytes[0]! & 15} ${bytes[1]}`;
          if (isOn(bytes)) sounding.add(key);
          else if (isOff(bytes)) sounding.delete(key);
        }
        now = to;
        return due;
      };
      gaps.forEach((gap, k) => {
        hear(now + gap);
        const begun = layers.filter(({ from, until }) => from <= now && until > now);
        const changed = changedAtBar(begun.at(-1)!, bars(41 + (k % 20)), heard(), { now, ahead: 0.06 });
        assert.equal(changed.length, 2);
        const [{ until }, next] = changed as [Layer, Layer];
        assert.equal(until, next.from);
        assert.ok(until >= now + 0.06 - 1e-5 && until <= now + BAR + 0.06 + 1e-5);
        assert.equal(next.playing.fromTick % 1920, 0);
        layers = [...begun.slice(0, -1), ...changed];
      });
      // From the line on it is the new version, note for note.
      const last = layers.at(-1)!;
      const expected = messagesDue(last.program, last.playing, 0, 2 * BAR);
      hear(last.from);
      const due = hear(last.from + 2 * BAR);
      const notes = (list: typeof due) =>
        list.filter(({ bytes }) => isOn(bytes)).map(({ bytes }) => bytes.join());
      assert.deepEqual(notes(due), notes(expected));
      for (const layer of layers) layer.until = Math.min(layer.until, now + 0.5);
      hear(now + 1);
      assert.deepEqual([...sounding], []);
    }),
    {
      numRuns: 60,
      // A line that lay a tick behind was taken for the next one.
      examples: [[[0.01795703065841997, 0.7024896183449993, 1.309161234522126, 0.9091290781908075, 0.19930294795469575, 1.5342714423619261, 0.040605315633692296], 3098]], // prettier-ignore
    },
  );
});

test('what is heard is plain, fitted to its own sound, or as somebody has it, in milliseconds of the tempo it is heard at', () => {
  const clip = barOf([[480, 240, 60], [960, 240, 64]], { role: 'strings' }); // prettier-ignore
  const late: Listening = {
    ...{ id: 'late', title: 'Late', subtitle: '' },
    lanes: [
      { id: 'late', clip, fitting: { shift: { ms: -50, early: 'hold' }, velocity: { loud: 0.5, range: 1 } } },
    ],
  };
  const strings = {
    id: 'somebody',
    name: 'Somebody',
    card: { ...BLANK_CARD, roles: { strings: { ms: -100, loud: 0.6 } } },
  };
  const onsets = (change: Partial<HowHeard>) => {
    const { layers } = alone(late, heard(change), 0);
    return messagesOfLayers(layers, 0, BAR).flatMap(({ bytes, seconds }) =>
      isOn(bytes) && bytes[2]! > 0 ? [[seconds, bytes[2]!] as const] : [],
    );
  };
  const plain = onsets({});
  const own = onsets({ fittedFor: 'own' });
  const theirs = onsets({ fittedFor: strings });
  assert.deepEqual([plain.length, own.length, theirs.length], [2, 2, 2]);
  for (let k = 0; k < 2; k++) {
    assert.ok(Math.abs(plain[k]![0] - own[k]![0] - 0.05) < 0.003, 'fifty milliseconds earlier');
    // What the card says of a role stands in the place of the phrase's own fitting (the specification).
    assert.ok(
      Math.abs(plain[k]![0] - theirs[k]![0] - 0.1) < 0.003,
      'a hundred: the usual of slow strings, common practice',
    );
    assert.ok(own[k]![1] < plain[k]![1]);
  }
  const project = {
    name: 'Half',
    bpm: 60,
    keyTonic: null,
    keyMode: null,
    meterNumerator: 4,
    meterDenominator: 4,
  };
  const slow = { project, inProject: true };
  const [there] = onsets(slow);
  const [fittedThere] = onsets({ ...slow, fittedFor: 'own' });
  assert.ok(Math.abs(there![0] - fittedThere![0] - 0.05) < 0.003, 'at another tempo, too');
});

test('what is pinned by being heard does not sound twice when it is heard again; a phrase is one wherever it is', () => {
  const take: Listening = {
    ...{ id: 'take 1', title: 'Quay', subtitle: '' },
    lanes: [tried('p1', 60).lanes[0]!, tried('p2', 40, 'bass').lanes[0]!],
  };
  const pins = pinsOf(take);
  assert.deepEqual(
    pins.map(({ id, title }) => [id, title]),
    [['take 1 p1', 'Quay, keys'], ['take 1 p2', 'Quay, bass']], // prettier-ignore
  );
  const again = besidePins({ ...take, lanes: take.lanes.slice(0, 1) }, heard({ pins }));
  assert.deepEqual(again.layers.map(({ id }) => id), ['take 1 p2', 'take 1']); // prettier-ignore
  // Parts of another take are others, though they are called alike.
  assert.equal(besidePins({ ...take, id: 'take 2' }, heard({ pins })).layers.length, 3);
  const phrase = { ...tried('one', 60), id: 'phrase one' };
  assert.deepEqual(pinsOf(phrase).map(({ id }) => id), ['one']); // prettier-ignore
});
