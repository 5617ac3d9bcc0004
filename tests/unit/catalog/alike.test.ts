import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { test } from 'node:test';
import fc from 'fast-check';
import { groupsOf, likenessOf, TWICE, type Compared } from '../../../src/core/catalog/alike.ts';
import { comparedPhrase } from '../../../src/core/catalog/compared.ts';
import { FINGERPRINT, fingerprintOf, sharedValues } from '../../../src/core/catalog/fingerprint.ts';
import { strokesOf } from '../../../src/core/catalog/strokes.ts';
import { readTakes } from '../../../src/core/capture/take.ts';
import { steadyTimeline } from '../../../src/core/music/timeline.ts';
import { cutBars } from '../../../src/core/normalize/bars.ts';
import { setResolution } from '../../../src/core/normalize/resolution.ts';
import { clipFromPart, isPitched, type Clip } from '../../../src/core/phrase/clip.ts';
import { partNotes, splitTake } from '../../../src/core/split/split.ts';
import { openmsxFiles, withoutOpenmsx } from '../../support/openmsx.ts';

/** Bars of a phrase that is cut from a real part. */
const BARS = 4;
const PHRASES = 200;

/** Phrases of real files, no two of which are one thing twice: of each part the first four bars that play on. */
function realPhrases(): Clip[] {
  const found: Clip[] = [];
  for (const start of [5, 13, 21, 29])
    for (const path of openmsxFiles) {
      const [take] = readTakes(readFileSync(path));
      const split = splitTake(take!);
      split.parts.forEach((_, part) => {
        if (found.length >= PHRASES || partNotes(split, part).length < 40) return;
        const { clip } = cutBars(clipFromPart(take!, split, part, null), { start, count: BARS });
        if (clip.notes.length < 12) return;
        const compared = comparedPhrase({ clip, numerals: '' });
        const isNew = found.every((other) => {
          const likeness = likenessOf(compared, comparedPhrase({ clip: other, numerals: '' }));
          return !likeness || !TWICE.has(likeness.verdict);
        });
        if (isNew) found.push(clip);
      });
    }
  return found;
}

const phrases = withoutOpenmsx ? [] : realPhrases();

const compared = (clip: Clip): Compared => comparedPhrase({ clip, numerals: '' });

/** Whether two fingerprints are worth comparing. */
function areClose(a: Uint32Array, b: Uint32Array): boolean {
  const prints = new Uint32Array(2 * FINGERPRINT);
  prints.set(a);
  prints.set(b, FINGERPRINT);
  return sharedValues(prints, 0, 1) >= 3;
}

/** The same notes moved, at another tempo and resolution, softer. */
function changed(clip: Clip, semitones: number, bpm: number, ppq: number): Clip {
  const moved = isPitched(clip) ? semitones : 0;
  const { numerator, denominator } = clip.timeline.meters[0]!;
  const at = setResolution(
    { ...clip, timeline: steadyTimeline(clip.timeline.ppq, bpm, numerator, denominator) },
    { ppq },
  );
  return {
    ...at.clip,
    notes: at.clip.notes.map((note) => ({
      ...note,
      pitch: note.pitch + moved,
      velocity: Math.max(1, Math.round(note.velocity * 0.7)),
    })),
  };
}

// Check values of the design (library.md, "The same thing twice").
test(
  '200 real phrases in 12 keys, at 3 tempos, in 2 resolutions, softer: one group each, and none is false',
  { skip: withoutOpenmsx },
  () => {
    assert.ok(phrases.length >= PHRASES, `${phrases.length} phrases`);
    for (const clip of phrases) {
      const own = changed(clip, 0, 100, 960);
      const print = fingerprintOf(strokesOf(own, 100));
      for (const bpm of [70, 100, 140])
        for (const ppq of [480, 960])
          for (let semitones = -6; semitones < 6; semitones++) {
            const other = changed(clip, semitones, bpm, ppq);
            // What fits into MIDI's pitches.
            if (other.notes.some(({ pitch }) => pitch < 0 || pitch > 127)) continue;
            assert.ok(areClose(print, fingerprintOf(strokesOf(other, bpm))));
            const likeness = likenessOf(compared(own), compared(other));
            assert.ok(likeness && TWICE.has(likeness.verdict), likeness?.text);
            if (bpm !== 100) assert.match(likeness.text, /at another tempo \(100 and (70|140) BPM\)/);
          }
    }
    const links: [number, number][] = [];
    for (let a = 0; a < phrases.length; a++)
      for (let b = a + 1; b < phrases.length; b++) {
        const likeness = likenessOf(compared(phrases[a]!), compared(phrases[b]!));
        if (likeness && TWICE.has(likeness.verdict)) links.push([a, b]);
      }
    assert.deepEqual(groupsOf(phrases.length, links), []);
  },
);

/** A fifth of the notes varied: another pitch, or gone. */
function varied(clip: Clip, seed: number): Clip {
  const notes = clip.notes.map((note) => ({ ...note }));
  const order = [...notes.keys()].sort(
    (a, b) => ((a * 7919 + seed * 104_729) % 1013) - ((b * 7919 + seed * 104_729) % 1013),
  );
  const gone = new Set<number>();
  for (const [k, i] of order.slice(0, Math.floor(notes.length * 0.2)).entries()) {
    if (k % 3 === 2) gone.add(i);
    else notes[i]!.pitch += (k % 2 === 0 ? 1 : -1) * (isPitched(clip) ? 2 : 4);
  }
  return {
    ...clip,
    notes: notes.filter((_, i) => !gone.has(i)).sort((a, b) => a.tick - b.tick || a.pitch - b.pitch),
  };
}

test('a fifth of the notes varied is told as varied, in 95 of 100', { skip: withoutOpenmsx }, (t) => {
  const told = phrases.filter((clip, k) => {
    const likeness = likenessOf(compared(clip), compared(varied(clip, k)));
    return likeness !== null && likeness.verdict === 'varied';
  });
  t.diagnostic(`${told.length} of ${phrases.length}`);
  assert.ok(told.length >= 0.95 * phrases.length, `${told.length} of ${phrases.length}`);
});

test('and it is found among all by its fingerprint, in 9 of 10', { skip: withoutOpenmsx }, (t) => {
  const found = phrases.filter((clip, k) => {
    const [own, other] = [clip, varied(clip, k)].map((one) => fingerprintOf(strokesOf(one, 100)));
    return areClose(own!, other!);
  });
  t.diagnostic(`${found.length} of ${phrases.length}`);
  assert.ok(found.length >= 0.9 * phrases.length, `${found.length} of ${phrases.length}`);
});

const PPQ = 960;

const clipOf = (notes: readonly (readonly [number, number])[], bars: number): Clip => ({
  ...{
    timeline: steadyTimeline(PPQ, 100),
    length: 4 * PPQ * bars,
    pickup: 0,
    controls: [],
    role: 'keys',
    key: null,
  },
  ...{ channel: 0, program: 0, locked: [] },
  notes: notes.map(([quarter, pitch], origin) => ({
    ...{ tick: quarter * PPQ, duration: PPQ / 2, pitch, velocity: 80, release: 64, origin },
  })),
});

/** Broken chords: root, third, fifth, third, in eighths; a bar each. */
const broken = (chords: readonly (readonly [number, number, number])[]) =>
  clipOf(
    chords.flatMap(([root, third, fifth], bar) =>
      [root, third, fifth, third, root, third, fifth, third].map(
        (pitch, k) => [4 * bar + k / 2, pitch] as const,
      ),
    ),
    chords.length,
  );

test('one broken-chord pattern over two different changes is not the same', () => {
  const [a, b] = [
    broken([
      [48, 52, 55],
      [45, 48, 52],
      [41, 45, 48],
      [43, 47, 50],
    ]),
    broken([
      [48, 51, 55],
      [44, 48, 51],
      [46, 50, 53],
      [43, 47, 50],
    ]),
  ];
  const likeness = likenessOf(compared(a), compared(b));
  assert.ok(!likeness || !TWICE.has(likeness.verdict), likeness?.text);
});

test('half time, a piece of another, the same rhythm and the same changes are told in words', () => {
  const tune = [60, 62, 64, 67, 69, 67, 64, 62].map(
    (pitch, k) => [[0, 0.5, 1.5, 2, 4, 4.5, 5.5, 6][k]!, pitch] as const,
  );
  const own = clipOf(tune, 2);
  const verdict = (a: Clip, b: Clip) => likenessOf(compared(a), compared(b));
  assert.equal(
    verdict(
      own,
      clipOf(
        tune.map(([at, pitch]) => [2 * at, pitch] as const),
        4,
      ),
    )!.verdict,
    'half time',
  );
  const long = clipOf(
    [
      ...[
        [0, 40],
        [1, 41],
        [3, 50],
        [5, 45],
        [6, 44],
      ].map(([at, pitch]) => [at!, pitch!] as const),
      ...tune.map(([at, pitch]) => [8 + at, pitch] as const),
    ],
    4,
  );
  assert.deepEqual(
    [verdict(own, long)!.verdict, verdict(own, long)!.text],
    ['within', 'the first is bars 3 to 4 of the other'],
  );
  const other = clipOf(
    tune.map(([at], k) => [at, 50 + ((k * 5) % 12)] as const),
    2,
  );
  assert.equal(verdict(own, other)!.verdict, 'rhythm');
  const [x, y] = [
    clipOf(
      [
        [0, 60],
        [2, 64],
      ],
      2,
    ),
    clipOf(
      [
        [0, 50],
        [1, 47],
        [3, 52],
      ],
      2,
    ),
  ];
  const changes = likenessOf(
    { ...compared(x), numerals: ' I vi IV V ' },
    { ...compared(y), numerals: ' I vi IV V ' },
  );
  assert.equal(changes!.verdict, 'changes');
});

test('what is the same is so from both sides; a phrase is itself', () => {
  const notes = fc.array(
    fc.tuple(
      fc.nat(31).map((k) => k / 4),
      fc.integer({ min: 40, max: 80 }),
    ),
    { minLength: 4, maxLength: 24 },
  );
  const sorted = (list: [number, number][]) => [...list].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  fc.assert(
    fc.property(notes, notes, (one, two) => {
      const [a, b] = [clipOf(sorted(one), 2), clipOf(sorted(two), 2)].map(compared) as [Compared, Compared];
      assert.equal(likenessOf(a, a)!.verdict, 'same');
      const [there, back] = [likenessOf(a, b), likenessOf(b, a)];
      assert.equal(there !== null && TWICE.has(there.verdict), back !== null && TWICE.has(back.verdict));
    }),
  );
});
