import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { basename } from 'node:path';
import { test } from 'node:test';
import { readTakes, takeFrom, type Take } from '../../../src/core/capture/take.ts';
import { channelEvent, META, metaEvent } from '../../../src/core/midi/smf.ts';
import { encodeText } from '../../../src/core/midi/text.ts';
import { isClick } from '../../../src/core/split/click.ts';
import { guessDrumMap } from '../../../src/core/split/drum-map.ts';
import { keySwitches } from '../../../src/core/split/key-switches.ts';
import { applyMoves } from '../../../src/core/split/moves.ts';
import { acceptAll, isMend, proposalsFor, type Proposal } from '../../../src/core/split/proposals.ts';
import { sliceCycle } from '../../../src/core/split/slices.ts';
import { partNotes, splitTake } from '../../../src/core/split/split.ts';
import { tallyOf } from '../../../src/core/split/tally.ts';
import { band } from '../../../src/core/standins/band.ts';
import type { Mishap } from '../../../src/core/standins/mishaps.ts';
import { performanceFile } from '../../../src/core/standins/performance.ts';
import { strummer } from '../../../src/core/standins/strummer.ts';
import { kitFindings } from '../../../bench/accuracy/kits.ts';
import { rolesHidden, rolesTold } from '../../../bench/accuracy/roles.ts';
import { partsAccuracy } from '../../../bench/accuracy/parts.ts';
import { takeOf, trackOf, type NoteSpec } from '../../support/midi.ts';
import { openmsxFiles, withoutOpenmsx } from '../../support/openmsx.ts';

const all = (take: Take) => [...Array(take.notes.length).keys()];
const named = (name: string) => metaEvent(0, META.trackName, encodeText(name));
const proposed = (take: Take) => proposalsFor(take, splitTake(take));
const kinds = (proposals: readonly Proposal[]) => proposals.map(({ kind }) => kind);
const bandTake = (mishaps: Mishap[], seed = 3) =>
  takeFrom(performanceFile(band.play({ ...band.defaults, seed }, mishaps)));

test('a clean band has nothing to look at', () => {
  assert.deepEqual(kinds(proposed(bandTake([]))), []);
});

test('each mishap of Split is proposed, in words, with a certainty and a reason', () => {
  const expected: [Mishap, Proposal['kind'], RegExp][] = [
    ['pieces', 'merge', /^2 tracks of one bass, never together: merge\?$/],
    ['drumChannel', 'kit', /"Kit" on channel 1 is a drum kit/],
    ['oneTrack', 'mixedKit', /A drum kit of \d+ notes among those of/],
    ['doubled', 'doubled', /notes of 5 parts came twice/],
    ['click', 'click', /"Click" is a click/],
    ['layered', 'layered', /"Pad layer" plays the notes of "Pad"/],
  ];
  for (const [mishap, kind, text] of expected) {
    const found = proposed(bandTake([mishap])).find((proposal) => proposal.kind === kind);
    assert.ok(found, mishap);
    assert.match(found.text, text);
    assert.ok(found.why.length > 20 && found.certainty > 0.5 && found.certainty <= 1);
    assert.ok(found.ways.length > 0);
  }
});

test('all accepted, six mishaps become clean parts in one move; layers are an offer and stay', () => {
  const take = bandTake(['pieces', 'drumChannel', 'doubled', 'click', 'layered', 'tailBars']);
  const first = splitTake(take);
  const move = acceptAll(take, first)!;
  const split = applyMoves(first, take.notes, [move]);
  const tally = tallyOf(split);
  const playing = split.parts.filter((_, i) => tally.parts[i]! > 0);
  assert.deepEqual(
    playing.map(({ name, channel }) => [name, channel]),
    [
      ['Kit', 9],
      ['Bass', 1],
      ['Keys', 2],
      ['Guitar', 3],
      ['Pad', 4],
      ['Pad layer', 5],
    ],
  );
  assert.deepEqual([...new Set(split.setAside.map(({ reason }) => reason))].sort(), ['click', 'doubled']);
  assert.ok(tally.balanced);
  const left = proposalsFor(take, split);
  assert.deepEqual(kinds(left), ['layered']);
  assert.ok(!isMend(left[0]!));
  assert.equal(acceptAll(take, split), null);
});

test('what is refused is not proposed again, until the refusal is taken back', () => {
  const take = bandTake(['drumChannel']);
  const first = splitTake(take);
  const [kit] = proposalsFor(take, first);
  const refused = applyMoves(first, take.notes, [{ move: 'refuse', proposal: kit!.id }]);
  assert.deepEqual(proposalsFor(take, refused), []);
  assert.equal(acceptAll(take, refused), null);
});

test('key switches below and above are found, and nothing in a part without', () => {
  for (const switches of ['below', 'above', 'none'] as const) {
    const take = takeFrom(performanceFile(strummer.play({ ...strummer.defaults, switches })));
    const found = keySwitches(take, all(take));
    const meant = all(take).filter((i) => take.notes.pitch[i]! < 36 || take.notes.pitch[i]! > 96);
    assert.deepEqual(found, meant, switches);
    assert.equal(found.length > 0, switches !== 'none');
  }
});

test('a low bass under chords is no key switch', () => {
  const take = takeOf([
    trackOf([
      ...Array.from({ length: 8 }, (_, i): NoteSpec => [i * 960, 900, 31 + (i % 2) * 5]),
      ...Array.from({ length: 8 }, (_, i) =>
        [60, 64, 67].map((pitch): NoteSpec => [i * 960, 900, pitch]),
      ).flat(),
    ]),
  ]);
  assert.deepEqual(keySwitches(take, all(take)), []);
});

const clickOf = (specs: readonly NoteSpec[]) => isClick(takeOf([trackOf(specs)]), [...specs.keys()]);

test('a click has one onset on each beat, the first of the bar different', () => {
  const beats = (pitch: (beat: number) => number, velocity: (beat: number) => number, length = 40) =>
    Array.from({ length: 16 }, (_, i): NoteSpec => [i * 480, length, pitch(i % 4), velocity(i % 4)]);
  assert.ok(
    clickOf(
      beats(
        (beat) => (beat === 0 ? 84 : 79),
        () => 100,
      ),
    ),
  );
  assert.ok(
    clickOf(
      beats(
        () => 76,
        (beat) => (beat === 0 ? 120 : 90),
      ),
    ),
  );
  // Four on the floor, a bass of even quarters, a click with a gap, and offbeats are none.
  assert.ok(
    !clickOf(
      beats(
        () => 36,
        () => 110,
      ),
    ),
  );
  assert.ok(
    !clickOf(
      beats(
        (beat) => (beat === 0 ? 40 : 47),
        () => 90,
        600,
      ),
    ),
  );
  assert.ok(
    !clickOf(
      beats(
        (beat) => (beat === 0 ? 84 : 79),
        () => 100,
      ).filter((_, i) => i !== 5),
    ),
  );
  assert.ok(
    !clickOf(
      beats(
        (beat) => (beat % 2 === 0 ? 84 : 79),
        () => 100,
      ),
    ),
  );
});

test('a click can be set aside, or kept as wood blocks on the drum channel', () => {
  const take = bandTake(['click']);
  const [click] = proposed(take);
  const [aside, kept] = click!.ways.map(({ move }) => applyMoves(splitTake(take), take.notes, [move]));
  assert.deepEqual(
    aside!.setAside.map(({ reason }) => reason),
    ['click'],
  );
  const part = kept!.parts.find(({ role }) => role === 'click')!;
  assert.equal(part.channel, 9);
  assert.deepEqual(
    part.pitchMap.map(([, to]) => to),
    [76, 77],
  );
  assert.deepEqual(kinds(proposalsFor(take, kept!)), []);
});

test('slices are neighboring pitches, each once a cycle; a scale that rings over is none', () => {
  const run = (length: number) =>
    takeOf([trackOf(Array.from({ length: 24 }, (_, i): NoteSpec => [i * 240, length, 48 + ((i * 5) % 8)]))]);
  assert.deepEqual(sliceCycle(run(230), all(run(230)))?.length, 8);
  assert.equal(sliceCycle(run(700), all(run(700))), null);
  const tune = takeOf([
    trackOf([60, 62, 64, 60, 62, 64, 60, 62].map((pitch, i): NoteSpec => [i * 240, 200, pitch])),
  ]);
  assert.equal(sliceCycle(tune, all(tune)), null);
});

test('a kit an octave off comes back to the GM map; another is read off the bar; one that lies right stays', () => {
  const groove = (kick: number, snare: number, hat: number) =>
    takeOf([
      trackOf(
        Array.from({ length: 8 }, (_, bar) => [
          [bar * 1920, 60, kick] as const,
          [bar * 1920 + 960, 60, kick] as const,
          [bar * 1920 + 480, 60, snare] as const,
          [bar * 1920 + 1440, 60, snare] as const,
          ...Array.from({ length: 8 }, (_, i) => [bar * 1920 + i * 240, 60, hat] as const),
        ]).flat(),
      ),
    ]);
  const map = (take: Take) => Object.fromEntries(guessDrumMap(take, all(take)));
  assert.deepEqual(map(groove(48, 50, 54)), { 48: 36, 50: 38, 54: 42 });
  assert.deepEqual(map(groove(61, 70, 65)), { 61: 36, 70: 38, 65: 42 });
  assert.deepEqual(map(groove(36, 38, 42)), {});
});

test('tracks of one instrument are one although a note of it hangs', () => {
  assert.ok(kinds(proposed(bandTake(['pieces', 'hungNote']))).includes('merge'));
});

test('two tracks of one program that play together are two players', () => {
  const tracks = [60, 67].map((low) =>
    trackOf(
      Array.from({ length: 8 }, (_, i): NoteSpec => [i * 480, 400, low + (i % 3)]),
      [named('Horn'), channelEvent(0, 0xc0, 0, 60)],
    ),
  );
  assert.ok(!kinds(proposed(takeOf(tracks))).includes('merge'));
});

test('takes made of known parts come apart as they were made: at least 98 % of the notes of 200', () => {
  const [standIns, abc] = partsAccuracy();
  const share = (standIns!.right + abc!.right) / (standIns!.notes + abc!.notes);
  assert.equal(standIns!.takes + abc!.takes, 200);
  assert.ok(share >= 0.98, `${(100 * share).toFixed(2)} %`);
});

test(
  'a kit moved to any channel under a piano is found whole in every real file',
  { skip: withoutOpenmsx },
  () => {
    const findings = kitFindings();
    assert.equal(findings.length, 31);
    for (const { file, kit, whole, channels } of findings) if (kit > 0) assert.equal(whole, channels, file);
    assert.ok(findings.flatMap(({ falseAlarms }) => falseAlarms).length <= 1);
  },
);

test(
  'roles are right where program or name tell, and a bass where neither does',
  { skip: withoutOpenmsx },
  () => {
    const told = rolesTold();
    assert.ok(told.right / told.parts >= 0.95, told.wrong.join('; '));
    for (const scores of Object.values(rolesHidden())) {
      const bass = scores.find(({ role }) => role === 'bass')!;
      assert.ok(bass.f >= 0.85, `bass ${bass.f.toFixed(2)}`);
    }
  },
);

test(
  'all accepted or taken apart, the 31 real files keep every note, each once',
  { skip: withoutOpenmsx },
  () => {
    for (const path of openmsxFiles) {
      const take = readTakes(readFileSync(path))[0]!;
      const first = splitTake(take);
      const move = acceptAll(take, first);
      const split = move ? applyMoves(first, take.notes, [move]) : first;
      const held = split.parts.flatMap((_, index) => partNotes(split, index)).length;
      assert.equal(held + tallyOf(split).aside, take.notes.length, basename(path));
    }
  },
);
