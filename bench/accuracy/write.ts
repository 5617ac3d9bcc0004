import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { bins, calibrationError, harmonySaid, rolesSaid, type Families } from './calibration.ts';
import { kitFindings } from './kits.ts';
import { musicPage } from './music-page.ts';
import { percent, table } from './markdown.ts';
import { partsAccuracy } from './parts.ts';
import { rolesHidden, rolesTold, type RoleScore } from './roles.ts';

/** Charts a set whose certainties are looked at. */
const CHARTS = 60;

/** Measures how right the findings are, on material that is here or is made here, and writes docs/accuracy.md. */
const page = [
  '# Accuracy',
  '',
  'Written by `npm run -s accuracy`, on material that is in the repository, made by the stand-ins with fixed seeds, made by',
  "Debian's `abc2midi`, or in Debian's package `openttd-openmsx` (31 real files).",
  '',
  ...partsPage(),
  ...kitsPage(),
  ...rolesPage(),
  ...musicPage(),
  ...certaintyPage(),
];
writeFileSync(join(import.meta.dirname, '../../docs/accuracy.md'), `${page.join('\n').trim()}\n`);

function partsPage(): string[] {
  const groups = partsAccuracy();
  const main = groups.slice(0, 2);
  const notes = main.reduce((sum, group) => sum + group.notes, 0);
  const right = main.reduce((sum, group) => sum + group.right, 0);
  return [
    '## Parts: takes of known parts, taken apart',
    '',
    'Every proposal that mends is accepted; a note is right where its part is the one that stands for the part it was made',
    `as, each made part for one found part. Of the first two groups, 200 takes, ${percent(right, notes)} of the notes are right.`,
    '',
    ...table(
      ['takes', 'number', 'notes', 'right'],
      groups.map(({ group, takes, notes: all, right: good }) => [group, takes, all, percent(good, all)]),
    ),
    'What was confused, the most notes first:',
    '',
    ...groups.flatMap(({ group, wrong }) => [
      `- ${group}: ${
        wrong.length === 0
          ? 'nothing'
          : byKind(wrong)
              .slice(0, 8)
              .map(([what, count]) => `${what} (${count})`)
              .join('; ')
      }`,
    ]),
    '',
    'Where everything came on one track and channel, a short note takes the end of a long one of its pitch (first in, first',
    'out); lengths are put right by what is usual before layers are told apart, which is not always what was meant. The last',
    'group has tune, chords, bass and drums on one channel in notes of the same lengths: nothing but pitch and place tells.',
    '',
  ];
}

/** Confusions without the mishaps they came with. */
function byKind(wrong: readonly [string, number][]): [string, number][] {
  const counts = new Map<string, number>();
  for (const [key, count] of wrong) {
    const what = key.replace(/^(.*?)(: [^:]*)?: /, (_, source: string) => `${source.split(':')[0]!}: `);
    counts.set(what, (counts.get(what) ?? 0) + count);
  }
  return [...counts].sort((a, b) => b[1] - a[1]);
}

function kitsPage(): string[] {
  const findings = kitFindings();
  const withKit = findings.filter(({ kit }) => kit > 0);
  const whole = withKit.filter(({ whole: found, channels }) => found === channels).length;
  const alarms = findings.flatMap(({ file, falseAlarms }) => falseAlarms.map((part) => `${part} of ${file}`));
  return [
    '## Kits on another channel',
    '',
    'Channel 10 of each real file is moved to every free channel in turn, under a piano program and without names.',
    `It is found whole, on every channel, in ${whole} of ${withKit.length} files; pitched parts taken for a kit: ${alarms.length === 0 ? 'none' : alarms.join(', ')}.`,
    'One of them, wood_whistles, holds hand percussion alone and is taken for drums. The model is fitted to these files and',
    'the stand-ins; `npm run -s bench -- kit-model` leaves each file out in turn: there one part is taken for a kit that is',
    'none (the horn of chemistry_lab), and the hand percussion of wood_whistles is not taken for one.',
    '',
  ];
}

function rolesPage(): string[] {
  const told = rolesTold();
  const { standIns, real } = rolesHidden();
  const rows = (scores: readonly RoleScore[]) =>
    scores.map(({ role, parts, precision, recall, f }) => [
      role,
      parts,
      precision.toFixed(2),
      recall.toFixed(2),
      f.toFixed(2),
    ]);
  const head = ['role', 'parts', 'precision', 'recall', 'F'];
  return [
    '## Roles',
    '',
    'The parts of the real files are labeled in `tests/fixtures/openmsx-roles.csv`: filled in by General MIDI family, then gone',
    'through by hand by name, program, range and doublings; nobody listened. `instrument` is what name and program give a part',
    'out as, `plays` what its notes do (a piano track that doubles the bass line plays bass).',
    '',
    `With program and name: ${told.right} of ${told.parts} right, ${percent(told.right, told.parts)}. Wrong: ${told.wrong.join('; ')}.`,
    '',
    'Program and name hidden, takes of the stand-ins:',
    '',
    ...table(head, rows(standIns)),
    'Program and name hidden, the real files. Instruments that play alike (keys, guitar, strings, brass, reeds) cannot be told',
    'apart by notes; what is told is drums, bass, and chords or lines:',
    '',
    ...table(head, rows(real)),
  ];
}

function certaintyPage(): string[] {
  const { keys, chords } = harmonySaid(CHARTS);
  const kinds: [string, Families][] = [
    ['keys', keys],
    ['chords', chords],
    ['roles', rolesSaid()],
  ];
  return [
    '## How certain',
    '',
    'Of what is said with 0.9, nine in ten should be right. Expected calibration error (Naeini, Cooper & Hauskrecht 2015): the mean',
    'distance between the two over ten bins. The curves were fitted with every family counting the same, four more families of charts and',
    'the labeled keys of the real files among them, before the weights of keys were last changed. Leaving each family out of the fit in turn',
    'moved its error by 0.03 at the most.',
    '',
    ...table(
      ['what', 'family', 'findings', 'error', 'said: right (findings)'],
      kinds.flatMap(([kind, families]) =>
        [...Object.entries(families), ['all', Object.values(families).flat()] as const].map(
          ([family, said]) => [
            kind,
            family,
            said.length,
            calibrationError(said).toFixed(3),
            bins(said)
              .map((bin) => `${bin.said.toFixed(2)}: ${bin.right.toFixed(2)} (${bin.count})`)
              .join(', '),
          ],
        ),
      ),
    ),
  ];
}
