import { Command, CommanderError } from 'commander';
import { normalizeCommand, type NormalizeOptions } from './normalize.ts';
import { LibraryLockedError } from '../server/db/lock.ts';
import { LibraryError, storageProblem } from '../server/library/errors.ts';
import { backupCommand, rebuildCommand, restoreCommand, type LibraryOptions } from './library.ts';
import { intakeCommand, type IntakeOptions } from './intake.ts';
import { Refusal, type Output } from './output.ts';
import { readCommand } from './read.ts';
import { alikeCommand } from './alike.ts';
import { analyzeCommand } from './analyze.ts';
import { bassCommand, type BassOptions } from './bass.ts';
import { changesCommand } from './changes.ts';
import { clashesCommand } from './clashes.ts';
import { compCommand, type CompOptions } from './comp.ts';
import { fillCommand } from './fill.ts';
import { fitCommand, type FitOptions } from './fit.ts';
import { inviteCommand, type InviteOptions } from './invite.ts';
import { mergeCommand, type MergeOptions } from './merge.ts';
import { packCommand, type PackOptions } from './pack.ts';
import { returnedCommand } from './returned.ts';
import { sheetCommand, type SheetOptions } from './sheet.ts';
import { splitCommand, type SplitOptions } from './split.ts';
import { sweepCommand, type SweepOptions } from './sweep.ts';
import { weaveCommand, type WeaveOptions } from './weave.ts';

/** Runs a command line. Returns the exit code: 0 done, 1 something was refused, 2 wrong usage. */
export async function run(args: readonly string[]): Promise<number> {
  let code = 0;
  const output = (json: boolean | undefined): Output => ({
    json: json ?? false,
    answer: (text) => process.stdout.write(`${text}\n`),
    problem: (text) => process.stderr.write(`${text}\n`),
  });
  const program = new Command('hollow-basket')
    .description('Takes MIDI apart by instrument and brings it to one standard.')
    .exitOverride();
  program
    .command('read')
    .argument('<file...>')
    .description('what MIDI files hold, and what is damaged in them')
    .option('--json', 'one JSON document on standard output')
    .action((files: string[], options: { json?: boolean }) => {
      code = readCommand(files, output(options.json));
    });
  program
    .command('split')
    .argument('<file...>')
    .description('the parts of files, with the tally')
    .option('--pieces', 'take each kit apart into its pieces')
    .option('--hands', 'take each keyboard part apart into two hands')
    .option('--as-is', 'accept no proposal: parts as track, channel and program say')
    .option('--out <dir>', 'write a .mid for each part')
    .option('--json', 'one JSON document on standard output')
    .action((files: string[], options: SplitOptions & { json?: boolean }) => {
      code = splitCommand(files, options, output(options.json));
    });
  program
    .command('analyze')
    .argument('<file...>')
    .description('key, chords, loops, sections and feel of files')
    .option('--chart <chart>', 'hold a chord chart against what sounds, such as "Dm | Gm A7 | Dm"')
    .option('--json', 'one JSON document on standard output')
    .action((files: string[], options: { chart?: string; json?: boolean }) => {
      code = analyzeCommand(files, options, output(options.json));
    });
  program
    .command('normalize')
    .argument('<file>')
    .description('a part brought to a standard by a recipe')
    .requiredOption(
      '--recipe <file>',
      'a recipe file, or a preset: "house", "house:ROLE", or with --data one that was kept',
    )
    .option('--part <name>', 'which part (the first, where none is named)')
    .option('--bars <range>', 'bars such as 3-6, counted from 1')
    .requiredOption('--out <file>', 'the MIDI file to write')
    .option('--data <dir>', 'the library whose house standard and presets are meant')
    .option('--json', 'one JSON document on standard output')
    .action(async (file: string, options: NormalizeOptions & { json?: boolean }) => {
      code = await normalizeCommand(file, options, output(options.json));
    });
  program
    .command('weave')
    .argument('<plan>')
    .description('phrases laid over sections by a plan: a file a part, equally long, and one of all')
    .requiredOption('--out <dir>', 'the folder to write to')
    .option('--json', 'one JSON document on standard output')
    .action((plan: string, options: WeaveOptions & { json?: boolean }) => {
      code = weaveCommand(plan, options, output(options.json));
    });
  program
    .command('fit')
    .argument('<file...>')
    .description('how well files suit a key, tempo, meter and chart, with the reasons')
    .option('--key <key>', 'such as "G major"')
    .option('--bpm <tempo>', 'BPM')
    .option('--meter <meter>', 'such as 4/4')
    .option('--chart <chart>', 'the chords they are to go with, such as "Dm | Gm A7 | Dm"')
    .option('--json', 'one JSON document on standard output')
    .action((files: string[], options: FitOptions & { json?: boolean }) => {
      code = fitCommand(files, options, output(options.json));
    });
  program
    .command('alike')
    .argument('<file...>')
    .description('what files have in common: the same notes, moved, at another tempo, varied')
    .option('--json', 'one JSON document on standard output')
    .action((files: string[], options: { json?: boolean }) => {
      code = alikeCommand(files, output(options.json));
    });
  program
    .command('changes')
    .argument('<file>')
    .description('chords for a tune: plain, warmer, darker')
    .option('--part <name>', 'the tune (the voice or lead, where none is named)')
    .option('--json', 'one JSON document on standard output')
    .action((file: string, options: { part?: string; json?: boolean }) => {
      code = changesCommand(file, options, output(options.json));
    });
  program
    .command('bass')
    .description('a bass for chords')
    .requiredOption('--chart <chart>', 'the chords, such as "Dm | Gm A7 | Dm"')
    .requiredOption('--way <way>', 'roots, fifths, octaves or walking')
    .option('--bpm <tempo>', 'BPM', '100')
    .option('--key <key>', 'such as "G major" (the one the chords are in, where none is named)')
    .option('--seed <number>', 'what is chosen among equals', '1')
    .requiredOption('--out <file>', 'the MIDI file to write')
    .option('--json', 'one JSON document on standard output')
    .action((options: BassOptions & { json?: boolean }) => {
      code = bassCommand(options, output(options.json));
    });
  program
    .command('clashes')
    .argument('<file...>')
    .description('where the parts of a file clash, or files that begin together')
    .option('--json', 'one JSON document on standard output')
    .action((files: string[], options: { json?: boolean }) => {
      code = clashesCommand(files, output(options.json));
    });
  program
    .command('comp')
    .argument('<file...>')
    .description('the best bars of several passes over one chart, as one')
    .requiredOption('--chart <chart>', 'the chart that all of them play, such as "Dm | Gm A7 | Dm"')
    .option('--suggest <way>', 'errors (the fewest) or fills (the most different)', 'errors')
    .requiredOption('--out <file>', 'the MIDI file to write')
    .option('--json', 'one JSON document on standard output')
    .action((files: string[], options: CompOptions & { json?: boolean }) => {
      code = compCommand(files, options, output(options.json));
    });
  program
    .command('sweep')
    .argument('<plan>')
    .description('one stand-in asked the same in many ways by a plan, and which of the answers differ')
    .option('--out <dir>', 'write a .mid for each run')
    .option('--json', 'one JSON document on standard output')
    .action((plan: string, options: SweepOptions & { json?: boolean }) => {
      code = sweepCommand(plan, options, output(options.json));
    });
  program
    .command('returned')
    .argument('<file...>')
    .description('which of what left in a pack has come back in files, and what was done to it')
    .requiredOption('--against <pack>', 'the ZIP that left, or its folder')
    .option('--json', 'one JSON document on standard output')
    .action((files: string[], options: { against: string; json?: boolean }) => {
      code = returnedCommand(files, options.against, output(options.json));
    });
  program
    .command('sheet')
    .argument('<file>')
    .description('a file for those who read: chords as text, a lead sheet, score or tablature as MusicXML')
    .requiredOption('--as <kind>', 'chords, lead, score or tab')
    .option('--part <name>', 'the tune, or what is fretted (the likeliest, where none is named)')
    .requiredOption('--out <file>', 'the file to write, such as tune.musicxml')
    .option('--json', 'one JSON document on standard output')
    .action((file: string, options: SheetOptions & { json?: boolean }) => {
      code = sheetCommand(file, options, output(options.json));
    });
  program
    .command('pack')
    .argument('<file...>')
    .description('every part of files as a phrase in one ZIP, looked through before it is written')
    .requiredOption('--out <file>', 'the ZIP to write')
    .option('--title <title>', 'what it is called (its name, where none is given)')
    .option('--plain', 'nothing in the files chooses sounds')
    .option('--previews', 'a WAV of each file beside it')
    .option('--key <key>', 'captured, kept, or one such as "G major"', 'captured')
    .option('--card <file>', 'what somebody has at their place, as JSON: applied on the way out')
    .option('--json', 'one JSON document on standard output')
    .action(async (files: string[], options: PackOptions & { json?: boolean }) => {
      code = await packCommand(files, options, output(options.json));
    });
  const data = ['--data <dir>', "the library (DATA_DIR, or data in the application's folder)"] as const;
  program
    .command('intake')
    .argument('<path...>')
    .description('files, folders and archives into the library; goes on where it was broken off')
    .option('--source <name>', 'where they come from')
    .option('--contributor <name>', 'whose they are')
    .option('--rights <text>', 'what may be done with them')
    .option(...data)
    .option('--json', 'one JSON document on standard output')
    .action(async (paths: string[], options: IntakeOptions) => {
      code = await intakeCommand(paths, options, output(options.json));
    });
  program
    .command('merge')
    .argument('<pack>')
    .description(
      'a pack that came back, or its folder, held against the library; without --take nothing is written',
    )
    .option('--take <way>', 'same, children, theirs, ours or both: what is done with what was changed')
    .option(...data)
    .option('--json', 'one JSON document on standard output')
    .action(async (pack: string, options: MergeOptions) => {
      code = await mergeCommand(pack, options, output(options.json));
    });
  program
    .command('invite')
    .argument('<name>')
    .description('a link by which somebody comes in, or who is here already chooses a new password')
    .option('--role <role>', 'member or owner', 'member')
    .option(...data)
    .option('--json', 'one JSON document on standard output')
    .action(async (name: string, options: InviteOptions) => {
      await inviteCommand(name, options, output(options.json));
    });
  program
    .command('backup')
    .argument('<file>')
    .description('the whole library in one file; also while a server has it open')
    .option(...data)
    .option('--json', 'one JSON document on standard output')
    .action(async (file: string, options: LibraryOptions) =>
      backupCommand(file, options, output(options.json)),
    );
  program
    .command('restore')
    .argument('<file>')
    .description('an empty library filled from a backup')
    .option(...data)
    .option('--json', 'one JSON document on standard output')
    .action(async (file: string, options: LibraryOptions) =>
      restoreCommand(file, options, output(options.json)),
    );
  program
    .command('fill')
    .argument('<phrases>')
    .description('an empty library filled with the demo and so many phrases more, to try a large one')
    .option(...data)
    .option('--json', 'one JSON document on standard output')
    .action(async (count: string, options: LibraryOptions) =>
      fillCommand(count, options, output(options.json)),
    );
  program
    .command('rebuild')
    .description('takes every file under originals/ in again, where the database is gone')
    .option(...data)
    .option('--json', 'one JSON document on standard output')
    .action(async (options: LibraryOptions) => {
      code = await rebuildCommand(options, output(options.json));
    });
  try {
    await program.parseAsync(args, { from: 'user' });
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2;
    if (error instanceof Refusal || error instanceof LibraryError || error instanceof LibraryLockedError) {
      process.stderr.write(`${error.message}\n`);
      return 1;
    }
    const sentence = storageProblem(error);
    if (!sentence) throw error;
    process.stderr.write(`${sentence}\n`);
    return 1;
  }
  return code;
}
