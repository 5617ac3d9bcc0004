import { useMutation } from '@tanstack/react-query';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { toast } from 'sonner';
import { takeFeel } from '../../../core/normalize/feel.ts';
import type { Grid } from '../../../core/normalize/grid.ts';
import type { Clip } from '../../../core/phrase/clip.ts';
import { plural } from '../../../core/words.ts';
import { Button } from '../../../ui/Button.tsx';
import { PopoverCard } from '../../../ui/PopoverCard.tsx';
import { sendJson } from '../../api/client.ts';
import { NameForm } from '../../shared/editing/NameForm.tsx';
import { renew, tellProblem } from '../../api/queries.ts';

/** Keeps the phrase's timing and accents under a name, to be put on others by their step Feel. */
export function FeelMenu({ clip, grid, name }: { clip: Clip; grid: Grid; name: string }) {
  const [open, setOpen] = useState(false);
  const feel = open ? takeFeel(clip, grid) : null;
  const keep = useMutation({
    mutationFn: (kept: { name: string; feel: ReturnType<typeof takeFeel> }) =>
      sendJson('PUT', '/api/feels', kept),
    onError: tellProblem,
    onSuccess: async (_, kept) => {
      await renew('feels');
      setOpen(false);
      toast.success(`The feel "${kept.name}" is kept. Add a step Feel to another phrase to put it there.`);
    },
  });
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger asChild>
        <Button small kind="quiet" className="ml-auto">
          Keep its feel ...
        </Button>
      </Popover.Trigger>
      <PopoverCard label="Keep its feel" className="w-72">
        <p className="text-sm text-muted">
          How far from each {grid} place of the bar it plays, and how loud:{' '}
          {plural(feel?.places.length ?? 0, 'place')}.
        </p>
        <NameForm
          small
          className="mt-2"
          label="Name of the feel"
          placeholder={name}
          otherwise={name}
          button="Keep"
          isShut={!feel}
          onName={(own) => keep.mutateAsync({ name: own, feel: feel! })}
        />
      </PopoverCard>
    </Popover.Root>
  );
}
