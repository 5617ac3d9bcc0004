import { Play } from 'lucide-react';
import { useMemo } from 'react';
import { beatTicks, meterAt } from '../../../core/music/timeline.ts';
import type { Clip } from '../../../core/phrase/clip.ts';
import { plural } from '../../../core/words.ts';
import { Button } from '../../../ui/Button.tsx';
import { SeamPicture } from '../../../ui/drawing/SeamPicture.tsx';
import { drawnNotes } from '../../../ui/drawing/strand.ts';

const WIDTH = 300;
const HEIGHT = 130;

/** The loop's seam enlarged: the last beat and the first side by side, as captured and as the recipe leaves it. */
export function PhraseSeam({ hollow, solid, onListen }: { hollow: Clip; solid: Clip; onListen: () => void }) {
  const crossing = solid.notes.filter(({ tick, duration }) => tick + duration > solid.length).length;
  const held = solid.notes.filter(
    ({ tick, duration }) => tick < solid.length && tick + duration === solid.length,
  ).length;
  return (
    <section aria-label="The seam" className="flex h-42 flex-none items-start gap-5">
      <Seam clip={hollow} title="As captured" />
      <Seam clip={solid} title="As the recipe leaves it" />
      <div className="grid gap-2 text-sm">
        <p>
          {crossing > 0
            ? `${plural(crossing, 'note')} ${crossing === 1 ? 'sounds' : 'sound'} over the end: Bars can cut or wrap.`
            : 'No note sounds over the end.'}
        </p>
        {held > 0 && (
          <p className="text-muted">
            {plural(held, 'note')} {held === 1 ? 'ends' : 'end'} with the last bar line.
          </p>
        )}
        <Button small onClick={onListen}>
          <Play size={12} aria-hidden="true" /> Hear the seam
        </Button>
      </div>
    </section>
  );
}

function Seam({ clip, title }: { clip: Clip; title: string }) {
  const notes = useMemo(() => drawnNotes(clip.notes), [clip]);
  const place = useMemo(() => {
    const { ppq } = clip.timeline;
    const meter = meterAt(clip.timeline, Math.max(0, clip.length - 1));
    return { start: clip.pickup, end: clip.length, beat: beatTicks(ppq, meter), early: 0 };
  }, [clip]);
  return (
    <figure className="min-w-0">
      <figcaption className="text-base font-semibold">{title}</figcaption>
      <SeamPicture
        notes={notes}
        role={clip.role}
        place={place}
        width={WIDTH}
        height={HEIGHT}
        label={`${title}: the last beat, then the first`}
      />
    </figure>
  );
}
