import { and, eq, inArray } from 'drizzle-orm';
import type { Role } from '../../core/split/roles.ts';
import type { Db } from '../db/client.ts';
import { basketItems, packItems, packs, phraseParents, phrases, takes, weaves } from '../db/schema.ts';
import { LibraryError, notFound } from './errors.ts';
import { basketsUsing, weavesUsing } from './phrases/places.ts';

/** Something in a lineage: what was captured, made of it, and where it went. */
export interface LineageNode {
  id: string;
  kind: 'take' | 'phrase' | 'weave' | 'basket' | 'pack';
  name: string;
  /** Of a phrase. */
  role: Role | null;
  /** Set aside or discarded: it is there still, and not used. */
  isAside: boolean;
}

/** From what into what, and by what was done; nothing where it only went there. */
export interface LineageLink {
  from: string;
  to: string;
  done: string;
}

export interface Lineage {
  /** What it is the lineage of. */
  of: string;
  nodes: LineageNode[];
  links: LineageLink[];
  /** Whether there is more than is told. */
  more: boolean;
}

/** So many phrases are told of: more can no longer be read as a drawing. */
const MOST_PHRASES = 120;

/**
 * What a phrase, or the phrases of a weave, came from, and what came of them: takes, parents and children over all generations,
 * the weaves and baskets they stand in and the packs they left in.
 * @throws LibraryError 400 where neither is asked for, 404
 */
export async function lineageOf(
  db: Db,
  asked: { phraseId?: string | undefined; weaveId?: string | undefined },
): Promise<Lineage> {
  const of = asked.phraseId ?? asked.weaveId;
  if (of === undefined) throw new LibraryError(400, 'A lineage is of a phrase or of a weave.');
  const first = asked.phraseId ? [asked.phraseId] : await phrasesOfWeave(db, of);
  if (first.length === 0) return { of, nodes: [], links: [], more: false };
  const above = await generations(db, first, 'up');
  const below = await generations(db, first, 'down');
  const ids = [...new Set([...first, ...above, ...below])].slice(0, MOST_PHRASES);
  const told = await phraseNodes(db, ids);
  if (asked.phraseId && !told.some(({ node }) => node.id === asked.phraseId)) throw notFound('phrase');
  const made = await linksAmong(db, ids);
  const hasParent = new Set(made.map(({ to }) => to));
  // What was made of others came from them: that it has a take of its own to stand in says nothing.
  const captured = told.filter(({ node }) => !hasParent.has(node.id));
  const takeNodes = await takesOf(db, [...new Set(captured.map(({ takeId }) => takeId))]);
  const parts = [
    {
      nodes: takeNodes,
      links: captured.map(({ node, takeId }) => ({ from: takeId, to: node.id, done: '' })),
    },
    { nodes: told.map(({ node }) => node), links: made },
    reached(await weavesUsing(db, ids), 'weave'),
    reached(await basketsUsing(db, ids), 'basket'),
    await packsWith(db, ids),
  ];
  const nodes = parts.flatMap((part) => part.nodes);
  const known = new Set(nodes.map(({ id }) => id));
  return {
    of,
    nodes,
    links: parts.flatMap((part) => part.links).filter(({ from, to }) => known.has(from) && known.has(to)),
    more: first.length + above.length + below.length > MOST_PHRASES,
  };
}

async function phrasesOfWeave(db: Db, id: string): Promise<string[]> {
  const [row] = await db.select({ weave: weaves.weave }).from(weaves).where(eq(weaves.id, id));
  if (!row) throw notFound('weave');
  return [...new Set(row.weave.cells.flatMap(({ phrase, fill }) => (fill ? [phrase, fill] : [phrase])))];
}

/** All parents' parents, or children's children; each once, nearer ones first. */
async function generations(db: Db, from: readonly string[], way: 'up' | 'down'): Promise<string[]> {
  const seen = new Set(from);
  const [here, there] =
    way === 'up'
      ? [phraseParents.phraseId, phraseParents.parentPhraseId]
      : [phraseParents.parentPhraseId, phraseParents.phraseId];
  let front = [...from];
  while (front.length > 0 && seen.size < from.length + MOST_PHRASES) {
    const rows = await db.select({ id: there }).from(phraseParents).where(inArray(here, front));
    front = [...new Set(rows.flatMap(({ id }) => id ?? []))].filter((id) => !seen.has(id));
    for (const id of front) seen.add(id);
  }
  return [...seen].filter((id) => !from.includes(id));
}

async function phraseNodes(db: Db, ids: readonly string[]) {
  const rows = await db
    .select({
      id: phrases.id,
      name: phrases.name,
      role: phrases.role,
      state: phrases.state,
      takeId: phrases.takeId,
    })
    .from(phrases)
    .where(inArray(phrases.id, [...ids]));
  return rows.map(({ id, name, role, state, takeId }) => ({
    takeId,
    node: { id, kind: 'phrase' as const, name, role, isAside: state === 'discarded' },
  }));
}

async function linksAmong(db: Db, ids: readonly string[]): Promise<LineageLink[]> {
  const rows = await db
    .select({ from: phraseParents.parentPhraseId, to: phraseParents.phraseId, done: phraseParents.done })
    .from(phraseParents)
    .where(and(inArray(phraseParents.phraseId, [...ids]), inArray(phraseParents.parentPhraseId, [...ids])));
  return rows.flatMap(({ from, ...rest }) => (from ? [{ from, ...rest }] : []));
}

async function takesOf(db: Db, ids: readonly string[]): Promise<LineageNode[]> {
  const rows = await db
    .select({ id: takes.id, name: takes.name, isAside: takes.aside })
    .from(takes)
    .where(inArray(takes.id, [...ids]));
  return rows.map((row) => ({ ...row, kind: 'take' as const, role: null }));
}

interface Reached {
  nodes: LineageNode[];
  links: LineageLink[];
}

/** The weaves that have one of the phrases in a cell. */
/** The packs that one of the phrases left in, with the basket they were made of, or came in with. */
async function packsWith(db: Db, ids: readonly string[]): Promise<Reached> {
  const rows = await db
    .select({
      id: packs.id,
      title: packs.title,
      madeAt: packs.madeAt,
      basketId: packs.basketId,
      phrase: packItems.phraseId,
      direction: packs.direction,
    })
    .from(packItems)
    .innerJoin(packs, eq(packs.id, packItems.packId))
    .where(inArray(packItems.phraseId, [...ids]))
    .orderBy(packs.madeAt);
  const inBasket = await db
    .select({ basketId: basketItems.basketId, phrase: basketItems.phraseId })
    .from(basketItems)
    .where(inArray(basketItems.phraseId, [...ids]));
  const isIn = new Set(inBasket.map(({ basketId, phrase }) => `${basketId} ${phrase}`));
  const sent = new Set(rows.flatMap(({ direction, phrase }) => (direction === 'out' ? [phrase] : [])));
  // What had gone out before a pack came in did not come with it.
  const shown = rows.filter(({ direction, phrase }) => direction === 'out' || !sent.has(phrase));
  const found = reached(
    shown.map(({ id, title, madeAt, phrase, direction }) => ({
      ...{ id, phrase, isAside: false },
      name: `${title}, ${direction === 'in' ? 'came in ' : ''}${madeAt.toISOString().slice(0, 10)}`,
    })),
    'pack',
  );
  // What stands in its basket still comes through it.
  const links = shown.map(({ id, basketId, phrase, direction }) =>
    direction === 'in'
      ? { from: id, to: phrase, done: '' }
      : { from: basketId && isIn.has(`${basketId} ${phrase}`) ? basketId : phrase, to: id, done: '' },
  );
  const seen = new Set<string>();
  const once = ({ from, to }: LineageLink) => !seen.has(from + to) && seen.add(from + to);
  return { nodes: found.nodes, links: links.filter(once) };
}

function reached(
  rows: readonly { id: string; name: string; isAside: boolean; phrase: string }[],
  kind: LineageNode['kind'],
): Reached {
  const nodes = new Map(rows.map(({ id, name, isAside }) => [id, { id, kind, name, role: null, isAside }]));
  return {
    nodes: [...nodes.values()],
    links: rows.map(({ id, phrase }) => ({ from: phrase, to: id, done: '' })),
  };
}
