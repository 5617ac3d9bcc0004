import { EllipsisVertical } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { UNPITCHED } from '../../../core/split/roles.ts';
import type { Part } from '../../../core/split/split.ts';

/** What can be done to a part. */
export type PartDoing =
  'apart' | 'give' | 'merge' | 'aside' | 'sound' | 'pitchMap' | 'lock' | 'open' | 'export';

const ITEMS: readonly { doing: PartDoing; title: string; key?: string; unpitchedOnly?: boolean }[] = [
  { doing: 'apart', title: 'Take apart', key: 'D' },
  { doing: 'merge', title: 'Merge the chosen parts into it', key: 'J' },
  { doing: 'give', title: 'Give it the chosen notes', key: 'G' },
  { doing: 'lock', title: 'Lock or unlock its chosen notes', key: 'L' },
  { doing: 'sound', title: 'Channel and sound' },
  { doing: 'pitchMap', title: 'Drum map', unpitchedOnly: true },
  { doing: 'open', title: 'Taller or lower', key: 'T' },
  { doing: 'aside', title: 'Set aside', key: 'A' },
  { doing: 'export', title: 'Export .mid' },
];

/** The menu of a strand. */
export function PartMenu({ part, onDo }: { part: Part; onDo: (doing: PartDoing) => void }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger asChild>
        <button
          type="button"
          className="rounded p-0.5 text-muted hover:bg-sunk hover:text-ink"
          aria-label={`What to do with ${part.name}`}
          onPointerDown={(event) => event.stopPropagation()}
          onClick={(event) => event.stopPropagation()}
        >
          <EllipsisVertical size={14} aria-hidden="true" />
        </button>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          className="z-40 min-w-56 rounded-[3px] border border-rule bg-card py-1 shadow-lg"
          onClick={(event) => event.stopPropagation()}
        >
          {ITEMS.filter((item) => !item.unpitchedOnly || UNPITCHED.has(part.role)).map(
            ({ doing, title, key }) => (
              <DropdownMenu.Item
                key={doing}
                className="flex cursor-pointer items-center justify-between gap-6 px-3 py-1 outline-none data-highlighted:bg-select"
                onSelect={() => onDo(doing)}
              >
                {title}
                {key && <kbd className="text-xs text-muted">{key}</kbd>}
              </DropdownMenu.Item>
            ),
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
