import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { parseMidi } from 'midi-file';
import { readTakes } from '../../../src/core/capture/take.ts';
import { BLANK_CARD } from '../../../src/core/exchange/card.ts';
import type { HandOff, PhraseOut } from '../../../src/core/exchange/handoff.ts';
import { leavingClip, leavingPhrases } from '../../../src/core/exchange/leaving.ts';
import { outFiles } from '../../../src/core/exchange/out-files.ts';
import { KITS_OUT, OUT, PPQS_OUT, type OutOptions } from '../../../src/core/exchange/out-options.ts';
import { leavesAs, leavingOwn, ownOutSchema, type OwnOut } from '../../../src/core/exchange/own-out.ts';
import { readableNote } from '../../../src/core/exchange/read-me.ts';
import { bpmOfClip } from '../../../src/core/phrase/clip.ts';
import { scoped } from '../../../src/core/exchange/scope.ts';
import { parseKey } from '../../../src/core/music/key.ts';
import { asChosen, keyOfProject, leavesIn, KEY_CHOICES } from '../../../src/core/reuse/in-project.ts';
import { barOf, clipArbitrary } from '../../support/clips.ts';
import { phraseOutOf } from '../../support/phrase-out.ts';

const handOff = (phrases: PhraseOut[], out: Partial<OutOptions> = {}): HandOff => ({
  ...{
    title: 'Barrow',
    pattern: '{name}',
    madeAt: '2026-01-01T00:00:00Z',
    layout: 'flat',
    card: null,
    recipient: null,
    library: null,
  },
  out: { ...OUT, as: 'each', ...out },
  phrases,
});

const kit = phraseOutOf(
  barOf([[0, 100, 36], [0, 100, 42], [960, 100, 38], [960, 100, 42], [1920, 100, 36]], { role: 'drums', channel: 9, key: null }), // prettier-ignore
  { name: 'Kit' },
);

const keys = phraseOutOf({ ...barOf([[0, 960, 60], [960, 960, 64]], { role: 'keys' }), key: parseKey('C')! }); // prettier-ignore

/** Notes of a file, each as tick, length, pitch and velocity, by a reader that is not ours. */
function notesOf(bytes: Uint8Array): string[] {
  const { tracks } = parseMidi(bytes);
  return tracks
    .flatMap((track) => {
      let tick = 0;
      const open: { pitch: number; velocity: number; tick: number; channel: number }[] = [];
      const closed: string[] = [];
      for (const event of track) {
        tick += event.deltaTime;
        if (event.type === 'noteOn' && event.velocity > 0)
          open.push({ tick, pitch: event.noteNumber, velocity: event.velocity, channel: event.channel });
        else if (event.type === 'noteOff' || event.type === 'noteOn') {
          const at = open.findIndex((one) => one.pitch === event.noteNumber && one.channel === event.channel);
          const [one] = open.splice(at, 1);
          closed.push(`${one!.tick} ${tick - one!.tick} ${one!.pitch} ${one!.velocity}`);
        }
      }
      assert.deepEqual(open, [], 'no note hangs');
      return closed;
    })
    .sort();
}

test('in format 0 and 1 and at each resolution: the same notes, ticks exact where the resolution divides', () => {
  fc.assert(
    fc.property(clipArbitrary, fc.constantFrom(...PPQS_OUT), (clip, ppq) => {
      const [one, two] = ([0, 1] as const).map((format) => {
        const [file] = leavingPhrases(handOff([phraseOutOf(clip)], { format, ppq }));
        assert.equal(parseMidi(file!.bytes).header.format, format);
        assert.equal(parseMidi(file!.bytes).header.ticksPerBeat, ppq);
        return file!;
      });
      const { clip: leaving } = leavingClip(phraseOutOf(clip), { out: { ...OUT, ppq }, card: null }, ppq);
      // Format 0 has one track: what overlaps at one pitch pairs otherwise there, which the checks tell.
      const struck = (file: typeof one) => notesOf(file!.bytes).map((note) => note.split(' ').filter((_, i) => i !== 1).join()); // prettier-ignore
      const wanted = leaving.notes.map(({ tick, pitch, velocity }) => [tick, pitch, velocity].join()).sort();
      assert.deepEqual(struck(two).sort(), wanted);
      assert.deepEqual(struck(one).sort(), wanted);
    }),
  );
});

test('a kit leaves whole, a track a piece, or a file a piece: each hit once', () => {
  const files = KITS_OUT.map((how) => leavingPhrases(handOff([kit], { kit: how })));
  const [whole, tracks, pieces] = files.map((one) => one.flatMap(({ bytes }) => notesOf(bytes)).sort());
  assert.deepEqual(tracks, whole);
  assert.deepEqual(pieces, whole);
  assert.deepEqual(
    files[2]!.map(({ path }) => path),
    ['Kit-kick.mid', 'Kit-snare.mid', 'Kit-closed-hat.mid'],
  );
  const names = parseMidi(files[1]![0]!.bytes).tracks.map(
    (track) => track.find((event) => event.type === 'trackName')?.text,
  );
  assert.deepEqual(names.slice(1), ['Kit, kick', 'Kit, snare', 'Kit, closed hat']);
});

test("a kit is taken apart by its pieces, whatever keys they go to on somebody's card", () => {
  const card = { ...BLANK_CARD, drumMap: [[36, 42], [42, 36]] as [number, number][] }; // prettier-ignore
  const files = leavingPhrases({ ...handOff([kit], { kit: 'files', fitting: 'card' }), card });
  assert.deepEqual(
    files.map(({ path, clip }) => [path, [...new Set(clip.notes.map(({ pitch }) => pitch))]]),
    [['Kit-kick.mid', [42]], ['Kit-snare.mid', [38]], ['Kit-closed-hat.mid', [36]]], // prettier-ignore
  );
});

test('a count-in is empty bars before everything else; bar one says so', () => {
  const [plain, counted] = [0, 2].map((countIn) => leavingPhrases(handOff([keys], { countIn }))[0]!.bytes);
  const ticks = (bytes: Uint8Array) => notesOf(bytes).map((note) => Number(note.split(' ')[0]));
  assert.deepEqual(
    ticks(counted!),
    ticks(plain!).map((tick) => tick + 2 * 4 * 480),
  );
  assert.deepEqual(
    readTakes(counted!)[0]!.timing.markers.map(({ tick, text }) => [tick, text]),
    [[0, 'count-in'], [3840, 'bar 1']], // prettier-ignore
  );
});

test('which controllers travel: all, pedal and bend, none; the place of a sound goes with the sound', () => {
  const control = (kind: number, data1: number) => ({ tick: 0, kind, data1, data2: 90 });
  const clip = { ...keys.clip, controls: [control(0xb0, 1), control(0xb0, 64), control(0xe0, 0), control(0xb0, 7), control(0xd0, 3)] }; // prettier-ignore
  const left = (out: Partial<OutOptions>) =>
    leavingClip({ clip, fitting: {} }, { out: { ...OUT, ...out }, card: null }, 480).clip.controls.map(
      ({ kind, data1 }) => `${kind.toString(16)} ${data1}`,
    );
  assert.deepEqual(left({}), ['b0 1', 'b0 64', 'e0 0', 'b0 7', 'd0 3']);
  assert.deepEqual(left({ controllers: 'pedal and bend' }), ['b0 64', 'e0 0', 'b0 7']);
  assert.deepEqual(left({ controllers: 'none' }), ['b0 7']);
  assert.deepEqual(left({ controllers: 'none', sounds: 'plain' }), []);
});

test('chords leave as texts in the key that they leave in', () => {
  const changes = [
    { beat: 0, beats: 2, symbol: 'Am', numeral: 'vi' },
    { beat: 2, beats: 2, symbol: 'F/C', numeral: 'IV' },
  ];
  const moved = phraseOutOf({ ...keys.clip, key: parseKey('D')! }, { changes, capturedKey: parseKey('C')! });
  const texts = (markers: boolean) =>
    readTakes(leavingPhrases(handOff([moved], { markers }))[0]!.bytes)[0]!.timing.markers;
  assert.deepEqual(
    texts(true).map(({ tick, text }) => [tick, text]),
    [[0, 'Bm'], [960, 'G/D']], // prettier-ignore
  );
  assert.deepEqual(texts(false), []);
});

test('four neighboring stretches chosen first to last are one file, and its notes are those of the whole', () => {
  const long = phraseOutOf({
    ...keys.clip,
    length: 4 * 1920,
    notes: [0, 1, 2, 3].flatMap(
      (bar) =>
      [0, 1].map((beat) => ({ tick: bar * 1920 + beat * 960, duration: 900, pitch: 60 + bar, velocity: 90, release: 64, origin: bar * 2 + beat })), // prettier-ignore
    ),
  });
  const whole = leavingPhrases(handOff(scoped([long], { bars: { from: 1, to: 4 }, parts: null })));
  assert.equal(whole.length, 1);
  assert.deepEqual(notesOf(whole[0]!.bytes), notesOf(leavingPhrases(handOff([long]))[0]!.bytes));
  const middle = scoped([long], { bars: { from: 2, to: 3 }, parts: null })[0]!;
  assert.deepEqual([middle.bars, middle.source.startBar, middle.clip.length], [2, 2, 2 * 1920]);
  assert.deepEqual(
    middle.clip.notes.map(({ tick, pitch }) => [tick, pitch]),
    [[0, 61], [960, 61], [1920, 62], [2880, 62]], // prettier-ignore
  );
});

test('a part that rests in the chosen bars has no file', () => {
  const long = phraseOutOf({ ...keys.clip, length: 4 * 1920 });
  assert.deepEqual(scoped([long], { bars: { from: 3, to: 4 }, parts: null }), []);
});

test('the stretches of a clip, one after another, hold each of its notes once', () => {
  fc.assert(
    fc.property(clipArbitrary, (clip) => {
      const phrase = phraseOutOf({ ...clip, pickup: 0 });
      const pieces = Array.from({ length: phrase.bars }, (_, i) =>
        scoped([phrase], { bars: { from: i + 1, to: i + 1 }, parts: null }),
      ).flat();
      const within = clip.notes.filter(({ tick }) => tick < clip.length).length;
      assert.equal(
        pieces.reduce((sum, one) => sum + one.clip.notes.length, 0),
        within,
      );
    }),
  );
});

test('key and tempo in which something leaves are known without its notes', () => {
  const project = { keyTonic: 7, keyMode: 'major' as const, bpm: 100 };
  assert.deepEqual(keyOfProject(project), parseKey('G'));
  fc.assert(
    fc.property(
      fc.constantFrom('C', 'Am', 'D dorian', 'F lydian'),
      fc.constantFrom('C', 'Em', 'Bb', 'F#m'),
      fc.constantFrom(...KEY_CHOICES),
      fc.constantFrom(project, null),
      (kept, captured, choice, given) => {
        const key = parseKey(kept)!;
        const takeKey = parseKey(captured)!;
        const clip = { ...keys.clip, key };
        const left = asChosen(clip, takeKey, choice, given);
        assert.deepEqual(leavesIn({ key, takeKey, bpm: 120 }, choice, given).key, left.key);
      },
    ),
  );
});

test('a way of its own goes before that of the rest: on a tonic, at one tempo, plain; the table knows it without the notes', () => {
  const project = { keyTonic: 7, keyMode: 'major' as const, bpm: 100 };
  fc.assert(
    fc.property(
      fc.constantFrom('C', 'Am', 'D dorian'),
      fc.constantFrom('Em', 'Bb', 'F#m'),
      fc.constantFrom(...KEY_CHOICES),
      fc.constantFrom(undefined, ...KEY_CHOICES, 'Eb', 'F#', 'A'),
      fc.constantFrom(undefined, 72, 118),
      (kept, captured, rest, key, bpm) => {
        const clip = { ...keys.clip, key: parseKey(kept)! };
        const way = { takeKey: parseKey(captured)!, key: rest, project };
        const own = { key, bpm };
        const left = leavingOwn(clip, own, way);
        const told = leavesAs({ key: clip.key, bpm: bpmOfClip(clip) }, own, way);
        assert.deepEqual(told.key, left.key);
        assert.equal(Math.round(told.bpm), Math.round(bpmOfClip(left)));
        if (key && parseKey(key)) assert.equal(left.key!.tonic, parseKey(key)!.tonic);
        if (key === undefined && bpm === undefined)
          assert.deepEqual(left, asChosen(clip, way.takeKey, rest, project));
      },
    ),
  );
  const fitting = { velocity: { loud: 0.4 } };
  const loud = (own?: OwnOut) =>
    leavingPhrases(handOff([{ ...keys, fitting, ...(own ? { own } : {}) }]))[0]!.clip.notes[0]!.velocity;
  assert.ok(loud() < loud({ fitting: 'plain' }));
  assert.throws(() => ownOutSchema.validateSync({ key: 'H' }), /tonic such as Eb/);
});

test('files lie in folders by the headings of their basket; none takes the place of what is together', () => {
  const under = (heading: string) => ({ ...keys, ...(heading ? { heading } : {}) });
  const out = {
    ...handOff(['', 'Act 1: quay', 'Together'].map(under), { as: 'both' }),
    layout: 'headings' as const,
  };
  const { each, together } = outFiles(out);
  assert.deepEqual(
    each.map(({ path }) => path),
    ['Barrow.mid', 'Act-1-quay/Barrow-2.mid', 'Together-phrases/Barrow-3.mid'],
  );
  assert.deepEqual(together.map(({ path }) => path), ['together/Barrow.mid']); // prettier-ignore
  const note = readableNote(out, leavingPhrases(out));
  assert.match(note, /\nAct 1: quay\n-----------\n\nAct-1-quay\/Barrow-2\.mid/);
});

test('what a table says of the files is what is in them', () => {
  const { each, together } = outFiles(handOff([keys, kit], { as: 'both' }));
  for (const { bytes, told } of [...each, ...together]) assert.equal(notesOf(bytes).length, told.notes);
  assert.deepEqual(
    together.map(({ path, told }) => [path, told.notes]),
    [['Barrow_all.mid', 7]], // prettier-ignore
  );
});
