import { NavLink } from 'react-router';

const TABS = [
  { to: '/handoff', title: 'Baskets' },
  { to: '/handoff/recipients', title: 'Recipients' },
  { to: '/handoff/mirror', title: 'Mirror' },
];

/** The rooms of handing off: what leaves, for whom, and the folder that other programs look into. */
export function HandOffTabs() {
  return (
    <nav aria-label="Hand off" className="flex gap-4 border-b border-rule">
      {TABS.map(({ to, title }) => (
        <NavLink
          key={to}
          to={to}
          end={to === '/handoff'}
          className="-mb-px border-b-2 border-transparent pb-1 text-muted hover:text-ink aria-[current=page]:border-madder aria-[current=page]:text-ink"
        >
          {title}
        </NavLink>
      ))}
    </nav>
  );
}
