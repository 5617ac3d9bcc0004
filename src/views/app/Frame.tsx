import { useState, type ReactNode } from 'react';
import { Button } from '../../ui/Button.tsx';
import { DropAnywhere } from '../capture/DropAnywhere.tsx';
import { HistoryMenu } from './HistoryMenu.tsx';
import { LineOfWork } from './LineOfWork.tsx';
import { ListeningBar } from './ListeningBar.tsx';
import { Palette } from './Palette.tsx';
import { ShortcutSheet } from './ShortcutSheet.tsx';
import { ThemeSwitch } from './ThemeSwitch.tsx';

/** What stands around every view: the line of work above, the listening bar at the foot. */
export function Frame({ children }: { children: ReactNode }) {
  const [sheetOpen, setSheetOpen] = useState(false);
  const openSheet = () => setSheetOpen(true);
  return (
    <div className="grid h-dvh grid-rows-[57px_minmax(0,1fr)_62px]">
      <header className="grid grid-cols-[1fr_auto_1fr] items-center gap-4 border-b border-rule px-5">
        <div className="flex items-center gap-2.5 font-display text-lg font-semibold">
          <img
            src="/favicon.svg"
            alt=""
            className="size-7 rounded-[3px] [[data-theme=lamp]_&]:bg-[#e9e0cf] [[data-theme=lamp]_&]:p-0.5"
          />
          Hollow Basket
        </div>
        <LineOfWork />
        <div className="flex justify-end gap-1">
          <HistoryMenu />
          <Palette onSheet={openSheet} />
          <Button kind="quiet" onClick={openSheet} aria-label="Shortcuts" title="Shortcuts">
            <kbd className="rounded-[3px] border border-rule px-1.5">?</kbd>
          </Button>
          <ShortcutSheet open={sheetOpen} onOpenChange={setSheetOpen} />
          <ThemeSwitch />
        </div>
      </header>
      <main id="view" tabIndex={-1} className="view flex min-h-0 min-w-0 outline-none">
        <DropAnywhere>{children}</DropAnywhere>
      </main>
      <ListeningBar />
    </div>
  );
}
