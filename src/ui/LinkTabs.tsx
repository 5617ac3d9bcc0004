import type { ReactNode } from 'react';
import { NavLink } from 'react-router';

/** The rooms of a stage, each at an address of its own. */
export function LinkTabs({
  label,
  tabs,
}: {
  label: string;
  tabs: readonly { to: string; title: string; mark?: ReactNode }[];
}) {
  return (
    <nav aria-label={label} className="flex gap-4">
      {tabs.map(({ to, title, mark }) => (
        <NavLink
          key={to}
          to={to}
          // A room within another's address is another room.
          end={tabs.some((other) => other.to !== to && other.to.startsWith(`${to}/`))}
          className="-mb-px border-b-2 border-transparent pb-1.5 font-display text-lg text-muted hover:text-ink aria-[current=page]:border-madder aria-[current=page]:font-semibold aria-[current=page]:text-ink"
        >
          {title}
          {mark}
        </NavLink>
      ))}
    </nav>
  );
}
