import { Popover } from 'radix-ui';
import type { ReactNode } from 'react';

/** The card of a popover, under what opened it. */
export function PopoverCard({
  label,
  className,
  children,
}: {
  label: string;
  /** Its width. */
  className: string;
  children: ReactNode;
}) {
  return (
    <Popover.Portal>
      <Popover.Content
        side="bottom"
        align="start"
        sideOffset={4}
        collisionPadding={12}
        className={`z-40 rounded-[3px] border border-rule bg-card p-3 shadow-lg ${className}`}
        aria-label={label}
      >
        {children}
      </Popover.Content>
    </Popover.Portal>
  );
}
