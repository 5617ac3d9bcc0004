import type { Thing } from '../../../core/exchange/things.ts';
import { asc, eq, inArray } from 'drizzle-orm';
import type { Check } from '../../../core/exchange/checks.ts';
import { outOf } from '../../../core/exchange/card.ts';
import type { HandOff, PhraseOut } from '../../../core/exchange/handoff.ts';
import type { OutFileTold } from '../../../core/exchange/out-files.ts';
import { OUT, type OutOptions } from '../../../core/exchange/out-options.ts';
import { scoped, WHOLE, type OutScope } from '../../../core/exchange/scope.ts';
import type { SheetKind } from '../../../core/notation/sheet.ts';
import { safeFileName } from '../../../core/phrase/naming.ts';
import { strictestRights } from '../../../core/phrase/rights.ts';
import { wovenOf } from '../../../core/weave/woven.ts';
import { plural } from '../../../core/words.ts';
import { compute } from '../../compute/pool.ts';
import type { SheetOut } from '../../compute/sheet-out.ts';
import type { ThingOut } from '../../compute/things-out.ts';
import type { Db } from '../../db/client.ts';
import { contributors, phrases, projects, sheaves, type RememberedSounds } from '../../db/schema.ts';
import { basketRow } from './baskets.ts';
import { basketPhrases, phrasesOut } from './phrases-out.ts';
import { LibraryError, notFound } from '../errors.ts';
import { lastWayOut } from '../house.ts';
import { getPhrase } from '../phrases/phrases.ts';
import type { Project } from '../projects.ts';
import { getRecipient } from './recipients.ts';
import { keyOfTake, storedTake } from '../takes/takes.ts';
import { getWeave } from '../weaves.ts';

/** Something that leaves: what of it, for whom, and how. */
export interface LeavingRequest {
  kind: Thing;
  id: string;
  scope?: OutScope;
  /** Null is nobody in particular; undefined is whom it is for by itself. */
  recipientId?: string | null;
  /** Undefined is as things last left for them. */
  out?: OutOptions | undefined;
  /** Programs by the names of parts, in the place of their own. */
  programs?: Readonly<Record<string, number>>;
  /** To be listened to here: kits stay on our own keys. */
  isHeard?: boolean;
}

/** Something as it would leave, and what a person can choose of it. */
export interface LeavingPlan {
  title: string;
  recipientId: string | null;
  projectId: string | null;
  out: OutOptions;
  /** All of its parts, chosen or not. */
  parts: { id: string; name: string; role: string; program: number; bars: number }[];
  bars: number;
  sections: ThingOut['sections'];
  files: (OutFileTold & { path: string })[];
  /** What stays, and why. */
  stays: string[];
  checks: Check[];
  /** Sounds that were last used for them, by the names of parts. */
  programs: Readonly<Record<string, number>>;
}

/** What would be written, before anything is. @throws LibraryError 404, 422 */
export async function planLeaving(db: Db, request: LeavingRequest): Promise<LeavingPlan> {
  const { handOff, whole, thing, recipientId, projectId, programs } = await loadLeaving(db, request);
  const { files, checks } = await compute('planOf', handOff);
  const chosen = new Set(handOff.phrases.map(({ id }) => id));
  const left = whole.filter(({ id }) => !chosen.has(id));
  const isChosen = (id: string) => request.scope?.parts?.includes(id) ?? true;
  return {
    ...{ title: handOff.title, recipientId, projectId, programs, files, checks, out: handOff.out },
    parts: whole.map(({ id, name, clip, bars }) => ({
      id,
      name,
      role: clip.role,
      program: clip.program,
      bars,
    })),
    bars: thing.bars,
    sections: thing.sections,
    stays: [
      ...thing.aside.map(({ reason, notes }) => `${plural(notes, 'note')} set aside: ${reason}`),
      ...left.map(({ id, name }) => `${name}: ${isChosen(id) ? 'rests in these bars' : 'not chosen'}`),
    ],
  };
}

/** The files by themselves: one as it is, several in a ZIP. @throws LibraryError 404, 422 */
export async function leavingFiles(
  db: Db,
  request: LeavingRequest,
): Promise<{ file: string; bytes: Uint8Array; projectId: string | null }> {
  const { handOff, projectId } = await loadLeaving(db, request);
  if (handOff.phrases.length === 0) throw new LibraryError(422, 'There is nothing chosen that has notes.');
  return { ...(await compute('filesOut', handOff)), projectId };
}

/** A sheet of something, for whoever reads. @throws LibraryError 404, 422 */
export async function leavingSheet(db: Db, request: LeavingRequest, as: SheetKind): Promise<SheetOut> {
  const { handOff, thing } = await loadLeaving(db, request);
  // Words stand at ticks of the whole: of some of its bars they would stand elsewhere.
  const words = request.scope?.bars ? [] : (thing.words ?? []);
  return compute('sheetOut', handOff, as, safeFileName(handOff.title), words);
}

/** Something on its way out, and what it is as a whole. @throws LibraryError 404, 422 */
export async function loadLeaving(db: Db, request: LeavingRequest) {
  const { scope = WHOLE } = request;
  const basket = request.kind === 'basket' ? await basketRow(db, request.id) : null;
  const recipientId =
    request.recipientId === undefined ? (basket?.basket.recipientId ?? null) : request.recipientId;
  const recipient = recipientId ? await getRecipient(db, recipientId) : null;
  const last = recipient ? recipient.out : await lastWayOut(db);
  const out = request.out ?? basket?.basket.out ?? last ?? (recipient ? outOf(recipient.card) : OUT);
  const { title, thing, project } = basket
    ? await basketOut(db, basket, out)
    : await thingOut(db, request.kind as Exclude<Thing, 'basket'>, request.id, out);
  const programs = request.programs ?? soundsFor(recipient?.sounds, project?.id ?? null);
  const whole = thing.phrases.map((phrase) => withProgram(phrase, programs));
  const handOff: HandOff = {
    title,
    pattern: basket?.basket.pattern ?? '{name}',
    madeAt: new Date().toISOString(),
    layout: 'flat',
    out,
    card: recipient && (request.isHeard ? { ...recipient.card, drumMap: [] } : recipient.card),
    recipient: recipient?.name ?? null,
    library: null,
    phrases: scoped(whole, scope),
  };
  return { handOff, whole, thing, recipientId, projectId: project?.id ?? null, programs };
}

function soundsFor(sounds: RememberedSounds | undefined, projectId: string | null) {
  return sounds?.[projectId ?? ''] ?? {};
}

function withProgram(phrase: PhraseOut, programs: Readonly<Record<string, number>>): PhraseOut {
  const program = programs[phrase.name];
  return program === undefined ? phrase : { ...phrase, clip: { ...phrase.clip, program } };
}

interface ToLeave {
  title: string;
  thing: ThingOut;
  project: Project | null;
}

async function basketOut(
  db: Db,
  found: Awaited<ReturnType<typeof basketRow>>,
  out: OutOptions,
): Promise<ToLeave> {
  const { basket, project } = found;
  const leaving = await basketPhrases(db, found, out.key);
  return { title: basket.name, thing: ofPhrases(leaving.map(({ phrase }) => phrase)), project };
}

async function thingOut(
  db: Db,
  kind: Exclude<Thing, 'basket'>,
  id: string,
  out: OutOptions,
): Promise<ToLeave> {
  switch (kind) {
    case 'take':
      return takeToLeave(db, id, out);
    case 'weave':
      return weaveToLeave(db, id);
    default:
      return phrasesToLeave(db, kind, id, out);
  }
}

async function takeToLeave(db: Db, id: string, out: OutOptions): Promise<ToLeave> {
  const { row, stored } = await storedTake(db, id);
  const told = {
    ...{ name: row.name, rights: row.rights, contributor: row.contributor ?? '' },
    ...{ key: keyOfTake(row), chart: row.asked.chart ?? '' },
  };
  return { title: row.name, thing: await compute('takeOut', stored, told, out.key, null), project: null };
}

async function weaveToLeave(db: Db, id: string): Promise<ToLeave> {
  const { weave, projectId } = await getWeave(db, id);
  const ids = [...new Set(weave.cells.flatMap(({ phrase, fill }) => (fill ? [phrase, fill] : [phrase])))];
  const found = [];
  for (const one of ids) {
    // A phrase that is no longer there leaves its cell empty, as on the sheet.
    const phrase = await getPhrase(db, one).catch((error: unknown) => {
      if (error instanceof LibraryError && error.status === 404) return null;
      throw error;
    });
    if (phrase) found.push(phrase);
  }
  const told = {
    id,
    rights: found.length > 0 ? strictestRights(found.map(({ rights }) => rights)) : '',
    contributor: await contributorsOf(db, ids),
  };
  const woven = found.map((phrase) => [phrase.id, wovenOf(phrase)] as const);
  if (weave.sections.length === 0) throw new LibraryError(422, 'The weave has no sections yet.');
  const thing = await compute('weaveOut', weave, woven, told);
  return { title: weave.title, thing, project: await projectOf(db, projectId) };
}

/** Whose some phrases are, by name. */
async function contributorsOf(db: Db, ids: readonly string[]): Promise<string> {
  if (ids.length === 0) return '';
  const rows = await db
    .selectDistinct({ name: contributors.name })
    .from(phrases)
    .innerJoin(contributors, eq(contributors.id, phrases.contributorId))
    .where(inArray(phrases.id, [...ids]))
    .orderBy(asc(contributors.name));
  return rows.map(({ name }) => name).join(', ');
}

async function phrasesToLeave(
  db: Db,
  kind: 'phrase' | 'sheaf',
  id: string,
  out: OutOptions,
): Promise<ToLeave> {
  const rows = await db
    .select({ id: phrases.id, name: phrases.name, state: phrases.state, projectId: phrases.projectId })
    .from(phrases)
    .where(eq(kind === 'phrase' ? phrases.id : phrases.sheafId, id))
    .orderBy(asc(phrases.createdAt), asc(phrases.name));
  const there = kind === 'phrase' ? rows : rows.filter(({ state }) => state === 'kept');
  if (there.length === 0) throw notFound(kind);
  const project = await projectOf(db, there[0]!.projectId);
  const found = await phrasesOut(
    db,
    there.map((row) => row.id),
    { key: out.key, project },
  );
  const thing = ofPhrases(found.map(({ phrase }) => phrase));
  return { title: kind === 'phrase' ? there[0]!.name : await sheafName(db, id), thing, project };
}

async function sheafName(db: Db, id: string): Promise<string> {
  const [sheaf] = await db.select({ name: sheaves.name }).from(sheaves).where(eq(sheaves.id, id));
  if (!sheaf) throw notFound('sheaf');
  return sheaf.name;
}

async function projectOf(db: Db, id: string | null): Promise<Project | null> {
  if (!id) return null;
  const [project] = await db.select().from(projects).where(eq(projects.id, id));
  return project ?? null;
}

function ofPhrases(found: PhraseOut[]): ThingOut {
  return { phrases: found, bars: Math.max(1, ...found.map(({ bars }) => bars)), sections: [], aside: [] };
}
