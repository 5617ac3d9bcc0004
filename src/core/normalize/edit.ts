import { intervalBetween, parseKey } from '../music/key.ts';
import { compareClipNotes, MADE, type Clip, type ClipNote } from '../phrase/clip.ts';
import { count, type Step } from './step.ts';

/** What is changed about a note, in place of what the steps before made of it. Times in quarter notes from bar one. */
export interface NoteEdit {
  /** The captured note it is about. */
  note: number;
  beat?: number;
  length?: number;
  /** Up or down from the pitch it has here, so that it holds in any key. */
  semitones?: number;
  velocity?: number;
  remove?: boolean;
}

/** A note that nobody played. */
export interface AddedNote {
  beat: number;
  length: number;
  pitch: number;
  velocity: number;
}

export interface EditParams {
  /** The tonic that the added notes were written in: in another key they go with it. */
  in?: string;
  change?: NoteEdit[];
  add?: AddedNote[];
}

/** Changes single notes by hand where they are simply wrong: the last word, over all steps before. */
export const editNotes: Step<EditParams> = (clip, params) => {
  const changes = new Map((params.change ?? []).map((change) => [change.note, change]));
  const mainPieces = playedPieces(clip.notes);
  const notes: ClipNote[] = [];
  const removed = new Set<number>();
  let changed = 0;
  for (const note of clip.notes) {
    const change = changes.get(note.origin);
    if (change?.remove) removed.add(note.origin);
    else if (change && mainPieces.get(note.origin) === note) {
      notes.push(edited(note, change, clip));
      changed++;
    } else notes.push(note);
  }
  const added = addedNotes(clip, params);
  const said = [
    changed > 0 ? `${count(changed, 'note')} changed` : '',
    removed.size > 0 ? `${removed.size} deleted` : '',
    added.length > 0 ? `${added.length} added` : '',
  ].filter(Boolean);
  return {
    clip: { ...clip, notes: [...notes, ...added].sort(compareClipNotes) },
    changed: changed + removed.size + added.length,
    summary: said.join(', ') || 'nothing by hand',
    setAside: setAsideOf([...removed].filter((origin) => origin >= 0)),
  };
};

function setAsideOf(origins: number[]) {
  return origins.length > 0 ? [{ reason: 'deleted by hand', origins }] : [];
}

/** Of a note in two pieces, the one that was played: what a loop heard on at bar one is only its rest. */
export function playedPieces(notes: readonly ClipNote[]): Map<number, ClipNote> {
  return new Map(notes.map((note) => [note.origin, note]));
}

function edited(note: ClipNote, change: NoteEdit, clip: Clip): ClipNote {
  return {
    ...note,
    tick: change.beat === undefined ? note.tick : tickOf(change.beat, clip),
    duration:
      change.length === undefined
        ? note.duration
        : Math.max(1, Math.round(change.length * clip.timeline.ppq)),
    pitch: inRange(note.pitch + (change.semitones ?? 0)),
    velocity: change.velocity ?? note.velocity,
  };
}

function addedNotes(clip: Clip, { add = [], in: tonic }: EditParams): ClipNote[] {
  const written = tonic === undefined ? undefined : parseKey(tonic);
  const by = written && clip.key ? intervalBetween(written.tonic, clip.key.tonic) : 0;
  // Numbered on from what was added by hand before; what steps have made is numbered apart.
  const lowest = clip.notes.reduce(
    (least, { origin }) => (origin > MADE ? Math.min(least, origin) : least),
    0,
  );
  return add.map(({ beat, length, pitch, velocity }, i) => ({
    tick: tickOf(beat, clip),
    duration: Math.max(1, Math.round(length * clip.timeline.ppq)),
    pitch: inRange(pitch + by),
    velocity,
    release: 64,
    origin: lowest - 1 - i,
  }));
}

/** The tick of a beat, inside the clip. */
function tickOf(beat: number, { pickup, length, timeline }: Clip): number {
  return Math.min(Math.max(0, length - 1), Math.max(0, Math.round(pickup + beat * timeline.ppq)));
}

function inRange(pitch: number): number {
  return Math.min(127, Math.max(0, pitch));
}
