import type { ReactNode } from 'react';

/** An empty or failed view: what it is for, what to do next, and a button that does it. */
export function EmptyState({
  title,
  children,
  action,
}: {
  title: string;
  children: ReactNode;
  action?: ReactNode;
}) {
  return (
    <div className="m-auto flex max-w-md flex-col items-center gap-3 p-10 text-center">
      <svg width="96" height="40" aria-hidden="true" fill="none" stroke="var(--rule)" strokeWidth="1.5">
        {[8, 28, 48, 68, 88].map((x) => (
          <path key={x} d={`M${x} 2V38`} />
        ))}
        <rect x="12" y="8" width="24" height="7" rx="3.5" stroke="var(--muted)" />
        <rect x="34" y="20" width="32" height="7" rx="3.500" stroke="var(--muted)" />
        <rect x="62" y="30" width="20" height="7" rx="3.500" stroke="var(--muted)" />
      </svg>
      <h2 className="text-lg">{title}</h2>
      <div className="text-muted">{children}</div>
      {action}
    </div>
  );
}

/** While something loads: said, not only shown. */
export function Busy({ what }: { what: string }) {
  return (
    <div className="m-auto p-10 text-muted" role="status">
      {what} ...
    </div>
  );
}
