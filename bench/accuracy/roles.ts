import { readFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { readTakes, takeFrom, type Take } from '../../src/core/capture/take.ts';
import { ROLES, type Role } from '../../src/core/split/roles.ts';
import { splitTake } from '../../src/core/split/split.ts';
import { band } from '../../src/core/standins/band.ts';
import { BAND_STYLES } from '../../src/core/standins/band-styles.ts';
import { performanceFile } from '../../src/core/standins/performance.ts';
import { STAND_INS, standInById } from '../../src/core/standins/stand-ins.ts';
import { openmsxFiles } from '../../tests/support/openmsx.ts';
import { withoutNames, withoutPrograms } from './kits.ts';

/** A part whose role is known, and the one that was found. */
export interface JudgedRole {
  made: Role;
  found: Role;
  certainty: number;
}

/** A role's precision and recall. */
export interface RoleScore {
  role: Role;
  parts: number;
  precision: number;
  recall: number;
  f: number;
}

const FIXTURE = join(import.meta.dirname, '../../tests/fixtures/openmsx-roles.csv');

/**
 * The parts of the 31 real files as a person labeled them: by reading names and programs (`instrument`), and by what the
 * notes do (`plays`: a piano track that doubles the bass line plays bass).
 */
function labels(column: 'instrument' | 'plays'): Map<string, Role> {
  const [head, ...rows] = readFileSync(FIXTURE, 'utf8').trim().split('\n');
  const at = head!.split(',').indexOf(column);
  return new Map(
    rows.map((row) => {
      const cells = row.split(',');
      return [`${cells[0]} ${cells[2]} ${cells[3]} ${cells[1]}`, cells[at] as Role];
    }),
  );
}

/** The real files' parts where name and program are there. */
function toldParts(): (JudgedRole & { file: string; name: string })[] {
  const known = labels('instrument');
  return openmsxFiles.flatMap((path) => {
    const file = basename(path, '.mid');
    return splitTake(readTakes(readFileSync(path))[0]!).parts.map((part) => {
      const made = known.get(`${file} ${part.from[0]!.track + 1} ${part.channel + 1} ${part.id}`);
      if (!made) throw new Error(`${file}, ${part.id} has no label.`);
      return { file, name: part.name, made, found: part.role, certainty: part.certainty };
    });
  });
}

/** Share of the real files' parts whose role is right where name and program are there. */
export function rolesTold(): { parts: number; right: number; wrong: string[] } {
  const told = toldParts();
  const wrong = told
    .filter(({ made, found }) => made !== found)
    .map(({ file, name, made, found }) => `${file}, ${name}: ${found} for ${made}`);
  return { parts: told.length, right: told.length - wrong.length, wrong };
}

/** All that is judged: with names and programs, and with both hidden. */
export function judgedRoles(): Record<'told' | 'standIns' | 'real', JudgedRole[]> {
  return { told: toldParts(), standIns: standInParts(), real: realParts() };
}

/** Names and programs hidden: what the notes and channel 10 alone tell. */
export function rolesHidden(): { standIns: RoleScore[]; real: RoleScore[] } {
  return { standIns: scores(standInParts()), real: scores(realParts()) };
}

function realParts(): JudgedRole[] {
  const known = labels('plays');
  return openmsxFiles.flatMap((path) => {
    const file = basename(path, '.mid');
    const take = readTakes(readFileSync(path))[0]!;
    const made = splitTake(take).parts.map((part) =>
      known.get(`${file} ${part.from[0]!.track + 1} ${part.channel + 1} ${part.id}`)!,
    );
    return judged(take, made);
  });
}

/** The band in every style and key of a few, and the other stand-ins in every style. */
function standInParts(): JudgedRole[] {
  const bandRoles: Role[] = ['drums', 'bass', 'keys', 'guitar', 'pad'];
  const bands = Object.keys(BAND_STYLES).flatMap((style) =>
    ['Dm | Bb | Gm | A7', 'G | C | D7 | G', 'Eb | Cm | Ab | Bb7'].flatMap((chart, seed) => {
      const settings = { ...band.defaults, style: style as keyof typeof BAND_STYLES, chart, seed: seed + 1 };
      return judged(takeFrom(performanceFile(band.play(settings))), bandRoles);
    }),
  );
  const own: Record<string, Role> = {
    'chord-player': 'keys',
    arpeggiator: 'arpeggio',
    strummer: 'guitar',
    'drum-player': 'drums',
    'step-grid': 'drums',
  };
  const others = STAND_INS.filter(({ id }) => id in own).flatMap(({ id }) => {
    const standIn = standInById(id);
    const style = standIn.fields.find(({ name }) => ['style', 'pattern', 'rhythm', 'order'].includes(name));
    const options = style?.kind === 'choice' ? style.options : [{ value: '' }];
    return options.flatMap(({ value }) => {
      const settings = { ...standIn.defaults, ...(style ? { [style.name]: value } : {}) };
      return judged(takeFrom(performanceFile(standIn.play(settings))), [own[id]!]);
    });
  });
  return [...bands, ...others];
}

function judged(take: Take, made: readonly Role[]): JudgedRole[] {
  const split = splitTake(takeFrom(withoutNames(withoutPrograms(take.file))));
  // Without programs, parts that only a program told apart are one: they are not judged.
  if (split.parts.length !== made.length) return [];
  return split.parts.map((part, i) => ({ made: made[i]!, found: part.role, certainty: part.certainty }));
}

function scores(parts: readonly JudgedRole[]): RoleScore[] {
  return ROLES.flatMap((role) => {
    const made = parts.filter((part) => part.made === role).length;
    const found = parts.filter((part) => part.found === role).length;
    const both = parts.filter((part) => part.made === role && part.found === role).length;
    if (made + found === 0) return [];
    const precision = found > 0 ? both / found : 0;
    const recall = made > 0 ? both / made : 0;
    const f = precision + recall > 0 ? (2 * precision * recall) / (precision + recall) : 0;
    return [{ role, parts: made, precision, recall, f }];
  });
}
