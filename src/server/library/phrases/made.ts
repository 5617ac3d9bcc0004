import { eq } from 'drizzle-orm';
import { tracksToMidi } from '../../../core/exchange/midi-out.ts';
import { writeMidiFile } from '../../../core/midi/write.ts';
import type { Key } from '../../../core/music/key.ts';
import { barTicks, steadyTimeline } from '../../../core/music/timeline.ts';
import { LIBRARY_PPQ as PPQ } from '../../../core/normalize/resolution.ts';
import { strictestRights } from '../../../core/phrase/rights.ts';
import type { Db, Library } from '../../db/client.ts';
import type { Role } from '../../../core/split/roles.ts';
import { parts } from '../../db/schema.ts';
import { LibraryError, notFound } from '../errors.ts';
import { makePhrases } from './make-phrases.ts';
import { hashOfPhrase, insertParents, wholePhrase } from './phrase-rows.ts';
import { moveOnTake } from '../takes/take-moves.ts';
import { takeIn } from '../takes/takes.ts';

/** What the source of takes is called that were made here, and not captured. */
export const MADE_HERE = 'Made here';

/** A part that was made: its notes in the library's ticks, its program from 0. */
export interface MadePart {
  name: string;
  role: Role;
  program: number;
  notes: { tick: number; duration: number; pitch: number; velocity: number }[];
}

export interface MadeRequest {
  name: string;
  bpm: number;
  meter: { numerator: number; denominator: number };
  bars: number;
  key: Key | null;
  parts: MadePart[];
  /** Phrases it was made of, and what was done to them, in words. */
  parentIds: string[];
  done: string;
  tags: string[];
  projectId: string | null;
}

/**
 * Keeps what was made (chords, a bass): written as a Standard MIDI File, taken in as a take of its own, its parts kept as
 * phrases with their parents. Nothing that was captured is touched.
 * @throws LibraryError 422 where there are no notes, 404 where a parent is not there
 */
export async function keepMade(
  library: Library,
  request: MadeRequest,
): Promise<{ takeId: string; phraseIds: string[] }> {
  const { name, bpm, meter, bars, key, done, tags, projectId } = request;
  const sounding = request.parts.filter(({ notes }) => notes.length > 0);
  if (sounding.length === 0) throw new LibraryError(422, 'Nothing was made: there are no notes.');
  const parents = await Promise.all(
    request.parentIds.map(async (id) => {
      const row = await wholePhrase(library.db, id);
      if (!row) throw notFound('phrase');
      return { id, hash: hashOfPhrase(row), rights: row.rights };
    }),
  );
  const midi = tracksToMidi(
    {
      timeline: steadyTimeline(PPQ, bpm, meter.numerator, meter.denominator),
      keys: key ? [{ tick: 0, ...key }] : [],
      name,
      length: bars * barTicks(PPQ, meter),
    },
    sounding.map(({ name: part, program, notes }, k) => ({
      name: part,
      channel: CHANNELS[k]!,
      program,
      notes: notes.map((note) => ({ ...note, release: 64 })),
      controls: [],
    })),
  );
  const { takeIds } = await takeIn(library, {
    bytes: writeMidiFile(midi),
    fileName: `${name}.mid`,
    name,
    source: MADE_HERE,
    // What is made of nobody's phrases is one's own; of others it is as free as the strictest of them.
    rights: parents.length > 0 ? strictestRights(parents.map(({ rights }) => rights)) : 'own work',
  });
  const takeId = takeIds[0]!;
  // What was made is known: neither its key nor its roles have to be found.
  if (key) await moveOnTake(library.db, takeId, { move: 'chooseKey', key });
  const rows = await tellRoles(library.db, takeId, sounding);
  const { phraseIds } = await makePhrases(library.db, {
    takeId,
    parts: rows.map((part) => part.key),
    ...{ startBar: 1, bars, projectId, tags, keep: true },
  });
  const links = phraseIds.flatMap((phraseId) =>
    parents.map(({ id, hash }) => ({ phraseId, parentPhraseId: id, done, hash })),
  );
  await insertParents(library.db, links);
  return { takeId, phraseIds };
}

/** Tells the parts of a take that was made what they are, by their names. */
export async function tellRoles(
  db: Db,
  takeId: string,
  made: readonly { name: string; role: Role }[],
): Promise<{ key: string }[]> {
  const rows = await db
    .select({ key: parts.key, name: parts.name, role: parts.role })
    .from(parts)
    .where(eq(parts.takeId, takeId));
  for (const { key: part, name: called, role: found } of rows) {
    const meant = made.find((one) => one.name === called)?.role;
    if (meant && meant !== found) await moveOnTake(db, takeId, { move: 'role', part, role: meant });
  }
  return rows;
}

/** Every channel but the one that is kept for drums. */
const CHANNELS = [0, 1, 2, 3, 4, 5, 6, 7, 8, 10, 11, 12, 13, 14, 15] as const;
