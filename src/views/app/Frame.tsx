import { lazy, Suspense, useState, type ReactNode } from 'react';
import { Button } from '../../ui/Button.tsx';
import { Mark } from '../../ui/drawing/Mark.tsx';
import { useMe, useStages } from '../api/queries.ts';
import { DropAnywhere } from '../capture/DropAnywhere.tsx';
import { HistoryMenu } from './HistoryMenu.tsx';
import { LineOfWork } from './LineOfWork.tsx';
import { ListeningBar } from './ListeningBar.tsx';
import { Palette } from './Palette.tsx';
import { PersonMenu, WhoElse } from './PersonMenu.tsx';
import { ShortcutSheet } from './ShortcutSheet.tsx';
import { WhoDid } from './news/WhoDid.tsx';
import { useLeaving } from '../shared/leaving/leaving.ts';
import { ThemeSwitch } from '../shared/ThemeSwitch.tsx';

/** It comes when it is asked for: the page is there sooner without it. */
const LeaveDialog = lazy(() => import('../leave/LeaveDialog.tsx'));

/** What stands around every view: the line of work above, the listening bar at the foot. */
export function Frame({ children }: { children: ReactNode }) {
  const [sheetOpen, setSheetOpen] = useState(false);
  const openSheet = () => setSheetOpen(true);
  const leaves = useLeaving((state) => state.open);
  const { data: stages } = useStages();
  const { data: me } = useMe();
  return (
    <DropAnywhere>
      <div
        data-brief={me?.person ? '' : undefined}
        className="grid h-dvh grid-cols-[minmax(0,1fr)] grid-rows-[57px_minmax(0,1fr)_62px] short:grid-rows-[44px_minmax(0,1fr)_50px]"
      >
        <a
          href="#view"
          className="sr-only focus:not-sr-only focus:absolute focus:top-2 focus:left-2 focus:z-50 focus:rounded-[3px] focus:bg-card focus:px-3 focus:py-1.5"
        >
          Skip to the view
        </a>
        <header className="grid grid-cols-[1fr_auto_1fr] items-center gap-4 border-b border-rule px-5 middling:grid-cols-[auto_minmax(0,1fr)_auto] middling:gap-2 brief:gap-2 narrow:px-3">
          <div className="flex items-center gap-2.5 font-display text-lg font-semibold">
            <Mark />
            <span className="flex flex-col leading-tight whitespace-nowrap middling:sr-only">
              Hollow Basket
              {stages?.isDemo && (
                <span className="font-sans text-xs font-normal text-muted" title={`In ${stages.folder}`}>
                  demo library
                </span>
              )}
            </span>
          </div>
          <LineOfWork />
          <div className="flex justify-end gap-1">
            <WhoElse />
            <WhoDid />
            <HistoryMenu />
            <Palette onSheet={openSheet} />
            <Button kind="quiet" onClick={openSheet} aria-label="Shortcuts" title="Shortcuts">
              <kbd className="rounded-[3px] border border-rule px-1.5">?</kbd>
            </Button>
            <ShortcutSheet open={sheetOpen} onOpenChange={setSheetOpen} />
            <ThemeSwitch />
            <PersonMenu />
          </div>
        </header>
        <main id="view" tabIndex={-1} className="view flex min-h-0 min-w-0 outline-none">
          {children}
        </main>
        <ListeningBar />
      </div>
      {leaves && (
        <Suspense>
          <LeaveDialog open={leaves} />
        </Suspense>
      )}
    </DropAnywhere>
  );
}
