import { useEffect, type DragEvent, type ReactNode } from 'react';
import { useDropzone } from 'react-dropzone';
import { useLocation, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { plural } from '../../core/words.ts';
import { OWN_DRAG } from '../../ui/DragOut.tsx';
import { useIntakeEnd } from './intake-end.ts';
import { closeIntakeOnLeave, takeInFiles } from './intake.ts';
import { useKnownOfNext } from './known-store.ts';
import { namedFiles } from './named-files.ts';
import { tellProblem } from '../api/queries.ts';
import { isPack, layDown } from '../shared/leaving/packs-in.ts';
import { knownSettings } from '../shared/takes/known.ts';

/** Takes files in, and opens packs of ours beside what is here; answers how many files are taken in. */
export async function bringIn(files: readonly File[], open: (path: string) => void): Promise<number> {
  const isOne = await Promise.all(files.map(isPack));
  const packs = files.filter((_, i) => isOne[i]);
  for (const pack of packs) open(await layDown(pack));
  return takeInDropped(files.filter((_, i) => !isOne[i]));
}

/** Takes files in with what is known of them; what in a folder cannot hold MIDI is left out, and told. */
function takeInDropped(files: readonly File[]): number {
  const { named, leftOut } = namedFiles(files);
  if (leftOut > 0) toast(`${leftOut} other files in the folder are left out: they cannot hold MIDI.`);
  void takeInFiles(named, knownSettings(useKnownOfNext.getState().known));
  return named.length;
}

/** What is dragged out of the page is none to be taken in again. */
function leaveOwn(event: DragEvent): void {
  if (!event.dataTransfer.types.includes(OWN_DRAG)) return;
  event.preventDefault();
  event.stopPropagation();
}

/** Files can be dropped on every view, also while something is recorded or heard. */
export function DropAnywhere({ children }: { children: ReactNode }) {
  const navigate = useNavigate();
  const { pathname } = useLocation();
  useIntakeEnd();
  const zone = useDropzone({
    noClick: true,
    noKeyboard: true,
    onDrop: (files) => {
      bringIn(files, (path) => void navigate(path))
        .then((count) => {
          if (count === 0 || pathname === '/capture') return;
          toast(`${plural(count, 'file')} ${count === 1 ? 'is' : 'are'} being taken in.`, {
            action: { label: 'See what comes of them', onClick: () => void navigate('/capture') },
          });
        })
        .catch(tellProblem);
    },
  });
  useEffect(() => {
    window.addEventListener('pagehide', closeIntakeOnLeave);
    return () => window.removeEventListener('pagehide', closeIntakeOnLeave);
  }, []);
  return (
    <div
      {...zone.getRootProps({ className: 'contents', role: undefined, tabIndex: -1 })}
      onDragEnterCapture={leaveOwn}
      onDragOverCapture={leaveOwn}
      onDropCapture={leaveOwn}
    >
      {children}
      {zone.isDragActive && (
        <div className="pointer-events-none fixed inset-3 z-50 flex items-center justify-center rounded border-2 border-dashed border-madder bg-paper/85">
          <p className="font-display text-xl font-semibold">Drop files, folders or ZIPs to take them in</p>
        </div>
      )}
    </div>
  );
}
