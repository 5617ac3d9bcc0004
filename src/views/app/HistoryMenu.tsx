import { History, Redo2, Undo2 } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useLocation, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { create } from 'zustand';
import {
  doAgain,
  keptHistory,
  lastDone,
  nextUndone,
  takeBack,
  useDeeds,
  type Deed,
} from '../../ui/history/deeds.ts';
import { Button } from '../../ui/Button.tsx';
import { PopoverCard } from '../../ui/PopoverCard.tsx';

const useOpen = create<{ open: boolean }>(() => ({ open: false }));

export function openHistory(): void {
  useOpen.setState({ open: true });
}

/** Takes back and does again whatever was done last in this window; before that, what the view's own history holds. */
export function useLastDeed() {
  const navigate = useNavigate();
  const { pathname } = useLocation();
  /** What is taken back is seen: where it was done elsewhere, this goes there, or says it. */
  const tell = (deed: Deed, words: string) => {
    if (deed.path && deed.path !== pathname) void navigate(deed.path);
    if (deed.path !== pathname) toast(`${words}: ${deed.what}`);
  };
  return {
    undo: () => {
      const deed = lastDone();
      if (!deed) return void keptHistory()?.undo();
      tell(deed, 'Taken back');
      takeBack(deed);
    },
    redo: () => {
      const deed = nextUndone();
      if (!deed) return void keptHistory()?.redo();
      tell(deed, 'Done again');
      doAgain(deed);
    },
    /** Takes back everything after a deed, and the deed. */
    undoFrom: (deed: Deed) => {
      const { done } = useDeeds.getState();
      for (const later of done.slice(done.indexOf(deed)).reverse()) takeBack(later);
      if (deed.path && deed.path !== pathname) void navigate(deed.path);
    },
    redoUntil: (deed: Deed) => {
      const { undone } = useDeeds.getState();
      for (const earlier of undone.slice(undone.indexOf(deed)).reverse()) doAgain(earlier);
      if (deed.path && deed.path !== pathname) void navigate(deed.path);
    },
  };
}

/** What was done last, to be taken back from any view, and all that was done in this window. */
export function HistoryMenu() {
  const { done, undone } = useDeeds();
  const { open } = useOpen();
  const last = useLastDeed();
  const setOpen = (to: boolean) => useOpen.setState({ open: to });
  const undoes = done.at(-1)?.what;
  const redoes = undone.at(-1)?.what;
  return (
    <div className="flex">
      <IconButton
        title={undoes ? `Last done: ${undoes}. Take it back (Ctrl Z)` : 'Nothing was done here yet'}
        disabled={!undoes}
        onClick={last.undo}
      >
        <Undo2 size={15} aria-hidden="true" />
      </IconButton>
      <IconButton
        title={redoes ? `Do ${redoes} again (Ctrl Y)` : 'Nothing was taken back'}
        disabled={!redoes}
        onClick={last.redo}
      >
        <Redo2 size={15} aria-hidden="true" />
      </IconButton>
      <Popover.Root open={open} onOpenChange={setOpen}>
        <Popover.Trigger asChild>
          <Button
            kind="quiet"
            className="px-1.5"
            aria-label="What was done in this window"
            title="What was done in this window"
          >
            <History size={15} aria-hidden="true" />
          </Button>
        </Popover.Trigger>
        <PopoverCard label="What was done in this window" className="w-80">
          <h2 className="mb-1 text-base">Done in this window</h2>
          {done.length + undone.length === 0 && (
            <p className="text-sm text-muted">
              Nothing yet. Whatever you do stands here, and can be taken back from any view.
            </p>
          )}
          <ol className="max-h-80 overflow-y-auto text-sm">
            {undone.map((deed) => (
              <Row key={`${deed.at} ${deed.what}`} deed={deed} isUndone onGo={() => last.redoUntil(deed)} />
            ))}
            {[...done].reverse().map((deed) => (
              <Row key={`${deed.at} ${deed.what}`} deed={deed} onGo={() => last.undoFrom(deed)} />
            ))}
          </ol>
        </PopoverCard>
      </Popover.Root>
    </div>
  );
}

function Row({ deed, isUndone = false, onGo }: { deed: Deed; isUndone?: boolean; onGo: () => void }) {
  return (
    <li className="flex items-baseline gap-2 border-b border-thread py-1 last:border-b-0">
      <time className="flex-none text-xs text-muted" dateTime={new Date(deed.at).toISOString()}>
        {new Date(deed.at).toLocaleTimeString('en', { hour: '2-digit', minute: '2-digit', hour12: false })}
      </time>
      <span
        className={`min-w-0 flex-1 truncate ${isUndone ? 'text-muted line-through' : ''}`}
        title={deed.what}
      >
        {deed.what}
      </span>
      <button
        type="button"
        className="flex-none text-xs underline decoration-rule underline-offset-3 hover:decoration-ink"
        title={
          isUndone
            ? 'Does this and what was done before it again'
            : 'Takes this back, and what was done after it'
        }
        onClick={onGo}
      >
        {isUndone ? 'again' : 'back to before'}
      </button>
    </li>
  );
}

function IconButton({
  title,
  disabled,
  onClick,
  children,
}: {
  title: string;
  disabled: boolean;
  onClick: () => void;
  children: React.ReactNode;
}) {
  return (
    <Button
      kind="quiet"
      className="px-1.5"
      aria-label={title}
      title={title}
      disabled={disabled}
      onClick={onClick}
    >
      {children}
    </Button>
  );
}
