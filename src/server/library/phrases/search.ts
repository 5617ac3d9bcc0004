import { eq, sql } from 'drizzle-orm';
import type { Beside } from '../../../core/catalog/beside.ts';
import type { PhraseFilter, PhraseSort } from '../../../core/catalog/find.ts';
import type { FitContext } from '../../../core/catalog/fit.ts';
import { ChartError, parseChart, type ChartChord } from '../../../core/music/chart.ts';
import type { Mode } from '../../../core/music/key.ts';
import { keyOfProject } from '../../../core/reuse/in-project.ts';
import { catalogOf } from '../../catalog/catalog.ts';
import { among } from '../../db/among.ts';
import type { Db, Library } from '../../db/client.ts';
import { contributors, phraseContents, phrases, projects, sources, takes } from '../../db/schema.ts';
import { withContent } from './phrase-rows.ts';
import { getProject, type Project } from '../projects.ts';
import { tagsOf } from './tags.ts';

/** Phrases on one page of a list. */
export const PHRASES_AT_ONCE = 60;

export interface PhraseQuery {
  filter: PhraseFilter;
  sort?: PhraseSort | undefined;
  /** The project that they are to suit. */
  projectId?: string | undefined;
  /** Phrases that play already, and what else does: parts of takes, sections of weaves. */
  pins?: readonly string[] | undefined;
  beside?: readonly Beside[] | undefined;
  offset?: number | undefined;
}

/** A page of phrases in an order, each with how well it suits the project; and where the next page begins. */
export async function searchPhrases(library: Library, query: PhraseQuery) {
  const { filter, sort = 'name', projectId, pins = [], beside = [], offset = 0 } = query;
  const project = projectId ? await getProject(library.db, projectId) : null;
  const page = await catalogOf(library).page({
    filter,
    sort,
    suits: project ? suitOf(project) : null,
    pins: [...pins],
    beside: [...beside],
    offset,
    limit: PHRASES_AT_ONCE,
  });
  const rows = await phraseRows(library.db, page.ids);
  return {
    // What went away between two questions is left out.
    phrases: page.ids.flatMap((id, k) => {
      const row = rows.get(id);
      return row ? [{ ...row, fit: page.fits[k] ?? null }] : [];
    }),
    total: page.total,
    next: offset + page.ids.length < page.total ? offset + page.ids.length : null,
  };
}

export type PhraseListItem = Awaited<ReturnType<typeof searchPhrases>>['phrases'][number];

/** What a project asks of phrases: a chart that cannot be read asks nothing. */
export function suitOf(project: Project): FitContext {
  const { bpm, meterNumerator, meterDenominator, chords } = project;
  return {
    key: keyOfProject(project),
    bpm,
    meter: `${meterNumerator}/${meterDenominator}`,
    chart: chords.trim() ? chartOf(chords, meterNumerator) : undefined,
  };
}

function chartOf(chords: string, beats: number): ChartChord[][] | undefined {
  try {
    return parseChart(chords, beats);
  } catch (error) {
    if (error instanceof ChartError) return undefined;
    throw error;
  }
}

/** What a list shows of some phrases, by id; what is not there is left out. */
export async function phraseRows(db: Db, ids: readonly string[]) {
  const shownRows = db
    .select({
      id: phrases.id,
      name: phrases.name,
      role: phrases.role,
      keyTonic: phrases.keyTonic,
      keyMode: phrases.keyMode,
      takeKey: phrases.takeKey,
      bpm: phrases.bpm,
      bars: phrases.bars,
      meterNumerator: phrases.meterNumerator,
      meterDenominator: phrases.meterDenominator,
      noteCount: phrases.noteCount,
      program: phrases.program,
      partName: phrases.partName,
      startBar: phrases.startBar,
      number: phrases.number,
      state: phrases.state,
      sheafId: phrases.sheafId,
      takeId: phrases.takeId,
      takeName: takes.name,
      sourceName: sources.name,
      projectId: phrases.projectId,
      project: projects.name,
      rights: phrases.rights,
      rating: phrases.rating,
      heardAt: phrases.heardAt,
      contributor: contributors.name,
      numerals: phrases.numerals,
      swatch: sql<string>`encode(${phraseContents.swatch}, 'base64')`,
    })
    .from(phrases)
    .innerJoin(phraseContents, withContent)
    .innerJoin(takes, eq(takes.id, phrases.takeId))
    .leftJoin(sources, eq(sources.id, takes.sourceId))
    .leftJoin(projects, eq(projects.id, phrases.projectId))
    .leftJoin(contributors, eq(contributors.id, phrases.contributorId))
    .where(among(phrases.id, ids));
  const [rows, byPhrase] = await Promise.all([shownRows, tagsOf(db, ids)]);
  const shown = rows.map(({ keyTonic, keyMode, takeKey, heardAt, ...row }) => ({
    ...row,
    heardAt: heardAt?.toISOString() ?? null,
    keptIn: keyTonic !== null && keyMode ? { tonic: keyTonic, mode: keyMode as Mode } : null,
    key: keyTonic !== null ? takeKey : null,
    tags: byPhrase.get(row.id) ?? [],
  }));
  return new Map(shown.map((row) => [row.id, row]));
}
