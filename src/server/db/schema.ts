import { type PhraseState } from '../../core/phrase/states.ts';
import { sql } from 'drizzle-orm';
import {
  type AnyPgColumn,
  bigint,
  boolean,
  customType,
  index,
  integer,
  jsonb,
  pgTable,
  primaryKey,
  real,
  text,
  timestamp,
  unique,
  uniqueIndex,
  uuid,
} from 'drizzle-orm/pg-core';
import type { Account, Asked } from '../../core/analyze/account.ts';
import type { ChangesChord } from '../../core/analyze/changes.ts';
import type { TakeFacts } from '../../core/capture/facts.ts';
import type { NameGuess } from '../../core/capture/name-guess.ts';
import type { CaptureFacts, RecordingPlan } from '../../core/capture/recording.ts';
import type { KeyFinding } from '../../core/analyze/key.ts';
import type { Reading } from '../../core/analyze/reading.ts';
import type { Key, Mode } from '../../core/music/key.ts';
import type { Timeline } from '../../core/music/timeline.ts';
import type { PersonRole } from '../../core/people/roles.ts';
import type { Comp } from '../../core/comp/document.ts';
import type { KeptHeard } from '../../core/sweep/sheet.ts';
import type { SweepPlan, SweepRunState, SweepSettings, SweepState } from '../../core/sweep/plan.ts';
import type { Weave } from '../../core/weave/weave.ts';
import type { FeelShape } from '../../core/normalize/feel.ts';
import type { Difference } from '../../core/normalize/difference.ts';
import type { Fitting } from '../../core/normalize/fitting.ts';
import type { House } from '../../core/normalize/house.ts';
import type { Recipe } from '../../core/normalize/recipe.ts';
import type { MirrorRow } from '../../core/exchange/mirror.ts';
import type { Card } from '../../core/exchange/card.ts';
import type { OutOptions, PackLayout } from '../../core/exchange/out-options.ts';
import type { OwnOut } from '../../core/exchange/own-out.ts';
import type { Base } from '../../core/split/base.ts';
import type { Correction } from '../../core/split/corrections.ts';
import type { Move, SingleMove } from '../../core/split/moves.ts';
import type { NoteSet } from '../../core/split/note-set.ts';
import type { Role } from '../../core/split/roles.ts';
import type { PitchPair } from '../../core/split/split.ts';

const bytea = customType<{ data: Uint8Array; driverData: Buffer }>({
  dataType: () => 'bytea',
  toDriver: (bytes) => Buffer.from(bytes),
  fromDriver: (buffer) => new Uint8Array(buffer),
});

const id = () => uuid('id').primaryKey();
const createdAt = () => timestamp('created_at', { withTimezone: true }).notNull().defaultNow();
const updatedAt = () => timestamp('updated_at', { withTimezone: true }).notNull().defaultNow();

/** People whose takes and phrases these are. */
export const contributors = pgTable('contributors', {
  id: id(),
  name: text('name').notNull().unique(),
  createdAt: createdAt(),
});

/** Devices, programs and folders that takes come from. */
export const sources = pgTable('sources', {
  id: id(),
  name: text('name').notNull().unique(),
  /** What its takes have where nobody says otherwise. */
  rights: text('rights').notNull().default(''),
  tags: jsonb('tags').$type<string[]>().notNull().default([]),
  createdAt: createdAt(),
});

/** What phrases are gathered for. */
export const projects = pgTable('projects', {
  id: id(),
  name: text('name').notNull().unique(),
  keyTonic: integer('key_tonic'),
  keyMode: text('key_mode').$type<Mode>(),
  bpm: real('bpm').notNull(),
  meterNumerator: integer('meter_numerator').notNull(),
  meterDenominator: integer('meter_denominator').notNull(),
  /** A chart as people type it. */
  chords: text('chords').notNull().default(''),
  createdAt: createdAt(),
});

/** The bytes that came in, kept for ever. One row a file, however many takes it holds. */
export const originals = pgTable('originals', {
  sha256: text('sha256').primaryKey(),
  bytes: bytea('bytes').notNull(),
  createdAt: createdAt(),
});

/** What a source was asked to play. */
export interface TakeAsked extends Asked {
  bpm?: number;
  key?: Key;
}

/** Moves of a take that are no longer its history: all of them, and after how many another way was taken. */
export interface DroppedMoves {
  moves: Move[];
  at: number;
}

/**
 * How many there are of what is counted at every look, as sums of shards, so that two who write do not wait for each other. Written by
 * triggers (migration 0027): counting a quarter of a million rows takes a second, in which PGlite answers nobody.
 */
export const tallies = pgTable(
  'tallies',
  {
    /** `takes` not set aside, those of them that are `waiting` for a phrase, `drafts` and `kept` phrases. */
    name: text('name').notNull(),
    shard: integer('shard').notNull(),
    n: integer('n').notNull(),
  },
  (table) => [primaryKey({ columns: [table.name, table.shard] })],
);

/** A captured performance. Everything but its name and moves can be derived again from its original. */
export const takes = pgTable(
  'takes',
  {
    id: id(),
    name: text('name').notNull(),
    /** The name it came in with; `name` is what moves have made of it. */
    foundName: text('found_name').notNull(),
    fileName: text('file_name').notNull(),
    sha256: text('sha256')
      .notNull()
      .references(() => originals.sha256),
    /** Which pattern of a format 2 file; 0 otherwise. */
    pattern: integer('pattern').notNull().default(0),
    sourceId: uuid('source_id').references(() => sources.id),
    contributorId: uuid('contributor_id').references(() => contributors.id),
    facts: jsonb('facts').$type<TakeFacts>().notNull(),
    keys: jsonb('keys').$type<KeyFinding[]>().notNull(),
    /** Version of the methods that found the keys; 0 where a version before this one did. */
    keysMethod: integer('keys_method').notNull().default(0),
    /** The key a person has chosen; it wins over what was found. */
    chosenKey: jsonb('chosen_key').$type<Key>(),
    /** What it was meant to be, as far as anybody said: chart, tempo, key, bars. */
    asked: jsonb('asked').$type<TakeAsked>().notNull().default({}),
    /** What its file name and folder say. */
    guesses: jsonb('guesses').$type<NameGuess>().notNull().default({}),
    rights: text('rights').notNull().default(''),
    /** How it was recorded; null for files. */
    capture: jsonb('capture').$type<CaptureFacts>(),
    /** What came against what was asked; null where a version before this one took it in. */
    account: jsonb('account').$type<Account>(),
    /** Not used, and not shown among the others. Never deleted. */
    aside: boolean('aside').notNull().default(false),
    /** No phrase of it is there, but such as were set aside. Written by triggers (migration 0027). */
    waits: boolean('waits').notNull().default(true),
    /** What was done to the split, oldest first; those from `movesDone` on were taken back. */
    moves: jsonb('moves').$type<Move[]>().notNull().default([]),
    movesDone: integer('moves_done').notNull().default(0),
    /** Histories that going on elsewhere has dropped, the newest last: they can be brought back. */
    dropped: jsonb('dropped').$type<DroppedMoves[]>().notNull().default([]),
    /** Counts changes of the moves: who changes what an older revision shows is told. */
    revision: integer('revision').notNull().default(0),
    /** The revision of the last change that did not only add a move at the end; what came after it were moves. */
    turned: integer('turned').notNull().default(0),
    /** How many proposals wait that would mend the split as it stands. */
    proposals: integer('proposals').notNull().default(0),
    createdAt: createdAt(),
  },
  (table) => [
    unique('takes_original').on(table.sha256, table.pattern),
    index('takes_created').on(table.createdAt),
    index('takes_name').on(sql`lower(${table.name})`),
    index('takes_source').on(table.sourceId),
    index('takes_contributor').on(table.contributorId),
  ],
);

/** What a take's moves stand on: its first split, as it was found when the take came in. Never changes. */
export const takeBases = pgTable('take_bases', {
  takeId: uuid('take_id')
    .primaryKey()
    .references(() => takes.id, { onDelete: 'cascade' }),
  base: jsonb('base').$type<Base>().notNull(),
});

/** What was found in the music of a take as some moves had left it: kept once somebody was told it, so that it stays so. */
export const takeReadings = pgTable(
  'take_readings',
  {
    id: id(),
    takeId: uuid('take_id')
      .notNull()
      .references(() => takes.id, { onDelete: 'cascade' }),
    method: integer('method').notNull(),
    /** The moves that change what is heard. */
    moves: jsonb('moves').$type<SingleMove[]>().notNull(),
    reading: jsonb('reading').$type<Reading>().notNull(),
    createdAt: createdAt(),
  },
  (table) => [index('take_readings_take').on(table.takeId)],
);

/** One instrument of a take as the split now stands: for lists and counts, derived from the take's moves. */
export const parts = pgTable(
  'parts',
  {
    takeId: uuid('take_id')
      .notNull()
      .references(() => takes.id, { onDelete: 'cascade' }),
    key: text('key').notNull(),
    position: integer('position').notNull(),
    name: text('name').notNull(),
    role: text('role').$type<Role>().notNull(),
    certainty: real('certainty').notNull(),
    channel: integer('channel').notNull(),
    program: integer('program').notNull(),
    notes: integer('notes').notNull(),
  },
  (table) => [primaryKey({ columns: [table.takeId, table.key] })],
);

/** Phrases cut from the same bars of one take, kept together. */
export const sheaves = pgTable(
  'sheaves',
  {
    id: id(),
    name: text('name').notNull(),
    takeId: uuid('take_id').references(() => takes.id),
    createdAt: createdAt(),
  },
  (table) => [index('sheaves_take').on(table.takeId)],
);

/** What lists, facets and searches read of a phrase; what it is made of stands in `phraseContents`. */
export const phrases = pgTable(
  'phrases',
  {
    id: id(),
    name: text('name').notNull(),
    state: text('state').$type<PhraseState>().notNull().default('draft'),
    /** What it was before it was set aside; null where it is not. */
    asideFrom: text('aside_from').$type<PhraseState>(),
    role: text('role').$type<Role>().notNull(),
    takeId: uuid('take_id')
      .notNull()
      .references(() => takes.id),
    partName: text('part_name').notNull(),
    /** The key it is heard in as its own: its captured notes', or of what was taken through other chords theirs. Null where unknown or unpitched. */
    takeKey: jsonb('take_key').$type<Key>(),
    /** Which of its take's phrases it is, from 1. */
    number: integer('number').notNull().default(1),
    sheafId: uuid('sheaf_id').references(() => sheaves.id),
    projectId: uuid('project_id').references(() => projects.id),
    contributorId: uuid('contributor_id').references(() => contributors.id),
    rights: text('rights').notNull().default(''),

    // What the recipe made of it.
    noteCount: integer('note_count').notNull(),
    length: integer('length').notNull(),
    /** Ticks before its first bar, where its pickup stands. */
    pickup: integer('pickup').notNull().default(0),
    startBar: integer('start_bar').notNull(),
    bars: integer('bars').notNull(),
    keyTonic: integer('key_tonic'),
    keyMode: text('key_mode').$type<Mode>(),
    bpm: real('bpm').notNull(),
    meterNumerator: integer('meter_numerator').notNull(),
    meterDenominator: integer('meter_denominator').notNull(),
    channel: integer('channel').notNull(),
    program: integer('program').notNull(),

    /** The chords of its bars as numerals in the take's key, a space before and after each; empty where unpitched. */
    numerals: text('numerals').notNull().default(''),
    /** 1..5, or 0 for passed over; null where nobody has said. */
    rating: integer('rating'),
    /** When it was last listened to; null for never. */
    heardAt: timestamp('heard_at', { withTimezone: true }),

    /**
     * The transaction that last changed what it is found by: its row, its tags, the baskets it is in, the names of what it came from.
     * Written by triggers (migration 0010); by it a catalog reads what is new to it.
     */
    changed: bigint('changed', { mode: 'number' }).notNull().default(0),
    createdAt: createdAt(),
    updatedAt: updatedAt(),
  },
  (table) => [
    index('phrases_changed').on(table.changed),
    index('phrases_take').on(table.takeId),
    index('phrases_sheaf').on(table.sheafId),
    index('phrases_project').on(table.projectId),
    index('phrases_contributor').on(table.contributorId),
    index('phrases_drafts')
      .on(table.createdAt)
      .where(sql`${table.state} = 'draft'`),
  ],
);

/** What a phrase is made of: its notes, the recipe that made them, and the captured notes they came from. */
export const phraseContents = pgTable('phrase_contents', {
  phraseId: uuid('phrase_id')
    .primaryKey()
    .references(() => phrases.id, { onDelete: 'cascade' }),
  /** Indices into the take's notes: all of the part it was cut from. Packed, one column. */
  origins: bytea('origins').notNull(),
  /** Tracks and channels of the part, for its controllers. */
  streams: jsonb('streams').$type<{ track: number; channel: number }[]>().notNull(),
  /** Captured pitches that sound as others: a found kit's layout. */
  pitchMap: jsonb('pitch_map').$type<PitchPair[]>().notNull().default([]),
  /** Which of the take's notes are locked, as a set of indices. */
  locked: text('locked').$type<NoteSet>().notNull().default(''),
  /** What had been put right in the take's notes when it was cut: bars, pitches. */
  corrections: jsonb('corrections').$type<Correction[]>().notNull().default([]),
  recipe: jsonb('recipe').$type<Recipe>().notNull(),
  /** Hash of the captured notes that the recipe was applied to; empty where a version before this one did it. */
  appliedTo: text('applied_to').notNull().default(''),
  /** What suits its sound, applied on the way out. */
  fitting: jsonb('fitting').$type<Fitting>().notNull().default({}),
  /** The program its part came with, 0..127; the phrase's own is what the recipe made of it. Null in what is older. */
  partProgram: integer('part_program'),
  notes: bytea('notes').notNull(),
  controls: bytea('controls').notNull(),
  swatch: bytea('swatch').notNull(),
  timeline: jsonb('timeline').$type<Timeline>().notNull(),
  /** The key its captured notes are heard in, where it was taken through other chords; null where it is the phrase's own. */
  capturedKey: jsonb('captured_key').$type<Key>(),
  /** The chords of its bars in its own key, drums' too; null where a version before this one cut it. */
  changes: jsonb('changes').$type<ChangesChord[]>(),
});

/** What a phrase is compared by, found again where the methods are bettered. Every phrase has a row. */
export const phraseMarks = pgTable(
  'phrase_marks',
  {
    phraseId: uuid('phrase_id')
      .primaryKey()
      .references(() => phrases.id, { onDelete: 'cascade' }),
    /** Version of the methods (`MARKS_METHOD`); what is smaller waits to be found again. */
    method: integer('method').notNull(),
    /** What its notes are like (`packFeatures`); empty while nobody knows. */
    features: bytea('features').notNull(),
    /** Which pitch classes sound in each half of a bar (`harmonyProfile`); empty where unpitched. */
    profile: bytea('profile').notNull(),
    /** What it is the same as (`packFingerprint`); empty while nobody knows. */
    fingerprint: bytea('fingerprint').notNull(),
  },
  (table) => [index('phrase_marks_method').on(table.method)],
);

/** What a phrase was made from: a child of a phrase, or of a take it was not cut from. */
export const phraseParents = pgTable(
  'phrase_parents',
  {
    id: id(),
    phraseId: uuid('phrase_id')
      .notNull()
      .references(() => phrases.id, { onDelete: 'cascade' }),
    parentPhraseId: uuid('parent_phrase_id').references(() => phrases.id),
    parentTakeId: uuid('parent_take_id').references(() => takes.id),
    /** What was done, in words. */
    done: text('done').notNull(),
    /** Hash of what the parent was then: where it is another now, the child is told. */
    hash: text('hash').notNull(),
    createdAt: createdAt(),
  },
  (table) => [
    index('phrase_parents_phrase').on(table.phraseId),
    index('phrase_parents_of_phrase').on(table.parentPhraseId),
    index('phrase_parents_of_take').on(table.parentTakeId),
  ],
);

/** Two phrases that somebody has said are not to be made one, the smaller id first: never asked again. */
export const phrasesApart = pgTable(
  'phrases_apart',
  {
    phraseId: uuid('phrase_id')
      .notNull()
      .references(() => phrases.id, { onDelete: 'cascade' }),
    otherId: uuid('other_id')
      .notNull()
      .references(() => phrases.id, { onDelete: 'cascade' }),
    /** They belong together as variants; else they are different. */
    variants: boolean('variants').notNull().default(false),
  },
  (table) => [
    primaryKey({ columns: [table.phraseId, table.otherId] }),
    index('phrases_apart_other').on(table.otherId),
  ],
);

/** Searches that people keep under a name: what stands in the address. */
export const searches = pgTable('searches', {
  id: id(),
  name: text('name').notNull().unique(),
  query: text('query').notNull(),
  createdAt: createdAt(),
});

/** The changes of some bars of a take, or such as were written here, kept under their key. */
export const changes = pgTable(
  'changes',
  {
    id: id(),
    name: text('name').notNull(),
    /** The take they are of; null where they were written here. */
    takeId: uuid('take_id').references(() => takes.id),
    startBar: integer('start_bar').notNull(),
    bars: integer('bars').notNull(),
    keyTonic: integer('key_tonic').notNull(),
    keyMode: text('key_mode').$type<Mode>().notNull(),
    bpm: real('bpm').notNull(),
    meterNumerator: integer('meter_numerator').notNull(),
    meterDenominator: integer('meter_denominator').notNull(),
    chords: jsonb('chords').$type<ChangesChord[]>().notNull(),
    /** Not used, and not shown. Never deleted. */
    aside: boolean('aside').notNull().default(false),
    createdAt: createdAt(),
  },
  (table) => [index('changes_key').on(table.keyTonic, table.keyMode), index('changes_take').on(table.takeId)],
);

export const tags = pgTable(
  'tags',
  {
    id: id(),
    name: text('name').notNull().unique(),
    /** The tag it stands under. */
    parentId: uuid('parent_id').references((): AnyPgColumn => tags.id),
  },
  (table) => [index('tags_parent').on(table.parentId)],
);

export const phraseTags = pgTable(
  'phrase_tags',
  {
    phraseId: uuid('phrase_id')
      .notNull()
      .references(() => phrases.id, { onDelete: 'cascade' }),
    tagId: uuid('tag_id')
      .notNull()
      .references(() => tags.id, { onDelete: 'cascade' }),
  },
  (table) => [
    primaryKey({ columns: [table.phraseId, table.tagId] }),
    index('phrase_tags_tag').on(table.tagId),
  ],
);

/** Programs that parts were last played on at somebody's place, by the names of the parts, by project; "" is no project. */
export type RememberedSounds = Record<string, Record<string, number>>;

/** People who get our music: what they have at their place, and how things last left for them. */
export const recipients = pgTable('recipients', {
  id: id(),
  name: text('name').notNull().unique(),
  card: jsonb('card').$type<Card>().notNull(),
  /** Null where nothing has left for them yet. */
  out: jsonb('out').$type<OutOptions>(),
  sounds: jsonb('sounds').$type<RememberedSounds>().notNull().default({}),
  createdAt: createdAt(),
});

export interface BasketHeading {
  id: string;
  position: number;
  text: string;
}

/** A named set of phrases, gathered for a project, for a person, or for both. */
export const baskets = pgTable(
  'baskets',
  {
    id: id(),
    name: text('name').notNull(),
    projectId: uuid('project_id').references(() => projects.id),
    recipientId: uuid('recipient_id').references(() => recipients.id, { onDelete: 'set null' }),
    pattern: text('pattern').notNull(),
    /** How its phrases leave: key, sounds, controllers, files. */
    out: jsonb('out').$type<OutOptions>().notNull(),
    /** How its files lie, and whether each has a preview. */
    layout: text('layout').$type<PackLayout>().notNull().default('folders'),
    previews: boolean('previews').notNull().default(false),
    /** Whether what sounds together has one too, and whether pitched phrases are heard over a bed of their chords. */
    previewSums: boolean('preview_sums').notNull().default(false),
    previewBeds: boolean('preview_beds').notNull().default(false),
    /** The folder it is mirrored to, within the place for mirrors; null where it is not. */
    mirror: text('mirror').unique(),
    /** What stands between its phrases, at positions among theirs. */
    headings: jsonb('headings').$type<BasketHeading[]>().notNull().default([]),
    createdAt: createdAt(),
  },
  (table) => [index('baskets_recipient').on(table.recipientId), index('baskets_project').on(table.projectId)],
);

/** Files of mirrored baskets: a name stays a phrase's as long as it is in its basket. */
export const mirroredFiles = pgTable(
  'mirrored_files',
  {
    basketId: uuid('basket_id')
      .notNull()
      .references(() => baskets.id, { onDelete: 'cascade' }),
    phraseId: uuid('phrase_id')
      .notNull()
      .references(() => phrases.id, { onDelete: 'cascade' }),
    /** The piece of its kit, where each has a file; empty otherwise. */
    piece: text('piece').notNull().default(''),
    /** Its folders and name within the mirror. */
    path: text('path').notNull(),
    /** What was written last, as a checksum; another on the disk says that somebody else has written. */
    sha256: text('sha256').notNull(),
    /** Ours, or one of ours that somebody has changed since. */
    state: text('state').$type<MirrorRow['state']>().notNull().default('ours'),
  },
  (table) => [
    primaryKey({ columns: [table.basketId, table.path] }),
    index('mirrored_files_phrase').on(table.phraseId),
  ],
);

/** Sounds of one's own, as SoundFonts in the data folder. */
export const banks = pgTable('banks', {
  id: id(),
  name: text('name').notNull(),
  sha256: text('sha256').notNull().unique(),
  size: integer('size').notNull(),
  /** How many sounds it has. */
  presets: integer('presets').notNull(),
  /** The roles that it plays. */
  roles: jsonb('roles').$type<Role[]>().notNull().default([]),
  createdAt: createdAt(),
});

export const basketItems = pgTable(
  'basket_items',
  {
    basketId: uuid('basket_id')
      .notNull()
      .references(() => baskets.id, { onDelete: 'cascade' }),
    phraseId: uuid('phrase_id')
      .notNull()
      .references(() => phrases.id, { onDelete: 'cascade' }),
    position: integer('position').notNull(),
    /** How it leaves where that is otherwise than the rest; null where it is not. */
    own: jsonb('own').$type<OwnOut>(),
  },
  (table) => [
    primaryKey({ columns: [table.basketId, table.phraseId] }),
    index('basket_items_phrase').on(table.phraseId),
  ],
);

/** What has left: a row a pack, so that what comes back is known, and what went where can be drawn. */
export const packs = pgTable(
  'packs',
  {
    id: id(),
    /** Null where its basket is no longer there. */
    basketId: uuid('basket_id').references(() => baskets.id, { onDelete: 'set null' }),
    title: text('title').notNull(),
    madeAt: timestamp('made_at', { withTimezone: true }).notNull(),
    /** Whether it went out, or came in. */
    direction: text('direction').$type<'out' | 'in'>().notNull().default('out'),
  },
  (table) => [index('packs_basket').on(table.basketId)],
);

/** The phrases of a pack, as they were when it went out or had been taken in: another hash now says that a phrase has changed since. */
export const packItems = pgTable(
  'pack_items',
  {
    packId: uuid('pack_id')
      .notNull()
      .references(() => packs.id, { onDelete: 'cascade' }),
    phraseId: uuid('phrase_id')
      .notNull()
      .references(() => phrases.id, { onDelete: 'cascade' }),
    hash: text('hash').notNull(),
    /** What was played in its file (`playedHash`); null where it left before that was kept. */
    played: text('played'),
    /** What the manifest of a pack that came in says of it: kept whole, what is not understood too. */
    told: jsonb('told').$type<Record<string, unknown>>(),
  },
  (table) => [
    primaryKey({ columns: [table.packId, table.phraseId] }),
    index('pack_items_phrase').on(table.phraseId),
  ],
);

/** How everything in the library is kept: one row. */
export const houses = pgTable('houses', {
  id: integer('id').primaryKey(),
  house: jsonb('house').$type<House>().notNull(),
  /** How things last left for nobody in particular; null where nothing has. */
  out: jsonb('out').$type<OutOptions>(),
  /** What this library is called where packs of several meet. */
  library: uuid('library').notNull().defaultRandom(),
});

/** Arrangement sheets: sections across, parts down. */
export const weaves = pgTable(
  'weaves',
  {
    id: id(),
    title: text('title').notNull(),
    projectId: uuid('project_id').references(() => projects.id),
    weave: jsonb('weave').$type<Weave>().notNull(),
    /** Counts what was written: who changes says on what. */
    revision: integer('revision').notNull().default(0),
    /** Not used, and not shown. Never deleted. */
    aside: boolean('aside').notNull().default(false),
    createdAt: createdAt(),
    updatedAt: timestamp('updated_at', { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [index('weaves_project').on(table.projectId)],
);

/** Passes over one chart, and which bars of them are taken. */
export const comps = pgTable(
  'comps',
  {
    id: id(),
    title: text('title').notNull(),
    comp: jsonb('comp').$type<Comp>().notNull(),
    /** The take that was last made of it. */
    takeId: uuid('take_id').references(() => takes.id),
    revision: integer('revision').notNull().default(0),
    aside: boolean('aside').notNull().default(false),
    createdAt: createdAt(),
    updatedAt: updatedAt(),
  },
  (table) => [index('comps_take').on(table.takeId)],
);

/** One source asked the same in many ways, one after another. */
export const sweeps = pgTable(
  'sweeps',
  {
    id: id(),
    name: text('name').notNull(),
    plan: jsonb('plan').$type<SweepPlan>().notNull(),
    /** A stopped one goes on when it is told to; a running one goes on wherever its process ends. */
    state: text('state').$type<SweepState>().notNull(),
    createdAt: createdAt(),
    updatedAt: updatedAt(),
  },
  (table) => [index('sweeps_state').on(table.state)],
);

/** What a source was set to for once, and what came of it. */
export const sweepRuns = pgTable(
  'sweep_runs',
  {
    sweepId: uuid('sweep_id')
      .notNull()
      .references(() => sweeps.id, { onDelete: 'cascade' }),
    /** In the order they are made, from 0. */
    position: integer('position').notNull(),
    settings: jsonb('settings').$type<SweepSettings>().notNull(),
    state: text('state').$type<SweepRunState>().notNull().default('waiting'),
    /** Why nothing came of it; empty where something did. */
    reason: text('reason').notNull().default(''),
    /** What it plays, as runs are compared; null while nothing has come of it. */
    heard: jsonb('heard').$type<KeptHeard>(),
    takeId: uuid('take_id').references(() => takes.id),
  },
  (table) => [
    primaryKey({ columns: [table.sweepId, table.position] }),
    index('sweep_runs_take').on(table.takeId),
  ],
);

/** Recipes without bars that people keep under names of their own. */
export const presets = pgTable('presets', {
  id: id(),
  name: text('name').notNull().unique(),
  /** The role it is meant for; null for any. */
  role: text('role').$type<Role>(),
  recipe: jsonb('recipe').$type<Recipe>().notNull(),
  createdAt: createdAt(),
});

/** Timing and accents taken from a phrase, to be put on others. */
export const feels = pgTable('feels', {
  id: id(),
  name: text('name').notNull().unique(),
  feel: jsonb('feel').$type<FeelShape>().notNull(),
  createdAt: createdAt(),
});

/** Habits of a source that are not to be offered again. */
export const forgottenHabits = pgTable(
  'forgotten_habits',
  {
    sourceId: uuid('source_id')
      .notNull()
      .references(() => sources.id, { onDelete: 'cascade' }),
    habit: text('habit').notNull(),
  },
  (table) => [primaryKey({ columns: [table.sourceId, table.habit] })],
);

/** Processes that work on this library, as long as they say so. */
export const workers = pgTable('workers', {
  id: id(),
  /** Its last sign of life, by the database's clock. */
  seenAt: timestamp('seen_at', { withTimezone: true }).notNull().defaultNow(),
});

/** Long work and watches, each with the one process that has it: another takes it over when that gives no more signs of life. */
export const holds = pgTable('holds', {
  /** "intake ID", "batch ID", "inbox". */
  what: text('what').primaryKey(),
  workerId: uuid('worker_id').notNull(),
});

export const BATCH_PHASES = [
  'looking',
  'looked',
  'applying',
  'applied',
  'takingBack',
  'takenBack',
  'stopped',
] as const;
/** First it is looked what would change; then that is done, and can be taken back. */
export type BatchPhase = (typeof BATCH_PHASES)[number];

/** One recipe, or each role's, for many phrases. */
export const batches = pgTable('batches', {
  id: id(),
  title: text('title').notNull(),
  /** Without bars; null is each role's house recipe. */
  recipe: jsonb('recipe').$type<Recipe>(),
  phase: text('phase').$type<BatchPhase>().notNull().default('looking'),
  createdAt: createdAt(),
});

export const BATCH_ITEM_STATES = ['waiting', 'looked', 'same', 'refused', 'left', 'applied'] as const;
export type BatchItemState = (typeof BATCH_ITEM_STATES)[number];

/** What a batch would do to a phrase, or has done. */
export const batchItems = pgTable(
  'batch_items',
  {
    batchId: uuid('batch_id')
      .notNull()
      .references(() => batches.id, { onDelete: 'cascade' }),
    position: integer('position').notNull(),
    phraseId: uuid('phrase_id')
      .notNull()
      .references(() => phrases.id, { onDelete: 'cascade' }),
    state: text('state').$type<BatchItemState>().notNull().default('waiting'),
    /** What the phrase was before, so that it can be taken back. */
    before: jsonb('before').$type<{ recipe: Recipe; fitting: Fitting; name: string }>(),
    after: jsonb('after').$type<Recipe>(),
    difference: jsonb('difference').$type<Difference>(),
    reason: text('reason'),
  },
  (table) => [
    primaryKey({ columns: [table.batchId, table.position] }),
    index('batch_items_state').on(table.batchId, table.state, table.position),
    index('batch_items_phrase').on(table.phraseId),
  ],
);

export const JOB_STATES = ['running', 'done', 'stopped', 'failed'] as const;
export type JobState = (typeof JOB_STATES)[number];

/** What is said once for all files of an intake. */
export interface IntakeSettings {
  source?: string;
  contributor?: string;
  rights?: string;
  asked?: TakeAsked;
}

/** Long work: what it is, and how far it has come. */
export const jobs = pgTable('jobs', {
  id: id(),
  kind: text('kind').$type<'intake'>().notNull(),
  state: text('state').$type<JobState>().notNull().default('running'),
  /** Where its files come from: sent by a page, found in the inbox, or named on the command line. */
  origin: text('origin').$type<'page' | 'inbox' | 'command'>().notNull().default('page'),
  settings: jsonb('settings').$type<IntakeSettings>().notNull().default({}),
  /** No more files will be added: it is done with the last of them. */
  closed: boolean('closed').notNull().default(false),
  createdAt: createdAt(),
  /** While it runs, the last sign of life of the process that works on it. */
  updatedAt: updatedAt(),
});

export const ITEM_STATES = ['waiting', 'taken', 'known', 'refused', 'opened'] as const;
/** An archive is opened: its files are items of their own. */
export type ItemState = (typeof ITEM_STATES)[number];

/** One file of an intake. */
export const jobItems = pgTable(
  'job_items',
  {
    jobId: uuid('job_id')
      .notNull()
      .references(() => jobs.id, { onDelete: 'cascade' }),
    position: integer('position').notNull(),
    /** As the person knows it, folders and archives before it. Never used as a path. */
    file: text('file').notNull(),
    /** Where its bytes wait; null once something has come of it. */
    path: text('path'),
    /** Archives it lay in. */
    depth: integer('depth').notNull().default(0),
    state: text('state').$type<ItemState>().notNull().default('waiting'),
    takeId: uuid('take_id').references(() => takes.id),
    reason: text('reason'),
  },
  (table) => [
    primaryKey({ columns: [table.jobId, table.position] }),
    index('job_items_state').on(table.jobId, table.state),
  ],
);

/** Drafts of whole takes, many at once. */
export const makings = pgTable('makings', {
  id: id(),
  projectId: uuid('project_id').references(() => projects.id, { onDelete: 'set null' }),
  state: text('state').$type<JobState>().notNull().default('running'),
  createdAt: createdAt(),
});

export const MAKING_STATES = ['waiting', 'made', 'refused'] as const;
export type MakingItemState = (typeof MAKING_STATES)[number];

/** A take of which drafts are made. */
export const makingItems = pgTable(
  'making_items',
  {
    makingId: uuid('making_id')
      .notNull()
      .references(() => makings.id, { onDelete: 'cascade' }),
    position: integer('position').notNull(),
    takeId: uuid('take_id')
      .notNull()
      .references(() => takes.id),
    state: text('state').$type<MakingItemState>().notNull().default('waiting'),
    /** The phrases that were made of it. */
    phraseIds: jsonb('phrase_ids').$type<string[]>().notNull().default([]),
    /** Why none were; empty where some were. */
    reason: text('reason').notNull().default(''),
  },
  (table) => [
    primaryKey({ columns: [table.makingId, table.position] }),
    index('making_items_state').on(table.makingId, table.state),
    index('making_items_take').on(table.takeId),
  ],
);

/** A recording that is under way, or whose page was closed before its end. */
export const captures = pgTable('captures', {
  id: id(),
  plan: jsonb('plan').$type<RecordingPlan>().notNull(),
  createdAt: createdAt(),
  updatedAt: updatedAt(),
});

/** Its messages as they came in, about a second each (`encodeLog`). */
export const captureChunks = pgTable(
  'capture_chunks',
  {
    captureId: uuid('capture_id')
      .notNull()
      .references(() => captures.id, { onDelete: 'cascade' }),
    position: integer('position').notNull(),
    bytes: bytea('bytes').notNull(),
  },
  (table) => [primaryKey({ columns: [table.captureId, table.position] })],
);

/** People who sign in. Never deleted: what they did stands under their names. */
export const people = pgTable(
  'people',
  {
    id: id(),
    name: text('name').notNull(),
    role: text('role').$type<PersonRole>().notNull(),
    /** Derived from the password (`people/password`). */
    password: text('password').notNull(),
    createdAt: createdAt(),
    /** Since when they may no longer come in. */
    closedAt: timestamp('closed_at', { withTimezone: true }),
  },
  (table) => [uniqueIndex('people_name').on(sql`lower(${table.name})`)],
);

/** Where somebody is signed in. The cookie holds a token, this its checksum: who reads the table cannot sign in with it. */
export const sessions = pgTable(
  'sessions',
  {
    id: id(),
    tokenHash: text('token_hash').notNull().unique(),
    personId: uuid('person_id')
      .notNull()
      .references(() => people.id, { onDelete: 'cascade' }),
    /** What the browser says it is. */
    device: text('device').notNull().default(''),
    createdAt: createdAt(),
    seenAt: timestamp('seen_at', { withTimezone: true }).notNull().defaultNow(),
    expiresAt: timestamp('expires_at', { withTimezone: true }).notNull(),
  },
  (table) => [index('sessions_person').on(table.personId)],
);

/** Links that let somebody in, once: for a new person, or with a new password for one who is there. */
export const invitations = pgTable('invitations', {
  id: id(),
  tokenHash: text('token_hash').notNull().unique(),
  /** Whom it is for, as the one who invites calls them. */
  note: text('note').notNull().default(''),
  role: text('role').$type<PersonRole>().notNull(),
  /** Baskets that a guest will see. */
  baskets: jsonb('baskets').$type<string[]>().notNull().default([]),
  /** Whose password it sets anew; null for somebody new. */
  personId: uuid('person_id').references(() => people.id, { onDelete: 'cascade' }),
  invitedBy: uuid('invited_by').references(() => people.id),
  createdAt: createdAt(),
  expiresAt: timestamp('expires_at', { withTimezone: true }).notNull(),
  usedAt: timestamp('used_at', { withTimezone: true }),
});

/** Which baskets a guest sees. */
export const guestBaskets = pgTable(
  'guest_baskets',
  {
    personId: uuid('person_id')
      .notNull()
      .references(() => people.id, { onDelete: 'cascade' }),
    basketId: uuid('basket_id')
      .notNull()
      .references(() => baskets.id, { onDelete: 'cascade' }),
  },
  (table) => [
    primaryKey({ columns: [table.personId, table.basketId] }),
    index('guest_baskets_basket').on(table.basketId),
  ],
);

export const DEED_KINDS = [
  ...(['take', 'phrase', 'basket', 'weave', 'pack', 'house', 'project', 'recipient'] as const),
  ...(['source', 'tag', 'capture', 'job', 'batch', 'person', 'comp', 'sweep'] as const),
] as const;
/** What a deed is about. */
export type DeedKind = (typeof DEED_KINDS)[number];

/** Who did what, when: only ever added to. */
export const deeds = pgTable(
  'deeds',
  {
    id: id(),
    at: timestamp('at', { withTimezone: true }).notNull().defaultNow(),
    /** Null where nobody was signed in, as where signing in failed. */
    personId: uuid('person_id').references(() => people.id),
    kind: text('kind').$type<DeedKind>().notNull(),
    /** What it was done to; null where that is no one thing. */
    subjectId: uuid('subject_id'),
    /** In words that go on after a name: "renamed it". */
    did: text('did').notNull(),
  },
  (table) => [index('deeds_at').on(table.at), index('deeds_subject').on(table.subjectId, table.at)],
);

/** Tries to sign in that failed, by what they are counted by; kept as long as they count. */
export const attempts = pgTable(
  'attempts',
  {
    id: id(),
    key: text('key').notNull(),
    at: timestamp('at', { withTimezone: true }).notNull().defaultNow(),
  },
  (table) => [index('attempts_key').on(table.key, table.at)],
);
