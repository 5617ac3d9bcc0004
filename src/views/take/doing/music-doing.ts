import type { Analysis } from '../../../core/analyze/analysis.ts';
import type { PartLoop } from '../../../core/analyze/part-loops.ts';
import { purposeOfBars } from '../../../core/analyze/purposes.ts';
import type { Take } from '../../../core/capture/take.ts';
import type { Key } from '../../../core/music/key.ts';
import { seamClip } from '../../../core/normalize/seam.ts';
import { clipFromPart } from '../../../core/phrase/clip.ts';
import { partIndex, type Split } from '../../../core/split/split.ts';
import { plural } from '../../../core/words.ts';
import { toast } from 'sonner';
import { listen, toggleListening } from '../../../sound/player.ts';
import { toastWithUndo } from '../../../ui/history/undoToast.ts';
import { sendJson } from '../../api/client.ts';
import { renew, tellProblem, type TakeWire } from '../../api/queries.ts';
import { useCurrentProject } from '../../shared/project.ts';
import { renewKept, tellKept } from '../../shared/takes/keep.ts';
import { takeLanes } from '../../shared/takes/take-lanes.ts';
import { loopRange, loopWords } from '../strands/LoopMarks.tsx';
import type { Selection } from '../selection.ts';
import type { BarRange, Strand } from '../../shared/takes/strand-columns.ts';

/** Whether some bars of parts are rounds of a loop that one of them has. */
function isRoundOfLoop({ loops }: Analysis, parts: readonly string[], { start, count }: BarRange): boolean {
  return loops.some(
    ({ part, startBar, bars, repeats }) =>
      parts.includes(part) &&
      count % bars === 0 &&
      start >= startBar &&
      start + count <= startBar + bars * repeats,
  );
}

/** What bars are called and what they are for: a section by its name and its purpose, a round of a loop as that. */
function tagsOfBars(analysis: Analysis, parts: readonly string[], bars: BarRange): string[] {
  const section = analysis.sections.find(
    ({ startBar, bars: length }) => startBar === bars.start && length === bars.count,
  );
  // A letter is no name.
  const name = section && section.label.length > 2 ? [section.label.toLowerCase()] : [];
  const loop = section === undefined && isRoundOfLoop(analysis, parts, bars) ? ['loop'] : [];
  return [...new Set([...loop, ...name, purposeOfBars(analysis, bars)])];
}

/** What can be done with what was found in the music: hearing loops and their seams, keeping bars. */
export function useMusicDoing({
  row,
  take,
  split,
  strands,
  selection,
  key,
  analysis,
}: {
  row: TakeWire;
  take: Take;
  split: Split;
  strands: readonly Strand[];
  selection: Selection;
  key: Key | null;
  /** Undefined while it is worked out. */
  analysis: Analysis | undefined;
}) {
  const project = useCurrentProject();
  const choose = (loop: PartLoop) => {
    selection.setParts([loop.part]);
    selection.setRange(loopRange(loop));
  };
  const makeKept = (parts: readonly string[], bars: BarRange) => {
    const { start, count } = bars;
    const tags = analysis ? tagsOfBars(analysis, parts, bars) : [];
    return sendJson<{ phraseIds: string[]; already: boolean }>('POST', '/api/phrases', {
      takeId: row.id,
      parts,
      startBar: start,
      bars: count,
      projectId: project?.id ?? null,
      tags,
      keep: true,
    });
  };
  /** Keeps some cuts, one after the other, and tells what was kept and what had been kept before. */
  const keepAll = async (
    cuts: readonly { parts: readonly string[]; bars: BarRange }[],
    done: (count: number) => string,
    already: string,
  ) => {
    try {
      const fresh: string[] = [];
      let known = 0;
      for (const { parts, bars } of cuts) {
        const made = await makeKept(parts, bars);
        if (made.already) known++;
        else fresh.push(...made.phraseIds);
      }
      await renewKept();
      if (fresh.length > 0) tellKept(done(fresh.length), 'keeping', fresh);
      if (known > 0) toast(known < cuts.length ? `${known} of them were kept already.` : already);
    } catch (error) {
      tellProblem(error);
    }
  };
  const barsWords = ({ start, count }: BarRange) =>
    count === 1 ? `bar ${start}` : `bars ${start} to ${start + count - 1}`;
  /** Parts that play in some bars. */
  const playingIn = ({ start, count }: BarRange) =>
    strands
      .filter(({ part }) => {
        const [lane] = takeLanes(take, split, [{ id: part.id }], { start, count }, key);
        return lane!.clip.notes.length > 0;
      })
      .map(({ part }) => part.id);
  return {
    choose,
    hear: (loop: PartLoop) => {
      choose(loop);
      void toggleListening({
        id: `take ${row.id}`,
        title: loop.name,
        subtitle: `${row.name}, ${barsWords(loopRange(loop))}`,
        lanes: takeLanes(take, split, [{ id: loop.part }], loopRange(loop), key),
      });
    },
    hearSeam: (loop: PartLoop) => {
      choose(loop);
      const clip = clipFromPart(take, split, partIndex(split, loop.part), key);
      void listen({
        id: `seam ${row.id} ${loop.part}`,
        title: `${loop.name}, the seam`,
        subtitle: `bar ${loop.startBar + loop.bars - 1}, then bar ${loop.startBar}`,
        lanes: [{ id: loop.part, clip: seamClip(clip, loopRange(loop)) }],
      });
    },
    /** Keeps bars of parts, or of all that play in them, at once. */
    keep: (parts: readonly string[] | 'all', bars: BarRange) => {
      const which = parts === 'all' ? playingIn(bars) : parts;
      const isLoop = analysis !== undefined && isRoundOfLoop(analysis, which, bars);
      const what = which.length > 1 ? 'sheaf' : isLoop ? 'loop' : 'phrase';
      void keepAll(
        [{ parts: which, bars }],
        (count) =>
          count > 1
            ? `A sheaf of ${count} parts, ${barsWords(bars)}, is kept`
            : `A ${what}, ${barsWords(bars)}, is kept`,
        `This ${what}, ${barsWords(bars)}, is kept already.`,
      );
    },
    keepAll: (loops: readonly PartLoop[]) =>
      void keepAll(
        loops.map((loop) => ({ parts: [loop.part], bars: loopRange(loop) })),
        (count) =>
          `${plural(count, 'loop')} ${count === 1 ? 'is' : 'are'} kept: ${loops.map((loop) => `${loop.name} ${loopWords(loop)}`).join('; ')}`,
        'These loops are kept already.',
      ),
    keepChanges: async ({ start, count }: BarRange, name: string) => {
      try {
        const kept = await sendJson<{ id: string; name: string }>('POST', '/api/changes', {
          takeId: row.id,
          startBar: start,
          bars: count,
          name: `${row.name}, ${name}`,
        });
        await renew('changes');
        toastWithUndo(`The changes "${kept.name}" are kept under their key`, 'keeping them', () => {
          void sendJson('PATCH', `/api/changes/${kept.id}`, { aside: true })
            .then(() => renew('changes'))
            .catch(tellProblem);
        });
      } catch (error) {
        tellProblem(error);
      }
    },
  };
}

export type MusicDoing = ReturnType<typeof useMusicDoing>;
