import { FileOutput } from 'lucide-react';
import { useRef, useState } from 'react';

/** A file that can be dragged out of the page. */
export interface FileOut {
  name: string;
  type: string;
  bytes: Uint8Array;
}

/** What marks a drag as one of ours, so that it is not taken in again where it is let go over the page. */
export const OWN_DRAG = 'application/x-hollow-basket';

/** Only Chromium and its kin hand a page's files to other programs. */
const canDragOut = () => 'userAgentData' in navigator;

/**
 * A handle by which something is dragged out of the page as a file, or saved by a press. The file is fetched when the handle is pointed
 * at or focused: it has to be there before the drag begins.
 */
export function DragOut({
  what,
  isQuiet,
  address,
  fetch,
  onSave,
}: {
  /** Named on the handle, such as "Ferry bass". */
  what: string;
  /** In a row that is one control already: for the mouse alone, keys have their own way. */
  isQuiet: boolean;
  /** Where the same file can be fetched by another program. */
  address: string;
  fetch: () => Promise<FileOut>;
  onSave: () => void;
}) {
  const [file, setFile] = useState<FileOut | null>(null);
  const fetched = useRef('');
  const prepare = () => {
    if (fetched.current === address) return;
    fetched.current = address;
    fetch().then(setFile, () => (fetched.current = ''));
  };
  const title = canDragOut()
    ? `Drag "${what}" to another program or a folder; a press saves it`
    : `This browser cannot drag files out: a press saves "${what}"`;
  const Handle = isQuiet ? 'span' : 'button';
  return (
    <Handle
      {...(isQuiet ? { 'aria-hidden': true } : { type: 'button', 'aria-label': `Drag out or save ${what}` })}
      draggable
      className="inline-flex size-6 flex-none cursor-grab items-center justify-center rounded-[3px] text-muted hover:bg-card hover:text-ink"
      title={title}
      data-ready={file ? '' : undefined}
      onPointerEnter={prepare}
      onFocus={prepare}
      onPointerDown={(event) => event.stopPropagation()}
      onDragStart={(event) => {
        event.stopPropagation();
        carry(event.dataTransfer, address, file, what);
      }}
      onClick={(event) => {
        event.stopPropagation();
        onSave();
      }}
    >
      <FileOutput size={14} aria-hidden="true" />
    </Handle>
  );
}

/** Puts a file into a drag: for the desktop by its address, for other pages as itself. */
function carry(data: DataTransfer, address: string, file: FileOut | null, what: string): void {
  const url = new URL(address, location.href).href;
  const { name, type } = file ?? { name: `${what}.mid`, type: 'audio/midi' };
  data.effectAllowed = 'copy';
  data.setData(OWN_DRAG, what);
  // type:name:address is what Chromium makes a file of where the drag ends outside of it.
  data.setData('DownloadURL', `${type}:${name.replaceAll(':', '-')}:${url}`);
  data.setData('text/uri-list', url);
  if (file) data.items.add(new File([file.bytes as Uint8Array<ArrayBuffer>], name, { type }));
}
