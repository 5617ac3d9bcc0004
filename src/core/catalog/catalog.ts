import { GM_FAMILIES } from '../midi/gm.ts';
import { PURPOSES } from '../music/form.ts';
import { MODES, type Key, type Mode } from '../music/key.ts';
import { UNPITCHED, type Role } from '../split/roles.ts';
import { FEATURES, featureAt, unpackFeatures } from './features.ts';
import { FINGERPRINT, unpackFingerprint } from './fingerprint.ts';

/** What a phrase tells of itself to be found by. */
export interface CatalogRow {
  id: string;
  name: string;
  /** Drafts are known, and not found. */
  state: 'draft' | 'kept' | 'discarded';
  role: Role;
  /** As it is heard. */
  key: Key | null;
  bpm: number;
  /** "4/4". */
  meter: string;
  bars: number;
  program: number;
  hasPickup: boolean;
  /** " I V7 vi ", or empty. */
  numerals: string;
  tags: readonly string[];
  take: string;
  file: string;
  part: string;
  source: string | null;
  project: string | null;
  contributor: string | null;
  rights: string;
  sheaf: string | null;
  /** 1..5, 0 for passed over. */
  rating: number | null;
  /** Baskets it is in. */
  used: number;
  /** Milliseconds since 1970, as `createdAt`. */
  heardAt: number | null;
  createdAt: number;
}

/** What a phrase is compared by; empty where it is not known yet. */
export interface CatalogMarks {
  id: string;
  /** `packFeatures`, `harmonyProfile`, `packFingerprint`. */
  features: Uint8Array;
  profile: Uint8Array;
  fingerprint: Uint8Array;
}

/** A key as a value of its facet: "9 minor". */
export function keyWord({ tonic, mode }: Key): string {
  return `${tonic} ${mode}`;
}

/** The key that a value of the facet says; null of none. */
export function keyOfWord(word: string): Key | null {
  const [tonic, mode] = word.split(' ');
  return MODES.includes(mode as Mode) ? { tonic: Number(tonic), mode: mode as Mode } : null;
}

/** What a list can be narrowed by. Of each a phrase has one value at the most, but for its tags. */
export const FACETS = [
  'roles',
  'keys',
  'tempos',
  'meters',
  'bars',
  'purposes',
  'tags',
  'sources',
  'projects',
  'people',
  'rights',
  'feels',
  'densities',
  'registers',
  'sounds',
  'loops',
  'pickups',
  'used',
  'heard',
  'ratings',
] as const;
export type FacetName = (typeof FACETS)[number];

/** Facets of one value whose code stands in a column. */
export type CodedFacet = Exclude<FacetName, 'tags'>;
export const CODED_FACETS = FACETS.filter((name): name is CodedFacet => name !== 'tags');

/** All columns of codes: those of facets, and texts that stand with many phrases. */
const COLUMNS = [...CODED_FACETS, 'numerals', 'parts', 'takes', 'files', 'tagSets'] as const;
export type Column = (typeof COLUMNS)[number];

/** Lower ends of tempo bands lie so far apart, in BPM. */
export const TEMPO_BAND = 10;

export const FEELS = ['straight', 'light swing', 'medium swing', 'triplet swing'] as const;
/** Up to these long shares of a pair of eighths (common practice). */
const FEEL_ENDS = [0.535, 0.585, 0.645];

export const DENSITIES = ['calm', 'middle', 'busy'] as const;
export const REGISTERS = ['low', 'middle', 'high'] as const;

const LOOP = 'loop';

const NONE = new Uint8Array();

/** Words by number, from 1; 0 is none. */
export interface Dictionary {
  words: string[];
  codes: Map<string, number>;
}

/**
 * Everything a library's phrases are found by, as columns: a quarter of a million are looked through in milliseconds. A phrase keeps
 * its place once it has one.
 */
export interface Catalog {
  /** Counts changes. */
  version: number;
  size: number;
  /** Phrases of which it is known what they are compared by. */
  marked: number;
  ids: string[];
  places: Map<string, number>;
  /** In lower case. */
  names: string[];
  /** 0 draft, 1 kept, 2 discarded. */
  states: Uint8Array;
  dictionaries: Record<Column | 'tags' | 'sheaves', Dictionary>;
  coded: Record<Column, Uint32Array>;
  /** Codes of tags, by the code of the set that a phrase has of them. */
  tagSets: (readonly number[])[];
  /** The tag each tag stands under, by code; 0 for none. */
  tagParents: number[];
  /** Codes of the sheaves they are in; 0 for none. */
  sheaves: Uint32Array;
  bpm: Float32Array;
  used: Uint16Array;
  created: Float64Array;
  /** `FEATURES.length` a phrase; NaN where they are not known. */
  features: Float32Array;
  /** Profiles one after the other, where each begins, and how long it is. */
  profiles: { bytes: Uint8Array; used: number; starts: Uint32Array; lengths: Uint16Array };
  /** `FINGERPRINT` a phrase; 0 throughout where they are not known. */
  fingerprints: Uint32Array;
  /** The version of the catalog in which each phrase was put in last. */
  versions: Uint32Array;
  /** Places by name, and those that have to be put among them again. */
  byName: Int32Array;
  unsorted: Set<number>;
  /** Where the thirds of each role lie, and of which version. */
  thirds: {
    density: Map<number, [number, number]>;
    register: Map<number, [number, number]>;
    version: number;
    /** So many phrases were known then. */
    from: number;
  };
}

const STATES = ['draft', 'kept', 'discarded'] as const;

export function stateCode(state: CatalogRow['state']): number {
  return STATES.indexOf(state);
}

export function emptyCatalog(): Catalog {
  const dictionary = (): Dictionary => ({ words: [''], codes: new Map() });
  return {
    version: 0,
    size: 0,
    marked: 0,
    ids: [],
    places: new Map(),
    names: [],
    states: new Uint8Array(0),
    dictionaries: Object.fromEntries(
      [...COLUMNS, 'tags', 'sheaves'].map((name) => [name, dictionary()]),
    ) as Catalog['dictionaries'],
    coded: Object.fromEntries(COLUMNS.map((name) => [name, new Uint32Array(0)])) as Catalog['coded'],
    tagSets: [[]],
    tagParents: [],
    sheaves: new Uint32Array(0),
    bpm: new Float32Array(0),
    used: new Uint16Array(0),
    created: new Float64Array(0),
    features: new Float32Array(0),
    profiles: { bytes: NONE, used: 0, starts: new Uint32Array(0), lengths: new Uint16Array(0) },
    fingerprints: new Uint32Array(0),
    versions: new Uint32Array(0),
    byName: new Int32Array(0),
    unsorted: new Set(),
    thirds: { density: new Map(), register: new Map(), version: -1, from: 0 },
  };
}

/** Puts phrases in, or what has become of them. */
export function putRows(catalog: Catalog, rows: readonly CatalogRow[]): void {
  if (rows.length === 0) return;
  catalog.version++;
  for (const row of rows) putRow(catalog, row);
}

/** Puts in what phrases are compared by. A phrase that is not there has none. */
export function putMarks(catalog: Catalog, marks: readonly CatalogMarks[]): void {
  if (marks.length === 0) return;
  catalog.version++;
  for (const one of marks) {
    const at = catalog.places.get(one.id);
    if (at !== undefined) putMarksAt(catalog, at, one);
  }
}

/** Says which tag stands under which. */
export function putTagTree(catalog: Catalog, tags: readonly { name: string; under: string | null }[]): void {
  const parents = Array<number>(catalog.dictionaries.tags.words.length).fill(0);
  for (const { name, under } of tags)
    if (under) parents[codeOf(catalog, 'tags', name)] = codeOf(catalog, 'tags', under);
  if (parents.some((parent, code) => parent !== (catalog.tagParents[code] ?? 0))) catalog.version++;
  catalog.tagParents = parents;
}

/** A tag and all that it stands under, itself first. */
export function tagLine(catalog: Catalog, code: number): number[] {
  const line: number[] = [];
  for (let at = code; at > 0 && !line.includes(at); at = catalog.tagParents[at] ?? 0) line.push(at);
  return line;
}

function putRow(catalog: Catalog, row: CatalogRow): void {
  let at = catalog.places.get(row.id);
  if (at === undefined) {
    at = catalog.size++;
    catalog.places.set(row.id, at);
    if (at >= catalog.states.length) grow(catalog);
    catalog.features.fill(NaN, at * FEATURES.length, (at + 1) * FEATURES.length);
  }
  catalog.versions[at] = catalog.version;
  catalog.ids[at] = row.id;
  const name = row.name.toLowerCase();
  if (catalog.names[at] !== name) catalog.unsorted.add(at);
  catalog.names[at] = name;
  catalog.states[at] = stateCode(row.state);
  catalog.sheaves[at] = row.sheaf ? codeOf(catalog, 'sheaves', row.sheaf) : 0;
  catalog.bpm[at] = row.bpm;
  catalog.used[at] = row.used;
  catalog.created[at] = row.createdAt;
  for (const [facet, value] of Object.entries(valuesOf(row)))
    catalog.coded[facet as CodedFacet][at] = value === null ? 0 : codeOf(catalog, facet as CodedFacet, value);
  const { numerals, part, take, file } = row;
  const texts = { numerals, parts: part, takes: take, files: file };
  for (const [column, text] of Object.entries(texts))
    catalog.coded[column as Column][at] = text ? codeOf(catalog, column as Column, text) : 0;
  catalog.coded.tagSets[at] = tagSetOf(catalog, row.tags);
  // In another role it is in another third.
  codeThirdsOf(catalog, at);
}

/** The code of a set of tags; 0 for none. */
function tagSetOf(catalog: Catalog, tags: readonly string[]): number {
  if (tags.length === 0) return 0;
  const codes = tags.map((tag) => codeOf(catalog, 'tags', tag)).sort((a, b) => a - b);
  const set = codeOf(catalog, 'tagSets', codes.join(' '));
  catalog.tagSets[set] ??= codes;
  return set;
}

function putMarksAt(catalog: Catalog, at: number, { features, profile, fingerprint }: CatalogMarks): void {
  // What another version of the methods wrote is not known yet.
  const known = features.length === 4 * FEATURES.length ? unpackFeatures(features) : null;
  catalog.marked += Number(known !== null) - Number(isMarked(catalog, at));
  if (known) catalog.features.set(known, at * FEATURES.length);
  else catalog.features.fill(NaN, at * FEATURES.length, (at + 1) * FEATURES.length);
  if (fingerprint.length === 4 * FINGERPRINT)
    catalog.fingerprints.set(unpackFingerprint(fingerprint), at * FINGERPRINT);
  else catalog.fingerprints.fill(0, at * FINGERPRINT, (at + 1) * FINGERPRINT);
  putProfile(catalog, at, profile);
  catalog.versions[at] = catalog.version;
  codeThirdsOf(catalog, at);
  const swing = known?.[SWING] ?? -1;
  catalog.coded.feels[at] = swing < 0 ? 0 : codeOf(catalog, 'feels', feelOf(swing));
}

/** A profile stands where the one before it stood where there is room, else at the end. */
function putProfile({ profiles }: Catalog, at: number, profile: Uint8Array): void {
  const { starts, lengths } = profiles;
  if (profile.length > lengths[at]!) {
    const end = profiles.used + profile.length;
    if (end > profiles.bytes.length) {
      const longer = new Uint8Array(Math.max(2 * profiles.bytes.length, end, FIRST_ROOM));
      longer.set(profiles.bytes);
      profiles.bytes = longer;
    }
    starts[at] = profiles.used;
    profiles.used = end;
  }
  lengths[at] = profile.length;
  profiles.bytes.set(profile, starts[at]);
}

/** The profile of a phrase's harmony; empty where it has none, or none is known. */
export function profileAt({ profiles }: Catalog, at: number): Uint8Array {
  const start = profiles.starts[at]!;
  return profiles.bytes.subarray(start, start + profiles.lengths[at]!);
}

/** Whether it is known what a phrase is compared by. */
export function isMarked(catalog: Catalog, at: number): boolean {
  return !Number.isNaN(catalog.features[at * FEATURES.length]!);
}

/** The value of each facet but those that its marks tell. */
function valuesOf(
  row: CatalogRow,
): Record<Exclude<CodedFacet, 'feels' | 'densities' | 'registers'>, string | null> {
  const { tags } = row;
  return {
    roles: row.role,
    keys: row.key ? keyWord(row.key) : null,
    tempos: String(Math.floor(row.bpm / TEMPO_BAND) * TEMPO_BAND),
    meters: row.meter,
    bars: String(row.bars),
    purposes: tags.find((tag) => (PURPOSES as readonly string[]).includes(tag)) ?? null,
    sources: row.source,
    projects: row.project,
    people: row.contributor,
    rights: row.rights.trim() ? 'said' : 'not said',
    sounds: UNPITCHED.has(row.role) ? null : (GM_FAMILIES[row.program >> 3] ?? null),
    loops: tags.includes(LOOP) ? 'loop' : 'no loop',
    pickups: row.hasPickup ? 'with a pickup' : 'no pickup',
    used: row.used > 0 ? 'used' : 'never',
    heard: row.heardAt === null ? 'never' : 'heard',
    ratings: row.rating === null ? null : String(row.rating),
  };
}

const [SWING, DENSITY, MEDIAN_PITCH] = [featureAt('swing'), featureAt('density'), featureAt('medianPitch')];

/** "Straight" up to 53 %, and so on (common practice). */
export function feelOf(swing: number): (typeof FEELS)[number] {
  const at = FEEL_ENDS.findIndex((end) => swing < end);
  return FEELS[at < 0 ? FEELS.length - 1 : at]!;
}

function codeOf(catalog: Catalog, name: keyof Catalog['dictionaries'], word: string): number {
  const { words, codes } = catalog.dictionaries[name];
  let code = codes.get(word);
  if (code === undefined) {
    code = words.length;
    words.push(word);
    codes.set(word, code);
  }
  return code;
}

const FIRST_ROOM = 1024;

function grow(catalog: Catalog): void {
  const room = Math.max(FIRST_ROOM, catalog.states.length * 2);
  const larger = <Column extends Uint8Array | Uint16Array | Uint32Array | Float32Array | Float64Array>(
    column: Column,
    width = 1,
  ): Column => {
    const next = new (column.constructor as new (length: number) => Column)(room * width);
    next.set(column);
    return next;
  };
  catalog.states = larger(catalog.states);
  catalog.versions = larger(catalog.versions);
  catalog.profiles.starts = larger(catalog.profiles.starts);
  catalog.profiles.lengths = larger(catalog.profiles.lengths);
  catalog.sheaves = larger(catalog.sheaves);
  catalog.bpm = larger(catalog.bpm);
  catalog.used = larger(catalog.used);
  catalog.created = larger(catalog.created);
  catalog.features = larger(catalog.features, FEATURES.length);
  catalog.fingerprints = larger(catalog.fingerprints, FINGERPRINT);
  for (const name of Object.keys(catalog.coded) as (keyof Catalog['coded'])[])
    catalog.coded[name] = larger(catalog.coded[name]);
}

/** The thirds are looked for again where a hundredth of what is known is new; in a small library, always. */
const MUCH = 100;
const LARGE = 5000;

/** Fewer of a role have no thirds. */
const FEWEST = 6;

/** Says of every phrase in which third of its role its density and its register are. Before one finds by them. */
export function codeThirds(catalog: Catalog): void {
  const { thirds, size, marked } = catalog;
  // In a large library a few phrases move no third: they are coded where they are put in.
  if (thirds.version === catalog.version || Math.abs(marked - thirds.from) * MUCH < marked - LARGE) return;
  thirds.density = thirdsBy(catalog, DENSITY);
  thirds.register = thirdsBy(catalog, MEDIAN_PITCH);
  thirds.version = catalog.version;
  thirds.from = marked;
  for (let at = 0; at < size; at++) codeThirdsOf(catalog, at);
}

function codeThirdsOf(catalog: Catalog, at: number): void {
  const role = catalog.coded.roles[at]!;
  const isPitched = !UNPITCHED.has(catalog.dictionaries.roles.words[role] as Role);
  const code = (facet: 'densities' | 'registers', feature: number, words: readonly string[]) => {
    const ends = (facet === 'densities' ? catalog.thirds.density : catalog.thirds.register).get(role);
    const value = catalog.features[at * FEATURES.length + feature]!;
    const third = !ends || Number.isNaN(value) ? -1 : value <= ends[0] ? 0 : value <= ends[1] ? 1 : 2;
    catalog.coded[facet][at] = third < 0 ? 0 : codeOf(catalog, facet, words[third]!);
  };
  code('densities', DENSITY, DENSITIES);
  if (isPitched) code('registers', MEDIAN_PITCH, REGISTERS);
  else catalog.coded.registers[at] = 0;
}

function thirdsBy(catalog: Catalog, feature: number): Map<number, [number, number]> {
  const byRole = new Map<number, number[]>();
  for (let at = 0; at < catalog.size; at++) {
    const value = catalog.features[at * FEATURES.length + feature]!;
    if (Number.isNaN(value)) continue;
    const role = catalog.coded.roles[at]!;
    const values = byRole.get(role);
    if (values) values.push(value);
    else byRole.set(role, [value]);
  }
  const ends = new Map<number, [number, number]>();
  for (const [role, values] of byRole) {
    if (values.length < FEWEST) continue;
    const sorted = Float64Array.from(values).sort();
    ends.set(role, [sorted[Math.floor(sorted.length / 3)]!, sorted[Math.floor((2 * sorted.length) / 3)]!]);
  }
  return ends;
}

const changed = new WeakMap<Catalog, { version: number; from: number; places: Int32Array }>();

/** Places of phrases that were put in after a version. Several ask for the same one after the other. */
export function placesSince(catalog: Catalog, from: number): Int32Array {
  const { version, versions, size } = catalog;
  const before = changed.get(catalog);
  if (before?.version === version && before.from === from) return before.places;
  const places = new Int32Array(size);
  let count = 0;
  for (let at = 0; at < size; at++) if (versions[at]! > from) places[count++] = at;
  const now = { version, from, places: places.slice(0, count) };
  changed.set(catalog, now);
  return now.places;
}
