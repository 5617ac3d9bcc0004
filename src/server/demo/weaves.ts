import { keyName } from '../../core/music/key.ts';
import { keyOfProject } from '../../core/reuse/in-project.ts';
import { ENDING_BARS, newCell, newSection, type Weave } from '../../core/weave/weave.ts';
import type { Library } from '../db/client.ts';
import type { Project } from '../library/projects.ts';
import { createWeave } from '../library/weaves.ts';
import { WEAVES, type DemoWeave } from './scenario.ts';

/** A weave a show, of the phrases that are kept. */
export async function seedWeaves(
  { db }: Library,
  made: readonly Project[],
  byName: ReadonlyMap<string, string>,
): Promise<void> {
  // The last is shown first.
  for (const demo of [...WEAVES].reverse()) {
    const project = made[demo.project]!;
    await createWeave(db, weaveOf(demo, project, byName), project.id);
  }
}

function weaveOf(demo: DemoWeave, project: Project, byName: ReadonlyMap<string, string>): Weave {
  const key = keyOfProject(project);
  const sections = demo.sections.map(({ name, bars, times = 1, changes = '', meter, energy }, k) => ({
    ...newSection(`s${k + 1}`, name, bars),
    ...{ times, changes, energy },
    meter: meter ? { numerator: meter[0], denominator: meter[1] } : null,
  }));
  const parts = demo.parts.map(({ name, role }, k) => ({
    ...{ id: `p${k + 1}`, name, role, program: null, level: 1, pan: null },
  }));
  const cells = demo.parts.flatMap(({ phrases, fill = {} }, k) =>
    sections.flatMap(({ id, name }) => {
      const phrase = phrases[name] && byName.get(phrases[name]);
      if (!phrase) return [];
      const led = fill[name] && byName.get(fill[name]);
      return [{ ...newCell(id, parts[k]!.id, phrase), fill: led ?? null }];
    }),
  );
  return {
    ...{ title: demo.title, bpm: project.bpm, key: key ? keyName(key) : '' },
    meter: { numerator: project.meterNumerator, denominator: project.meterDenominator },
    ...{ sections, parts, cells, ending: demo.ending, endingBars: ENDING_BARS, refused: [] },
  };
}
