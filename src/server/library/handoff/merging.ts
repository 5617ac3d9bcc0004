import { rollup } from 'd3-array';
import { and, desc, eq, inArray } from 'drizzle-orm';
import {
  fateOf,
  latenessOf,
  mergeWords,
  waysFor,
  type Crossing,
  type Fate,
  type Lateness,
  type MergeWay,
} from '../../../core/exchange/merge.ts';
import type { PhraseOut } from '../../../core/exchange/handoff.ts';
import type { ToldPack } from '../../../core/exchange/manifest-read.ts';
import type { InPhrase, PackIn } from '../../../core/exchange/pack-in.ts';
import type { Clip } from '../../../core/phrase/clip.ts';
import type { Role } from '../../../core/split/roles.ts';
import { idFrom, isUuid, sha256Of } from '../../checksum.ts';
import { compute } from '../../compute/pool.ts';
import type { AgainstOurs, HowItLeft } from '../../compute/pack-in.ts';
import type { Db } from '../../db/client.ts';
import { baskets, packItems, packs, phraseContents, phrases, projects, recipients } from '../../db/schema.ts';
import { phrasesOut } from './phrases-out.ts';
import { notFound } from '../errors.ts';
import { libraryId } from '../house.ts';
import { knownOriginals } from '../keeping/originals.ts';
import { hashOfPhrase, withContent } from '../phrases/phrase-rows.ts';
import type { Project } from '../projects.ts';
import { cleanTags } from '../phrases/tags.ts';

/** A phrase of a pack that came in, beside ours. */
export interface MergeRow {
  /** As the pack has it. */
  id: string;
  name: string;
  role: Role;
  fate: Fate;
  /** What is otherwise, in words. */
  text: string;
  /** All of it is so much later, in milliseconds. */
  lateMs: number;
  ways: readonly MergeWay[];
  bars: number;
  /** Pictures of ours and theirs; null where there is none. */
  ours: { id: string; name: string; swatch: string } | null;
  theirs: string | null;
  /** Tags that ours has not. */
  tags: string[];
  rights: string;
  contributor: string;
}

export interface MergeTable {
  title: string;
  /** Who sent it: as the pack names whom it was for, where it was packed here. */
  from: string;
  madeAt: string;
  /** It was packed in this library. */
  isOurs: boolean;
  /** Whom it was for, where they are here, and what came back alike later: it could stand on their card. */
  late: (Lateness & { recipientId: string }) | null;
  rows: MergeRow[];
  /** Files that somebody has put beside the pack's own, and whether they are takes here already. */
  added: { file: string; notes: number; isTaken: boolean }[];
}

/** A pack that came in, held against the library; nothing is written. @throws LibraryError 422 where it is none */
export async function lookAtPack(db: Db, zip: Uint8Array): Promise<MergeTable> {
  const pack = await compute('packIn', zip);
  const { rows, missing, isOurs, recipientId } = await heldAgainst(db, pack);
  const late = latenessOf(rows);
  const { title, madeAt } = pack.told;
  const taken = await knownOriginals(
    db,
    pack.added.map(({ bytes }) => sha256Of(bytes)),
  );
  return {
    ...{ title, madeAt, isOurs, from: senderOf(pack, isOurs) },
    late: late && recipientId ? { ...late, recipientId } : null,
    rows: [...rows, ...missing],
    added: pack.added.map(({ file, notes, bytes }) => ({ file, notes, isTaken: taken.has(sha256Of(bytes)) })),
  };
}

/** Who sent it: whom it was for, where it went out from here, else whose playing all of it is; empty where nothing says. */
export function senderOf({ told, phrases: all }: PackIn, isOurs: boolean): string {
  if (isOurs) return told.recipient ?? '';
  const names = new Set(all.map((one) => one.told.contributor).filter(Boolean));
  return names.size === 1 ? [...names][0]! : '';
}

/** The id that a phrase of a pack has here: its own, or one that follows from it where it has none of a library. */
export function idHere({ id }: { id: string }): string {
  return isUuid(id) ? id.toLowerCase() : idFrom(`phrase ${id}`);
}

/** A pack against the library. */
export interface HeldAgainst {
  /** Of each of its phrases, in its order. */
  rows: MergeRow[];
  /** Phrases of ours that went out with it and are not in it. */
  missing: MergeRow[];
  /** It was packed in this library. */
  isOurs: boolean;
  /** Whom it was for, where they are here. */
  recipientId: string | null;
  /** How it left; null where nothing says. */
  how: HowItLeft | null;
  /** Our phrases of the same ids, in the key that it left in. */
  ours: Map<string, PhraseOut>;
}

/** Phrases of a pack, each with what became of it. */
export async function heldAgainst(db: Db, { told, phrases: theirs }: PackIn): Promise<HeldAgainst> {
  const ids = theirs.map((one) => idHere(one.told));
  const { how, project, recipientId } = await wayOut(db, told);
  // What left in a way of its own is held against ours in the same.
  const own = new Map(theirs.map(({ told: one }) => [idHere(one), one.own]));
  const ours = await phrasesOut(db, ids, { key: how?.out.key ?? 'captured', project, own });
  const byId = new Map(ours.map((one) => [one.phrase.id, one]));
  const found = await compute(
    'packAgainstOurs',
    theirs.map((one) => [idHere(one.told), one] as const),
    ours.map(({ phrase }) => phrase),
    how,
  );
  const against = new Map(found.map((one) => [one.id, one]));
  const crossings = await crossingsOf(db, ids);
  const isOurs = told.library !== null && told.library === (await libraryId(db));
  const rows = theirs.map((one): MergeRow => {
    const id = idHere(one.told);
    return rowOf(one, byId.get(id), {
      against: against.get(id),
      crossings: crossings.get(id) ?? [],
      isOurs,
    });
  });
  return {
    ...{ rows, how, isOurs, recipientId, missing: isOurs ? await leftBehind(db, told, ids) : [] },
    ours: new Map(ours.map(({ phrase }) => [phrase.id, phrase])),
  };
}

/** How a pack of ours went out: its options, the card it was fitted by and its project, as far as they are still here. */
async function wayOut(
  db: Db,
  { out, title, madeAt }: ToldPack,
): Promise<{ how: HowItLeft | null; project: Project | null; recipientId: string | null }> {
  if (!out) return { how: null, project: null, recipientId: null };
  const [sent] = await db
    .select({ project: projects, card: recipients.card, recipientId: recipients.id })
    .from(packs)
    .innerJoin(baskets, eq(baskets.id, packs.basketId))
    .leftJoin(projects, eq(projects.id, baskets.projectId))
    .leftJoin(recipients, eq(recipients.id, baskets.recipientId))
    .where(wentOut(title, madeAt));
  return {
    how: { out, card: sent?.card ?? null },
    project: sent?.project ?? null,
    recipientId: sent?.recipientId ?? null,
  };
}

/** The pack that went out under a title at a moment. */
function wentOut(title: string, madeAt: string) {
  return and(eq(packs.madeAt, new Date(madeAt)), eq(packs.title, title), eq(packs.direction, 'out'));
}

/** Phrases that went out with a pack of ours and stand in its manifest no more. */
async function leftBehind(
  db: Db,
  { title, madeAt }: ToldPack,
  there: readonly string[],
): Promise<MergeRow[]> {
  const sent = await db
    .select({
      id: phrases.id,
      name: phrases.name,
      role: phrases.role,
      bars: phrases.bars,
      swatch: phraseContents.swatch,
    })
    .from(packs)
    .innerJoin(packItems, eq(packItems.packId, packs.id))
    .innerJoin(phrases, eq(phrases.id, packItems.phraseId))
    .innerJoin(phraseContents, withContent)
    .where(wentOut(title, madeAt));
  const gone = sent.filter(({ id }) => !there.includes(id));
  return gone.map(({ id, name, role, bars, swatch }) => ({
    ...{ id, name, role, bars, fate: 'not sent back' as const, ways: waysFor('not sent back') },
    ...{ text: mergeWords('not sent back', 0, null), lateMs: 0 },
    ours: { id, name, swatch: pictureOf(swatch) },
    ...{ theirs: null, tags: [], rights: '', contributor: '' },
  }));
}

/** A phrase of ours, as it is kept and as it would leave. */
type PhraseHere = Awaited<ReturnType<typeof phrasesOut>>[number];

/** A swatch as the page reads it. */
const pictureOf = (swatch: Uint8Array) => Buffer.from(swatch).toString('base64');

interface Known {
  against: AgainstOurs | undefined;
  crossings: readonly Crossing[];
  isOurs: boolean;
}

function rowOf(one: InPhrase, here: PhraseHere | undefined, known: Known): MergeRow {
  const { told, played, isUntouched, clip, swatch } = one;
  const { against, crossings, isOurs } = known;
  const ours = here?.phrase;
  // Packs of before said nothing of what is played: an untouched file is as it left.
  const left = told.played ?? (isUntouched ? played : null);
  const fate = fateOf({
    ours: here ? hashOfPhrase(here.row) : null,
    oursPlayed: against?.played ?? null,
    theirs: played,
    crossings,
    packed: isOurs && told.hash && left ? { hash: told.hash, played: left } : null,
  });
  const tags = cleanTags(told.tags).filter((tag) => !ours?.tags.includes(tag));
  return {
    ...{ id: told.id, name: told.name, role: told.role, bars: told.bars, fate, ways: waysFor(fate) },
    lateMs: against?.returned?.lateMs ?? 0,
    text: one.problem || mergeWords(fate, clip?.notes.length ?? 0, against?.returned ?? null),
    ours: here
      ? { id: here.row.id, name: here.row.name, swatch: pictureOf(against?.swatches.ours ?? here.row.swatch) }
      : null,
    theirs: swatch && pictureOf(against?.swatches.theirs ?? swatch),
    ...{ tags, rights: told.rights, contributor: told.contributor },
  };
}

/** Each phrase as it crossed, the latest first. */
async function crossingsOf(db: Db, ids: readonly string[]): Promise<Map<string, Crossing[]>> {
  if (ids.length === 0) return new Map();
  const items = await db
    .select({ id: packItems.phraseId, hash: packItems.hash, played: packItems.played })
    .from(packItems)
    .innerJoin(packs, eq(packs.id, packItems.packId))
    .where(inArray(packItems.phraseId, [...ids]))
    .orderBy(desc(packs.madeAt), desc(packs.id));
  return rollup(
    items,
    (own) => own.map(({ hash, played }) => ({ hash, played })),
    ({ id }) => id,
  );
}

/** A phrase of a pack as it came, to be listened to. @throws LibraryError 404 where it has none of that id */
export async function theirsIn(zip: Uint8Array, id: string): Promise<{ name: string; clip: Clip }> {
  const { phrases: all } = await compute('packIn', zip);
  const found = all.find(({ told }) => told.id === id);
  if (!found?.clip) throw notFound('phrase');
  return { name: found.told.name, clip: found.clip };
}
