import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseMidi } from 'midi-file';
import { readTakes } from '../src/core/capture/take.ts';
import { writeMidiFile } from '../src/core/midi/write.ts';
import { performanceFile } from '../src/core/standins/performance.ts';
import { STAND_INS } from '../src/core/standins/stand-ins.ts';
import { openLibrary } from '../src/server/db/client.ts';
import { workOn } from '../src/server/jobs/engine.ts';
import { endReaders, INTAKES } from '../src/server/jobs/intake.ts';
import { addItems, closeIntake, createIntake, getJob } from '../src/server/library/jobs.ts';
import type { BenchResult } from './measure.ts';
import { midiMaterial } from './material.ts';

/** Files that are generated; INTAKE_FILES sets another number. */
const FILES = Number(process.env.INTAKE_FILES ?? 10_000);

/**
 * Files a second stored, read and split: the stand-ins' takes, all different, and the Debian set. The reference only
 * parses the same files (npm midi-file). Peak memory is told after each tenth: it should stay flat.
 */
export async function bench(): Promise<BenchResult> {
  const folder = mkdtempSync(join(tmpdir(), 'basket-bench-'));
  try {
    const paths = writeMaterial(join(folder, 'files'));
    const library = await openLibrary({ dataDirectory: join(folder, 'library') });
    const job = await createIntake(library.db, 'command');
    await addItems(
      library.db,
      job.id,
      paths.map((path) => ({ file: path, path })),
    );
    await closeIntake(library.db, job.id);
    const memory: number[] = [];
    let due = 0;
    const watching = setInterval(() => {
      void getJob(library.db, job.id).then(({ counts }) => {
        const done = counts.taken + counts.known + counts.refused;
        if (done < due) return;
        due += paths.length / 10;
        memory.push(process.memoryUsage().rss);
        console.error(`${done} files, ${Math.round(memory.at(-1)! / 1e6)} MB`);
      });
    }, 200);
    const start = performance.now();
    await workOn(library, INTAKES, job.id);
    const ours = performance.now() - start;
    clearInterval(watching);
    const { counts } = await getJob(library.db, job.id);
    console.error(`${JSON.stringify(counts)}; peak ${Math.round(Math.max(...memory) / 1e6)} MB`);
    await endReaders();
    await library.close();
    const bytes = paths.map((path) => readFileSync(path));
    const reading = performance.now();
    for (const file of bytes) parseMidi(file);
    const reference = performance.now() - reading;
    const parsing = performance.now();
    for (const file of bytes) readTakes(file);
    console.error(
      `our reading alone: ${Math.round(performance.now() - parsing)} ms; theirs ${Math.round(reference)} ms`,
    );
    const perSecond = (ms: number) => (paths.length / ms) * 1000;
    return {
      bench: 'intake',
      ours: perSecond(ours),
      reference: perSecond(reference),
      ratio: reference / ours,
      unit: 'files/s',
    };
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

function writeMaterial(folder: string): string[] {
  mkdirSync(folder, { recursive: true });
  for (let n = 0; n < FILES; n++) {
    const standIn = STAND_INS[n % STAND_INS.length]!;
    const midi = performanceFile(standIn.play({ ...standIn.defaults, seed: n + 1, looseness: 10 }));
    writeFileSync(join(folder, `${standIn.id}-${n}.mid`), writeMidiFile(midi));
  }
  midiMaterial().forEach((bytes, n) => writeFileSync(join(folder, `real-${n}.mid`), bytes));
  return readdirSync(folder).map((name) => join(folder, name));
}
