import type { ReactNode } from 'react';
import { LinkTabs } from '../../../ui/LinkTabs.tsx';

const ROOMS = [
  { to: '/handoff', title: 'Baskets' },
  { to: '/handoff/recipients', title: 'Recipients' },
  { to: '/handoff/came-back', title: 'Came back' },
  { to: '/handoff/mirror', title: 'Mirror' },
];

/** A room of handing off under the way to the others: what leaves, for whom, what came back, the folder that other programs look into. */
export function HandOffRoom({ children }: { children: ReactNode }) {
  return (
    <div className="flex min-w-0 flex-1 flex-col px-5 pt-4">
      <div className="flex-none border-b border-rule">
        <LinkTabs label="Hand off" tabs={ROOMS} />
      </div>
      {children}
    </div>
  );
}
