import { Dialog as Radix } from 'radix-ui';
import { X } from 'lucide-react';
import type { ReactNode } from 'react';

/** A dialog over the view. Escape and the cross close it. */
export function Dialog({
  open,
  onOpenChange,
  title,
  description,
  isWide = false,
  children,
}: {
  open: boolean;
  onOpenChange: (open: boolean) => void;
  title: string;
  description?: string;
  /** For what has a table beside its fields. */
  isWide?: boolean;
  children: ReactNode;
}) {
  return (
    <Radix.Root open={open} onOpenChange={onOpenChange}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 z-40 bg-black/40" />
        <Radix.Content
          className={`fixed top-1/2 left-1/2 z-50 max-h-[88vh] -translate-x-1/2 -translate-y-1/2 overflow-auto rounded border border-rule bg-card p-5 shadow-xl ${isWide ? 'w-[min(1120px,94vw)]' : 'w-[min(560px,92vw)]'}`}
        >
          <Radix.Title className="mb-1 pr-8 text-lg font-semibold">{title}</Radix.Title>
          <Radix.Description className={description ? 'mb-3 text-muted' : 'sr-only'}>
            {description ?? title}
          </Radix.Description>
          {children}
          <Radix.Close
            className="absolute top-4 right-4 rounded p-1 text-muted hover:text-ink"
            aria-label="Close"
          >
            <X size={16} />
          </Radix.Close>
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
