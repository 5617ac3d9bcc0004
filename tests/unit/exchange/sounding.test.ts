import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { parseMidi } from 'midi-file';
import { readTakes } from '../../../src/core/capture/take.ts';
import type { HandOff, PhraseOut } from '../../../src/core/exchange/handoff.ts';
import { leavingPhrases } from '../../../src/core/exchange/leaving.ts';
import { OUT, PPQS_OUT } from '../../../src/core/exchange/out-options.ts';
import { playedText } from '../../../src/core/exchange/played.ts';
import { soundings } from '../../../src/core/exchange/sounding.ts';
import { parseKey } from '../../../src/core/music/key.ts';
import { clipFromPart, type Clip } from '../../../src/core/phrase/clip.ts';
import { splitTake } from '../../../src/core/split/split.ts';
import { barOf } from '../../support/clips.ts';
import { phraseOutOf } from '../../support/phrase-out.ts';

const handOff = (phrases: PhraseOut[], more: Partial<HandOff> = {}): HandOff => ({
  ...{ title: 'Barrow', pattern: '{name}', madeAt: '2026-01-01T00:00:00Z', layout: 'sections' },
  ...{ card: null, recipient: null, library: null, out: OUT, phrases },
  ...more,
});

const inC = (clip: Clip) => ({ ...clip, key: parseKey('C')! });
const tune = inC(barOf([[0, 480, 72], [480, 480, 76], [960, 960, 79]], { role: 'lead' })); // prettier-ignore
const changes = [
  { beat: 0, beats: 2, symbol: 'C', numeral: 'I' },
  { beat: 2, beats: 2, symbol: 'F', numeral: 'IV' },
];
const lead = phraseOutOf(tune, {
  ...{ name: 'Tune', purpose: 'verse', changes },
  sheaf: { id: 's', name: 'Sheaf' },
});
const bass = phraseOutOf(inC(barOf([[0, 1920, 36]], { role: 'bass' })), {
  ...{ id: 'p2', name: 'Low', sheaf: { id: 's', name: 'Sheaf' } },
});
const kit = phraseOutOf(barOf([[0, 100, 36]], { role: 'drums', channel: 9, key: null }), {
  ...{ id: 'p3', name: 'Kit', changes },
});

/** Pitch classes that are struck, by the channel, in a file. */
function pitchClasses(midi: Uint8Array): Map<number, Set<number>> {
  const found = new Map<number, Set<number>>();
  for (const event of parseMidi(midi).tracks.flat())
    if (event.type === 'noteOn' && event.velocity > 0)
      found.set(event.channel, (found.get(event.channel) ?? new Set()).add(event.noteNumber % 12));
  return found;
}

test('by section, files lie under what their bars are for; what is for nothing lies elsewhere', () => {
  assert.deepEqual(
    leavingPhrases(handOff([lead, bass])).map(({ path }) => path),
    ['verse/Tune.mid', 'elsewhere/Low.mid'],
  );
});

test('a bed of chords is in the preview of a pitched phrase alone, on a channel of its own', () => {
  const given = handOff([lead, kit]);
  const leaving = leavingPhrases(given);
  const [with_, kitHeard] = soundings(given, leaving, { sums: false, beds: true });
  const [without] = soundings(given, leaving, { sums: false, beds: false });
  assert.deepEqual([...pitchClasses(without!.midi).keys()], [0]);
  const channels = pitchClasses(with_!.midi);
  assert.deepEqual([...channels.keys()].sort(), [0, 1]);
  // C major and F major: C, E, F, G, A.
  assert.deepEqual(
    [...channels.get(1)!].sort((a, b) => a - b),
    [0, 4, 5, 7, 9],
  );
  assert.deepEqual([...pitchClasses(kitHeard!.midi).keys()], [9], 'a kit has none');
  assert.deepEqual([...pitchClasses(leaving[0]!.bytes).keys()], [0], 'nor has the file');
});

test('what sounds together has previews where they are wanted, a plain pack with its sounds', () => {
  const given = handOff([lead, bass, kit], { out: { ...OUT, sounds: 'plain', countIn: 2 } });
  const leaving = leavingPhrases(given);
  const paths = (sums: boolean) => soundings(given, leaving, { sums, beds: false }).map(({ path }) => path);
  assert.equal(paths(false).length, 3);
  assert.deepEqual(paths(true).slice(3), ['together/Barrow.mid', 'together/Sheaf.mid']);
  const sum = soundings(given, leaving, { sums: true, beds: false }).at(-1)!;
  assert.ok(parseMidi(sum.midi).tracks.flat().some(({ type }) => type === 'programChange')); // prettier-ignore
  assert.equal(readTakes(sum.midi)[0]!.notes.tick[0], 0, 'nobody counts in to a preview');
});

test('a pickup is said in the name, whatever the pattern, and no name with its ending is longer than 120', () => {
  const led = { ...lead, name: 'x'.repeat(300), clip: { ...tune, pickup: 1920, length: 3840 } };
  const names = leavingPhrases(handOff([led, led, { ...led, name: 'Ferry' }], { layout: 'flat' })).map(
    ({ path }) => path,
  );
  assert.ok(names.every((name) => name.length <= 120));
  assert.equal(new Set(names).size, 3);
  assert.equal(names[2], 'Ferry_pickup.mid');
  assert.ok(names.every((name) => /_pickup(-\d+)?\.mid$/.test(name)));
});

test('what is played is told alike, in whatever format and resolution that divides it was saved', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.record({ at: fc.nat(40), length: fc.integer({ min: 1, max: 8 }), pitch: fc.integer({ min: 30, max: 90 }) }), // prettier-ignore
        { minLength: 1, maxLength: 20 },
      ),
      fc.constantFrom(...PPQS_OUT),
      fc.constantFrom(0 as const, 1 as const),
      (notes, ppq, format) => {
        // Sixteenths, which every resolution has; one of a pitch at a time.
        const free = notes.filter(
          ({ at, length, pitch }, i) =>
            !notes.slice(0, i).some((one) => one.pitch === pitch && one.at < at + length && at < one.at + one.length), // prettier-ignore
        );
        const clip = inC(barOf(free.map(({ at, length, pitch }) => [at * 120, length * 120, pitch]), { role: 'keys' })); // prettier-ignore
        const sorted = { ...clip, length: 1920 * 4, notes: [...clip.notes].sort((a, b) => a.tick - b.tick) };
        const out = { ...OUT, ppq, format, as: 'each' as const };
        const [left] = leavingPhrases(handOff([phraseOutOf(sorted)], { out }));
        const [take] = readTakes(left!.bytes);
        const back = clipFromPart(take!, splitTake(take!), 0, null);
        assert.equal(playedText(back), playedText(sorted));
        const [first] = sorted.notes;
        const moved = {
          ...sorted,
          notes: [{ ...first!, pitch: first!.pitch + 1 }, ...sorted.notes.slice(1)],
        };
        assert.notEqual(playedText(moved), playedText(sorted));
      },
    ),
  );
});
