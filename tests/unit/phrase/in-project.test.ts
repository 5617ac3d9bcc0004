import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { keySignature, MODES, parseKey } from '../../../src/core/music/key.ts';
import { bpmOf, tempoAt } from '../../../src/core/music/timeline.ts';
import { transpose } from '../../../src/core/normalize/transpose.ts';
import {
  asChosen,
  inKey,
  inProject,
  keyInProject,
  movedInWords,
  semitonesInto,
} from '../../../src/core/reuse/in-project.ts';
import { barOf, clipArbitrary } from '../../support/clips.ts';

const project = { keyTonic: 2, keyMode: 'minor' as const, bpm: 96 };

test("in a project, a phrase takes the project's tonic and tempo, by the shorter way", () => {
  const heard = inProject(barOf([[0, 480, 69]], { key: parseKey('Am')! }), project);
  assert.equal(heard.notes[0]!.pitch, 74);
  assert.deepEqual(heard.key, parseKey('Dm'));
  assert.equal(bpmOf(tempoAt(heard.timeline, 0).microseconds), 96);
});

test('drums and phrases without a key keep their pitches, and take the tempo', () => {
  for (const clip of [barOf([[0, 480, 36]], { role: 'drums' }), barOf([[0, 480, 60]])]) {
    const heard = inProject(clip, project);
    assert.equal(heard.notes[0]!.pitch, clip.notes[0]!.pitch);
    assert.equal(bpmOf(tempoAt(heard.timeline, 0).microseconds), 96);
  }
  assert.equal(inKey(barOf([[0, 480, 60]]), null).notes[0]!.pitch, 60);
});

test('to another key and back again is where it was, unless it left the range of MIDI', () => {
  fc.assert(
    fc.property(clipArbitrary, fc.constantFrom('C', 'Eb', 'F#m', 'Bm'), (clip, name) => {
      const inside = clip.notes.every(({ pitch }) => pitch >= 12 && pitch <= 115);
      fc.pre(inside && clip.key !== null);
      const there = inKey(clip, parseKey(name)!);
      const back = inKey(there, clip.key);
      // A tritone goes up both times: an octave in all.
      const off = new Set(back.notes.map((note, i) => note.pitch - clip.notes[i]!.pitch));
      assert.ok([...off].every((semitones) => semitones === 0 || semitones === 12));
      assert.ok(off.size <= 1);
    }),
  );
});

test('the same notes before the same tonic (check values of the library)', () => {
  const into = (from: string, to: string) => semitonesInto(parseKey(from)!, parseKey(to)!);
  assert.equal(into('E minor', 'G major'), 0);
  assert.equal(into('A minor', 'Eb major'), 3);
  assert.equal(into('D dorian', 'C major'), 0);
  assert.ok([5, -7].includes(into('A minor', 'D minor')));
  assert.equal(movedInWords(parseKey('Em')!, parseKey('G')!), 'E minor, the relative of G major: not moved');
});

test('in a project every key has the signature of the project, or its tonic and mode', () => {
  for (const mode of MODES)
    for (const other of MODES)
      for (let tonic = 0; tonic < 12; tonic++) {
        const there = keyInProject({ tonic: 4, mode }, { tonic, mode: other });
        assert.equal(there.mode, mode);
        assert.equal(keySignature(there), keySignature({ tonic, mode: other }));
      }
});

test('what is kept in another key leaves on the very pitches it was captured on', () => {
  for (let tonic = 0; tonic < 12; tonic++) {
    const key = { tonic, mode: 'minor' as const };
    const captured = barOf([[0, 480, 60], [480, 480, 67]], { key }); // prettier-ignore
    const kept = transpose(captured, { to: 'A' }).clip;
    const pitches = (clip: typeof kept) => clip.notes.map(({ pitch }) => pitch);
    assert.deepEqual(pitches(asChosen(kept, key, 'captured', null)), pitches(captured));
    assert.deepEqual(pitches(asChosen(kept, key, 'kept', null)), pitches(kept));
    assert.deepEqual(
      pitches(asChosen(kept, key, 'project', null)),
      pitches(captured),
      'without a project as captured',
    );
  }
});
