/** A file that was mirrored: whose it is, where it stands within the mirror, and what was written there last. */
export interface MirrorRow {
  phraseId: string;
  /** The piece of its kit, where each has a file; empty otherwise. */
  piece: string;
  path: string;
  sha256: string;
  /** Ours, or one of ours that somebody has changed since. */
  state: 'ours' | 'came back';
}

/** A file that should stand in the mirror: the path it would have if it were new. */
export type MirrorWanted = Omit<MirrorRow, 'state'>;

/** What is to be done to a folder so that it mirrors a basket; what is not named stays as it is. */
export interface MirrorPlan {
  /** From, to: within the folder. */
  moves: { from: string; to: string }[];
  writes: MirrorWanted[];
  /** The rows that are known afterward. */
  rows: MirrorRow[];
  /** Files that are nobody's here: left alone, and offered for intake. */
  foreign: string[];
}

/** Where what has left the basket goes. */
export const SET_ASIDE = 'set-aside';

/**
 * How a folder comes into step with a basket. A name once mirrored stays while its phrase is in the basket, unless names are tidied.
 * What somebody changed is never overwritten: it stays where it is, and ours is written beside it. What leaves the basket goes to
 * `set-aside/`. What is not ours is left alone.
 * @param known rows of what was written before
 * @param wanted what should stand there, in order
 * @param disk checksums of the files that stand there, by their paths
 */
export function planMirror(
  known: readonly MirrorRow[],
  wanted: readonly MirrorWanted[],
  disk: ReadonlyMap<string, string>,
  { tidy = false }: { tidy?: boolean } = {},
): MirrorPlan {
  const plan: MirrorPlan = { moves: [], writes: [], rows: [], foreign: [] };
  const names = takenNames(disk.keys());
  const ours = new Map(known.filter(({ state }) => state === 'ours').map((row) => [keyOf(row), row]));
  // What came back before stays known, as long as it is there and its phrase is.
  const isWanted = new Set(wanted.map(({ phraseId }) => phraseId));
  const back = known.filter(
    ({ state, path, phraseId }) => state === 'came back' && disk.has(path) && isWanted.has(phraseId),
  );
  plan.rows.push(...back);

  const wantedKeys = new Set(wanted.map(keyOf));
  for (const row of ours.values()) {
    if (wantedKeys.has(keyOf(row))) continue;
    // A file that somebody changed is theirs now: it stays, as one that is not ours.
    if (disk.get(row.path) !== row.sha256) continue;
    plan.moves.push({ from: row.path, to: names.claim(`${SET_ASIDE}/${baseName(row.path)}`) });
    names.free(row.path);
  }
  // Tidied, everything of ours goes where it would be if it were new: none stands in the other's way.
  for (const row of ours.values()) {
    if (!wantedKeys.has(keyOf(row))) continue;
    if (tidy && disk.get(row.path) === row.sha256) names.free(row.path);
    // A name stays that of its phrase, also where somebody has taken the file away.
    else if (!tidy && !disk.has(row.path)) names.hold(row.path);
  }
  for (const one of wanted) placeOne(one, ours.get(keyOf(one)), { disk, plan, names, tidy });

  const accounted = new Set([...plan.rows.map(({ path }) => path), ...plan.moves.map(({ from }) => from)]);
  plan.foreign = [...disk.keys()].filter((path) => !accounted.has(path) && !path.startsWith(`${SET_ASIDE}/`));
  return plan;
}

interface Placing {
  disk: ReadonlyMap<string, string>;
  plan: MirrorPlan;
  names: ReturnType<typeof takenNames>;
  tidy: boolean;
}

function placeOne(
  wanted: MirrorWanted,
  row: MirrorRow | undefined,
  { disk, plan, names, tidy }: Placing,
): void {
  const keep = (path: string) => plan.rows.push({ ...wanted, path, state: 'ours' });
  if (!row) {
    // Written, and broken off before it was known: it is ours already.
    if (disk.get(wanted.path) === wanted.sha256 && !plan.rows.some(({ path }) => path === wanted.path))
      return void keep(wanted.path);
    const path = names.claim(wanted.path);
    plan.writes.push({ ...wanted, path });
    return void keep(path);
  }
  const there = disk.get(row.path);
  const isChanged = there !== undefined && there !== row.sha256 && there !== wanted.sha256;
  if (isChanged) {
    plan.rows.push({ ...row, sha256: there, state: 'came back' });
    const path = names.claim(tidy ? wanted.path : row.path);
    plan.writes.push({ ...wanted, path });
    return void keep(path);
  }
  const path = tidy ? names.claim(wanted.path) : row.path;
  if (there !== undefined && path !== row.path) plan.moves.push({ from: row.path, to: path });
  if (there !== wanted.sha256) plan.writes.push({ ...wanted, path });
  keep(path);
}

/** The names that something stands at, whatever the case of their letters: two may differ by it alone where the disk allows that. */
function takenNames(paths: Iterable<string>) {
  const count = new Map<string, number>();
  const add = (path: string, by: number) => count.set(lower(path), (count.get(lower(path)) ?? 0) + by);
  for (const path of paths) add(path, 1);
  return {
    hold: (path: string) => void add(path, 1),
    free: (path: string) => void add(path, -1),
    /** A path that nothing stands at, with a number before its ending where it has to be; taken from now on. */
    claim: (path: string): string => {
      const dot = path.lastIndexOf('.');
      for (let n = 1; ; n++) {
        const tried = n === 1 ? path : `${path.slice(0, dot)}-${n}${path.slice(dot)}`;
        if ((count.get(lower(tried)) ?? 0) > 0) continue;
        add(tried, 1);
        return tried;
      }
    },
  };
}

const lower = (path: string) => path.toLowerCase();
const baseName = (path: string) => path.slice(path.lastIndexOf('/') + 1);
const keyOf = ({ phraseId, piece }: Pick<MirrorRow, 'phraseId' | 'piece'>) => `${phraseId} ${piece}`;
