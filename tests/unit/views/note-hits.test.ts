import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import type { ClipNote } from '../../../src/core/phrase/clip.ts';
import { drawnNotes, heights } from '../../../src/ui/drawing/strand.ts';
import {
  boxOf,
  noteAt,
  notesWithin,
  pitchAt,
  tickAt,
  type NoteLayout,
} from '../../../src/views/phrase/notes/note-hits.ts';

/** Notes far enough apart that no two lie at one place. */
const notesArbitrary: fc.Arbitrary<ClipNote[]> = fc
  .uniqueArray(fc.tuple(fc.nat(31), fc.integer({ min: 30, max: 90 })), {
    minLength: 1,
    maxLength: 12,
    selector: ([place]) => place,
  })
  .map((list) =>
    list.map(([place, pitch], origin) => ({
      tick: place * 240,
      duration: 180,
      pitch,
      velocity: 90,
      release: 64,
      origin,
    })),
  );

function layoutOf(notes: readonly ClipNote[], width = 900): NoteLayout {
  return {
    window: { fromTick: 0, toTick: 32 * 240 },
    width,
    height: 300,
    thickness: 8,
    heightOf: heights(drawnNotes(notes), 'keys'),
  };
}

test('the middle of a note is that note, its far end is its handle, and beside it is nothing of it', () => {
  fc.assert(
    fc.property(notesArbitrary, (notes) => {
      const layout = layoutOf(notes);
      for (const note of notes) {
        const { left, right, top, bottom } = boxOf(note, layout);
        const y = (top + bottom) / 2;
        assert.deepEqual(noteAt(notes, layout, (left + right) / 2, y), { note, byEnd: false });
        assert.equal(noteAt(notes, layout, right - 1, y)?.byEnd, true);
        assert.notEqual(noteAt(notes, layout, left - 20, y)?.note, note);
      }
    }),
  );
});

test('a box around everything touches everything, one around a note touches it, an empty one outside nothing', () => {
  fc.assert(
    fc.property(notesArbitrary, (notes) => {
      const layout = layoutOf(notes);
      assert.equal(
        notesWithin(notes, layout, { left: 0, top: 0, right: 900, bottom: 300 }).length,
        notes.length,
      );
      for (const note of notes) assert.ok(notesWithin(notes, layout, boxOf(note, layout)).includes(note));
      assert.deepEqual(notesWithin(notes, layout, { left: -50, top: -50, right: -10, bottom: -10 }), []);
    }),
  );
});

test('a place is the tick and the pitch that are drawn there', () => {
  fc.assert(
    fc.property(notesArbitrary, (notes) => {
      const layout = layoutOf(notes);
      const pitches = Array.from({ length: 128 }, (_, pitch) => pitch);
      for (const note of notes) {
        const { left, top, bottom } = boxOf(note, layout);
        assert.ok(Math.abs(tickAt(layout, left) - note.tick) < 1);
        assert.equal(pitchAt(layout, (top + bottom) / 2, pitches), note.pitch);
      }
    }),
  );
});

test('a note too short for a handle is held by its body', () => {
  const [note] = [{ tick: 0, duration: 10, pitch: 60, velocity: 90, release: 64, origin: 0 }];
  const layout = layoutOf([note!]);
  const { right, top, bottom } = boxOf(note!, layout);
  assert.equal(noteAt([note!], layout, right - 1, (top + bottom) / 2)?.byEnd, false);
});
