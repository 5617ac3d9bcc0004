import type { Analysis, PartLoop } from '../../core/analyze/analysis.ts';
import { purposeOfBars } from '../../core/analyze/purposes.ts';
import type { Take } from '../../core/capture/take.ts';
import type { Key } from '../../core/music/key.ts';
import { seamClip } from '../../core/normalize/seam.ts';
import { clipFromPart } from '../../core/phrase/clip.ts';
import { partIndex, type Split } from '../../core/split/split.ts';
import { plural } from '../../core/words.ts';
import { listen, toggleListening } from '../../sound/player.ts';
import { toastWithUndo } from '../../ui/undoToast.ts';
import { sendJson } from '../api/client.ts';
import { renew, tellProblem, type TakeWire } from '../api/queries.ts';
import { useCurrentProject } from '../app/project.ts';
import { renewKept, tellKept } from './keep.ts';
import { takeLanes } from './listening.ts';
import { loopRange, loopWords } from './LoopMarks.tsx';
import type { Selection } from './selection.ts';
import type { BarRange, Strand } from './strand-columns.ts';

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
  const makeKept = async (parts: readonly string[], { start, count }: BarRange) => {
    const purpose = analysis && purposeOfBars(analysis, { start, count });
    const tags = ['loop', ...(purpose ? [purpose] : [])];
    const { phraseIds } = await sendJson<{ phraseIds: string[] }>('POST', '/api/phrases', {
      takeId: row.id,
      parts,
      startBar: start,
      bars: count,
      projectId: project?.id ?? null,
      tags,
    });
    await sendJson('POST', '/api/phrases/state', { phraseIds, state: 'kept' });
    return phraseIds;
  };
  const keepAndTell = async (make: () => Promise<string[]>, done: (count: number) => string) => {
    try {
      const phraseIds = await make();
      await renewKept();
      tellKept(done(phraseIds.length), 'keeping', phraseIds);
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
      void keepAndTell(
        () => makeKept(which, bars),
        (count) =>
          count > 1
            ? `A sheaf of ${count} parts, ${barsWords(bars)}, is kept`
            : `A loop, ${barsWords(bars)}, is kept`,
      );
    },
    keepAll: (loops: readonly PartLoop[]) =>
      void keepAndTell(
        async () => {
          const ids: string[] = [];
          for (const loop of loops) ids.push(...(await makeKept([loop.part], loopRange(loop))));
          return ids;
        },
        (count) =>
          `${plural(count, 'loop')} are kept: ${loops.map((loop) => `${loop.name} ${loopWords(loop)}`).join('; ')}`,
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
