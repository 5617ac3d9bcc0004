import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { chordScale, isInScale } from '../../../src/core/music/chord-scale.ts';
import { parseKey, type Key } from '../../../src/core/music/key.ts';
import { spellPitchClass } from '../../../src/core/music/spelling.ts';
import { repeat } from '../../../src/core/normalize/repeat.ts';
import type { StepResult } from '../../../src/core/normalize/step.ts';
import { throughOthers } from '../../../src/core/normalize/through.ts';
import type { Clip, ClipNote } from '../../../src/core/phrase/clip.ts';
import { REGISTERS } from '../../../src/core/phrase/registers.ts';
import { isChordNote } from '../../../src/core/through/degrees.ts';
import { WAYS } from '../../../src/core/through/pieces.ts';
import { indexAt, layOut, readChanges } from '../../../src/core/through/sounding.ts';
import { PLAYED_ROLES, playedPhrase } from '../../support/played-phrases.ts';

/** Charts of many kinds, with the keys they are in. */
const CHARTS: readonly [chart: string, key: string][] = [
  ['C | Am | F | G', 'C'],
  ['Dm7 | G7 | Cmaj7 | Cmaj7', 'C'],
  ['Am | G | F | E7', 'Am'],
  ['Eb | Cm Ab | Bb7 | Eb', 'Eb'],
  ['C | Fm | C | G7', 'C'],
  ['Em | C | G | D', 'Em'],
  ['Dm | Bb | Gm | A7', 'Dm'],
  ['F | F7 | Bb | Bbm6', 'F'],
  ['G | B7 | C | Cm', 'G'],
  ['Bm7b5 | E7b9 | Am6 | Am', 'Am'],
  ['Cmaj9 | A7alt | Dm11 | G13', 'C'],
  ['D | A/C# | Bm | F#m', 'D'],
  ['C5 | Bb5 | F5 | C5', 'C'],
  ['Asus4 | A | Dsus2 | D', 'A'],
  ['Cdim7 | Db | Gm | Cm', 'Cm'],
  ['Abmaj7 | Db7 | Gbmaj7 | B7', 'Gb'],
  ['E | E | A | B7', 'E'],
  ['Fmaj9#11 | Em7 | Dm7 | Cmaj7', 'C'],
  ['C | D7 | G7 | C', 'C'],
  ['Dm | Dm/C | Bb | A', 'Dm'],
];

const anyRole = fc.constantFrom(...PLAYED_ROLES);
const anyChart = fc.constantFrom(...CHARTS);
const anySeed = fc.nat(100_000);
const anyWay = fc.constantFrom(undefined, ...WAYS);
const keyOf = (name: string) => parseKey(name)!;

test('through its own changes any phrase comes back note for note, by every way', () => {
  fc.assert(
    fc.property(anyRole, anyChart, anySeed, anyWay, (role, [chart, key], seed, way) => {
      const clip = playedPhrase(role, chart, keyOf(key), seed);
      const result = throughOthers(clip, { from: chart, to: chart, key, ...(way ? { way } : {}) });
      assert.deepEqual(result.clip.notes, clip.notes);
      assert.equal(result.changed, 0);
    }),
    { numRuns: 300 },
  );
});

test('there and back as a block between chords of one kind gives the original', () => {
  fc.assert(
    fc.property(fc.constantFrom('keys', 'brass'), fc.nat(11), fc.nat(11), anySeed, (role, a, b, seed) => {
      const [one, other] = [spellPitchClass(a, null), spellPitchClass(b, null)];
      const clip = playedPhrase(role, one, { tonic: a, mode: 'major' }, seed);
      const there = throughOthers(clip, { from: one, to: other, way: 'block', key: other }).clip;
      const back = throughOthers(there, { from: other, to: one, way: 'block', key: one }).clip;
      assert.deepEqual(
        back.notes.map(({ pitch }) => pitch),
        clip.notes.map(({ pitch }) => pitch),
      );
    }),
    { numRuns: 100 },
  );
});

test('a target some semitones higher gives a result some semitones higher, octaves apart', () => {
  // Roots that are none of the source's in any of the transpositions below: a chord that stays keeps its notes.
  const chart = (up: number) =>
    ['m', '7', 'm7'].map((kind, k) => spellPitchClass(([1, 6, 3][k]! + up) % 12, null) + kind).join(' | ');
  const classesAt = (notes: readonly ClipNote[], down: number) => {
    const byTick = new Map<number, number[]>();
    for (const { tick, pitch } of notes)
      byTick.set(tick, [...(byTick.get(tick) ?? []), (pitch - down + 120) % 12]);
    return [...byTick].map(([tick, classes]) => [tick, classes.sort((x, y) => x - y)]);
  };
  fc.assert(
    fc.property(
      // Which neighbor a note of a tune leans on is a matter of octaves: as a block chords are compared.
      fc.constantFrom(['keys', 'block'], ['guitar', 'block'], ['lead', 'scale'], ['keys', 'scale'] as const),
      fc.integer({ min: 1, max: 11 }),
      anySeed,
      ([role, way], by, seed) => {
        const clip = playedPhrase(role, 'C | F | G', keyOf('C'), seed);
        const at = (up: number) =>
          throughOthers(clip, {
            from: 'C | F | G',
            to: chart(up),
            key: `${spellPitchClass((1 + up) % 12, null)}m`,
            way,
          }).clip.notes;
        assert.deepEqual(classesAt(at(by), by), classesAt(at(0), 0));
      },
    ),
    { numRuns: 150 },
  );
});

test('1,000 phrases of all roles through 20 charts: every note in chord, scale, or told as outside', () => {
  let [notes, outside] = [0, 0];
  for (let n = 0; n < 1000; n++) {
    const role = PLAYED_ROLES[n % PLAYED_ROLES.length]!;
    const [from, fromKey] = CHARTS[(n * 7) % CHARTS.length]!;
    const [to, toKey] = CHARTS[(n * 3 + 1 + Math.floor(n / 20)) % CHARTS.length]!;
    const clip = playedPhrase(role, from, keyOf(fromKey), n);
    const result = throughOthers(clip, { from, to, key: toKey });
    checkPlaced(clip, result, { to, key: keyOf(toKey) }, `${n}: ${role}, ${from} through ${to}`);
    notes += result.clip.notes.length;
    outside += result.outside!.length;
  }
  assert.ok(outside / notes < 0.1, `${outside} of ${notes} notes are told as outside`);
});

function checkPlaced(
  clip: Clip,
  result: StepResult,
  { to, key }: { to: string; key: Key },
  what: string,
): void {
  const { bars, ...changes } = readChanges(to, 4);
  const longer = repeat(clip, { bars }).clip;
  const place = { pickup: 0, beat: 480, beatsPerBar: 4, bars, roundBars: bars };
  const target = layOut({ bars, ...changes }, place);
  const told = new Set(result.outside!.map(({ note }) => note));
  const register = REGISTERS[clip.role]!;
  const own = longer.notes.map(({ pitch }) => pitch);
  const [low, high] = [Math.min(register.low, ...own), Math.max(register.high, ...own)];
  const before = new Map(longer.notes.map((note) => [note.origin, note]));
  const changesAt = new Set(target.from);
  for (const note of result.clip.notes) {
    const end = note.tick + note.duration;
    if (!told.has(note.origin)) {
      assert.ok(note.pitch >= low && note.pitch <= high, `${what}: ${note.pitch} out of its octaves`);
      const fits = [note.tick, note.tick + 240].some((tick) => {
        const chord = target.chords[indexAt(target, tick)]!;
        return isChordNote(chord, note.pitch) || isInScale(chordScale(chord, key), note.pitch);
      });
      assert.ok(fits, `${what}: ${note.pitch} at ${note.tick}`);
    }
    // Nothing moves in time: what was struck is struck then, as hard, and let go then or at a change.
    const was = before.get(note.origin);
    if (was) {
      assert.deepEqual([note.tick, note.velocity, note.release], [was.tick, was.velocity, was.release], what);
      assert.ok(note.duration === was.duration || changesAt.has(end), `${what}: let go at ${end}`);
    } else assert.ok(changesAt.has(note.tick), `${what}: struck again at ${note.tick}`);
  }
  const kept = new Set(result.clip.notes.map(({ origin }) => origin));
  const aside = new Set(result.setAside.flatMap(({ origins }) => origins));
  for (const { origin } of clip.notes)
    assert.ok(kept.has(origin) !== aside.has(origin), `${what}: the tally of ${origin}`);
}

test('a repeated phrase: its rounds are itself, cut at the line; the tally is kept', () => {
  fc.assert(
    fc.property(
      anyRole,
      anyChart,
      anySeed,
      fc.integer({ min: 1, max: 19 }),
      (role, [chart, key], seed, bars) => {
        const clip = playedPhrase(role, chart, keyOf(key), seed);
        const { clip: longer, setAside } = repeat(clip, { bars });
        assert.equal(longer.length, bars * 1920);
        const kept = new Set(longer.notes.map(({ origin }) => origin));
        assert.equal(kept.size, longer.notes.length, 'each note has a number of its own');
        const aside = new Set(setAside.flatMap(({ origins }) => origins));
        for (const { origin } of clip.notes) assert.ok(kept.has(origin) !== aside.has(origin));
        for (const note of longer.notes) {
          const at = note.tick % clip.length;
          assert.ok(clip.notes.some(({ tick, pitch }) => tick === at && pitch === note.pitch));
          assert.ok(bars === 4 || note.tick + note.duration <= longer.length);
        }
      },
    ),
    { numRuns: 100 },
  );
});
