import { LinkTabs } from '../../ui/LinkTabs.tsx';

const ROOMS = [
  { to: '/handoff', title: 'Baskets' },
  { to: '/handoff/recipients', title: 'Recipients' },
  { to: '/handoff/came-back', title: 'Came back' },
  { to: '/handoff/mirror', title: 'Mirror' },
];

/** The rooms of handing off: what leaves, for whom, and the folder that other programs look into. */
export function HandOffTabs() {
  return (
    <div className="border-b border-rule">
      <LinkTabs label="Hand off" tabs={ROOMS} />
    </div>
  );
}
