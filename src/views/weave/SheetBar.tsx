import { ROLES, type Role } from '../../core/split/roles.ts';
import type { Listening } from '../../sound/player.ts';
import { Button } from '../../ui/Button.tsx';
import { ListenButton } from '../shared/listening/ListenButton.tsx';
import type { LaidSheet } from './laid.ts';
import { saveOneFile, savePartFiles, saveSectionFiles, saveWithout } from './out.ts';

/** Under the sheet: listening, another part, and what leaves. */
export function SheetBar({
  listening,
  isPlaying,
  isLaid,
  part,
  partName,
  onAdd,
  onBring,
  onLeave,
  onHowItLeaves,
  onKeepAll,
}: {
  listening: Listening | null;
  isPlaying: boolean;
  isLaid: boolean;
  /** The part that is chosen, which can be left out. */
  part: string | null;
  partName: string | undefined;
  onAdd: (role: Role) => void;
  /** Opens the dialog in which parts of another weave are chosen. */
  onBring: () => void;
  onLeave: (how: (now: LaidSheet) => void) => void;
  /** Opens the dialog in which that is chosen. */
  onHowItLeaves: () => void;
  onKeepAll: (now: LaidSheet) => void;
}) {
  return (
    <div className="flex flex-wrap items-center gap-2 text-sm">
      <ListenButton listening={listening} isPlaying={isPlaying} />
      <select
        className="field h-8 w-36"
        aria-label="Add a part"
        value=""
        onChange={({ target }) => onAdd(target.value as Role)}
      >
        <option value="">Add a part ...</option>
        {ROLES.map((role) => (
          <option key={role}>{role}</option>
        ))}
      </select>
      <Button small onClick={onBring} title="Parts of another weave, with what stands with them there">
        Bring parts in
      </Button>
      <span className="ml-auto text-muted">out:</span>
      <Button
        small
        disabled={!isLaid}
        onClick={() => onLeave(savePartFiles)}
        title="A file a part, equally long, and one of all"
      >
        Parts, ZIP
      </Button>
      <Button small disabled={!isLaid} onClick={() => onLeave(saveOneFile)}>
        One file
      </Button>
      <Button small disabled={!isLaid} onClick={() => onLeave(saveSectionFiles)}>
        Sections, ZIP
      </Button>
      <Button
        small
        disabled={!isLaid || part === null}
        onClick={() => part !== null && onLeave((now) => saveWithout(now, part))}
      >
        Without {partName ?? 'a part'}
      </Button>
      <Button small onClick={onHowItLeaves} title="As which files, for whom (Ctrl+Shift+E)">
        How it leaves ...
      </Button>
      <Button
        small
        disabled={!isLaid}
        title="The whole of it, as children of its phrases"
        onClick={() => onLeave(onKeepAll)}
      >
        Keep the whole
      </Button>
    </div>
  );
}
