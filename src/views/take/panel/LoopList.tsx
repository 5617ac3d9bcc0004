import type { PartLoop } from '../../../core/analyze/part-loops.ts';
import { seamWords } from '../../../core/analyze/seam.ts';
import { barStart, beatTicks, meterAt, type Timeline } from '../../../core/music/timeline.ts';
import { Button } from '../../../ui/Button.tsx';
import { SeamPicture, type SeamPlace } from '../../../ui/drawing/SeamPicture.tsx';
import { loopRange, loopWords } from '../strands/LoopMarks.tsx';
import type { MusicDoing } from '../doing/music-doing.ts';
import type { BarRange, Strand } from '../../shared/takes/strand-columns.ts';

/** Loops of the chosen part, best first: what happens at the seam, listening, and keeping. */
export function LoopList({
  loops,
  best,
  chosen,
  doing,
  strand,
  timeline,
}: {
  /** Of the chosen part. */
  loops: readonly PartLoop[];
  /** The best of every part. */
  best: readonly PartLoop[];
  chosen: BarRange | null;
  doing: MusicDoing;
  /** The chosen part. */
  strand: Strand;
  timeline: Timeline;
}) {
  return (
    <section aria-label="Loops">
      <h2 className="mb-1">Loops</h2>
      {loops.length === 0 && <p className="text-sm text-muted">Nothing in this part comes back.</p>}
      <ul>
        {loops.map((loop) => (
          <LoopRow
            key={`${loop.startBar} ${loop.bars}`}
            loop={loop}
            isChosen={chosen?.start === loop.startBar && chosen.count === loop.bars}
            doing={doing}
            strand={strand}
            timeline={timeline}
          />
        ))}
      </ul>
      {best.length > 1 && (
        <Button
          small
          className="mt-1.5"
          title="The best loop of each part, each as a phrase of its own"
          onClick={() => doing.keepAll(best)}
        >
          Keep the best loop of all {best.length} parts
        </Button>
      )}
    </section>
  );
}

function LoopRow({
  loop,
  isChosen,
  doing,
  strand,
  timeline,
}: {
  loop: PartLoop;
  isChosen: boolean;
  doing: MusicDoing;
  strand: Strand;
  timeline: Timeline;
}) {
  const seam = seamWords(loop.seam);
  const last = loop.startBar + loop.bars - 1;
  return (
    <li
      aria-current={isChosen}
      className={`quiet-row grid gap-1 border-l-3 py-1.5 pl-2 text-sm ${isChosen ? 'border-madder' : 'border-transparent'}`}
    >
      <button type="button" className="text-left hover:underline" onClick={() => doing.choose(loop)}>
        {loop.bars === 1 ? `Bar ${loop.startBar}` : `Bars ${loop.startBar} to ${last}`}
        <span className="block text-xs text-muted">{loopWords(loop)}</span>
      </button>
      <span className={`text-xs ${seam.length > 0 ? 'text-madder' : 'text-good'}`}>
        {seam.length > 0 ? `Seam: ${seam.join(', ')}` : 'Clean seam'}
      </span>
      {isChosen && (
        <SeamPicture
          notes={strand.notes}
          role={strand.part.role}
          place={seamPlace(loop, timeline)}
          width={208}
          height={40}
          label={`Last beat of bar ${loop.startBar + loop.bars - 1}, then first beat of bar ${loop.startBar}`}
        />
      )}
      <span className="flex flex-wrap gap-1.5">
        <Button small onClick={() => doing.hear(loop)} title="Again and again (R)">
          Listen
        </Button>
        <Button
          small
          onClick={() => doing.hearSeam(loop)}
          title="Its last bar and its first, again and again (Shift R)"
        >
          Hear the seam
        </Button>
        <Button small onClick={() => doing.keep([loop.part], loopRange(loop))} title="As a phrase (K)">
          Keep
        </Button>
        <Button
          small
          onClick={() => doing.keep('all', loopRange(loop))}
          title="The same bars of all parts, kept together"
        >
          Keep as a sheaf
        </Button>
      </span>
    </li>
  );
}

function seamPlace({ startBar, bars }: PartLoop, timeline: Timeline): SeamPlace {
  const [start, end] = [barStart(timeline, startBar), barStart(timeline, startBar + bars)];
  return { start, end, beat: beatTicks(timeline.ppq, meterAt(timeline, start)), early: timeline.ppq / 8 };
}
