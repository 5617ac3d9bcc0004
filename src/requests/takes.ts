import { SHA256 } from '../core/hex.ts';
import { array, boolean, number, object, string } from 'yup';
import { JOIN_WAYS, LAST_ROUNDS, type LastRound } from '../core/capture/blocks.ts';
import { LONGEST_NAME, text, name, bpm, id, key, label } from './fields.ts';

/** Takes: what is said of them, and made of several. */

export const asked = () =>
  object({
    bars: number().integer().min(1).max(10_000).nullable(),
    chart: text().max(4000),
    parts: number().integer().min(1).max(64),
    bpm: bpm(),
    key: key().default(undefined),
  }).default(undefined);

/** As `asked`, of takes that are there: null says that nobody asked for it. */
const askedChange = () =>
  object({
    bars: number().integer().min(1).max(10_000).nullable(),
    chart: text().max(4000).nullable(),
    parts: number().integer().min(1).max(64).nullable(),
    bpm: bpm().nullable(),
    key: key().nullable().default(undefined),
  }).default(undefined);

/** What is said once for all files of an intake. */
export const newIntakeSchema = object({
  source: label(),
  contributor: label(),
  rights: label(),
  asked: asked(),
});

/** A number as it is typed, which may be left empty. */
const typedNumber = (what: string, least: number, most: number) =>
  string()
    .defined()
    .test(
      'range',
      `${what} from ${least} to ${most.toLocaleString('en')}`,
      (typed) => typed.trim() === '' || (Number(typed) >= least && Number(typed) <= most),
    );

/** What is said of takes, as it is typed: what is left empty is not said. */
export const knownSchema = object({
  source: label().defined(),
  contributor: label().defined(),
  rights: label().defined(),
  chart: text().max(4000, 'A chart has at most ${max} characters').defined(),
  bars: typedNumber('Bars', 1, 10_000),
  bpm: typedNumber('BPM', 20, 400),
  key: string().defined(),
});

/** Files by their checksums (SHA-256, hexadecimal): which of them are here already. */
export const checksumsSchema = object({
  sha256: array(string().matches(SHA256, 'A checksum has 64 hexadecimal figures').required())
    .max(5000)
    .required(),
});

export const takeChangeSchema = object({
  ids: array(id().required()).min(1).max(5000).required(),
  source: label(),
  contributor: label(),
  rights: label(),
  asked: askedChange(),
  aside: boolean(),
});

export const joinTakesSchema = object({
  ids: array(id().required()).min(2, 'At least two takes are joined').max(64).required(),
  name: name('A take'),
  way: string().oneOf(JOIN_WAYS),
});

export const fillSchema = object({
  bars: number().integer().min(1).max(512, 'At most ${max} bars are filled').required(),
  last: string<LastRound>().oneOf(LAST_ROUNDS),
});

/** What the takes of a source have where nobody says otherwise. */
export const sourceDefaultsSchema = object({
  rights: text().max(LONGEST_NAME),
  tags: array(text().max(LONGEST_NAME).required()).max(50),
});
