import { SHA256 } from '../hex.ts';
import { array, boolean, mixed, number, object, string, ValidationError, type InferType } from 'yup';
import type { ChangesChord } from '../analyze/changes.ts';
import { chordNumeral, parseSymbol } from '../music/chord.ts';
import { parseKey, type Key } from '../music/key.ts';
import { ROLES } from '../split/roles.ts';
import { symbolIn } from './leaving.ts';
import { MANIFEST_FORMAT, MANIFEST_VERSION } from './manifest-format.ts';
import { outOptionsSchema } from './out-options.ts';
import { ownOutSchema, type OwnOut } from './own-out.ts';

/** What is no pack, or one that cannot be read here; the message says why, as a sentence without a name before it. */
export class PackError extends Error {}

/** The largest manifest that is looked at, in bytes: ten thousand phrases have a tenth of it. */
export const LARGEST_MANIFEST = 32 * 1024 * 1024;

/** The most phrases that one pack may have. */
const MOST_PHRASES = 20_000;

/** Names in a pack: no way up, no root, one kind of stroke. */
const path = () =>
  string()
    .strict()
    .required()
    .max(400)
    .test('inside', ({ path: where }) => `"${where}" leads out of the pack`, isInside);

/** Whether a name stays in its pack. */
export function isInside(name: string): boolean {
  return !name.startsWith('/') && !/^[a-z]:/i.test(name) && !name.split(/[/\\]/).includes('..');
}

const text = (most: number) => string().strict().max(most).default('');
const sum = () => string().strict().matches(SHA256);

const keySchema = object({ tonic: string().required(), mode: string().required() }).nullable().default(null);

const phraseSchema = object({
  file: path(),
  sha256: sum().required(),
  id: string().strict().required().max(100),
  hash: sum().nullable().default(null),
  played: sum().nullable().default(null),
  piece: text(100),
  name: text(400),
  role: string()
    .oneOf([...ROLES])
    .required(),
  key: keySchema,
  capturedKey: keySchema,
  changes: array(
    object({
      beat: number().min(0).required(),
      beats: number().moreThan(0).required(),
      symbol: string().defined().max(60),
    }),
  )
    .max(10_000)
    .nullable()
    .default(null),
  bpm: number().positive().max(2000).required(),
  meter: object({
    numerator: number().integer().min(1).max(64).required(),
    denominator: number().integer().oneOf([1, 2, 4, 8, 16, 32]).required(),
  }).required(),
  bars: number().integer().min(1).max(10_000).required(),
  pickupBars: number().integer().min(0).max(1).default(0),
  notes: number().integer().min(0).required(),
  program: number().integer().min(1).max(128).required(),
  sheaf: string().strict().nullable().default(null),
  sheafName: string().strict().nullable().default(null),
  tags: array(string().strict().required().max(100)).max(200).default([]),
  rights: text(2000),
  contributor: text(400),
  heading: text(400),
  own: mixed<OwnOut>()
    .nullable()
    .default(null)
    .test(
      'own',
      'how it left of its own cannot be read',
      (own) => own === null || ownOutSchema.isValidSync(own),
    ),
});

const packSchema = object({
  format: string().oneOf([MANIFEST_FORMAT], 'this is no pack of ours').required('this is no pack of ours'),
  version: number().integer().min(1).required(),
  title: text(400),
  madeAt: string()
    .strict()
    .required()
    .test('moment', 'when it was made is no date', (at) => !Number.isNaN(Date.parse(at))),
  library: string().strict().nullable().default(null),
  recipient: string().strict().nullable().default(null),
  out: mixed<InferType<typeof outOptionsSchema>>()
    .nullable()
    .default(null)
    .test('out', 'how it left cannot be read', (out) => out === null || outOptionsSchema.isValidSync(out)),
  plain: boolean().default(false),
  files: array(object({ file: path(), sha256: sum().required() })).default([]),
  phrases: array(phraseSchema).max(MOST_PHRASES, `it has more than ${MOST_PHRASES} phrases`).required(),
});

export type ToldPhrase = InferType<typeof phraseSchema>;
export type ToldPack = InferType<typeof packSchema>;

/** Reads what `manifest.json` says. @throws PackError with what is wrong in it, and where */
export function readManifest(bytes: Uint8Array): ToldPack {
  if (bytes.length > LARGEST_MANIFEST)
    throw new PackError(`its manifest is larger than ${LARGEST_MANIFEST / 1024 / 1024} MB`);
  let said: unknown;
  try {
    said = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
  } catch {
    throw new PackError('its manifest.json cannot be read');
  }
  const { format, version } = (said ?? {}) as { format?: unknown; version?: unknown };
  if (format !== MANIFEST_FORMAT) throw new PackError('this is no pack of ours');
  if (Number.isInteger(version) && Number(version) > MANIFEST_VERSION)
    throw new PackError(`it was packed by a later version (${String(version)})`);
  try {
    return packSchema.validateSync(said, { strict: false, stripUnknown: false });
  } catch (error) {
    if (error instanceof ValidationError) throw new PackError(`in its manifest, ${error.message}`);
    throw error;
  }
}

/** A key as a manifest tells it; null where it tells none. */
export function keyTold(key: ToldPhrase['key']): Key | null {
  return key ? (parseKey(`${key.tonic} ${key.mode}`) ?? null) : null;
}

/** The chords of a phrase in the key that it left in. */
export function changesTold({ changes, capturedKey, key }: ToldPhrase): ChangesChord[] {
  const [from, to] = [keyTold(capturedKey), keyTold(key)];
  return (changes ?? []).map(({ beat, beats, symbol }) => {
    const here = symbolIn(symbol, from, to);
    const chord = here ? parseSymbol(here) : undefined;
    return { beat, beats, symbol: here, numeral: chord && to ? chordNumeral(chord, to) : '' };
  });
}
