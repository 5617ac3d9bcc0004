import type { ReactNode } from 'react';

/** What is selected, told on a luggage label: a card with a cut corner and a hole for the string. */
export function Ticket({ title, children }: { title: ReactNode; children: ReactNode }) {
  return (
    <section className="relative border border-rule bg-card px-4 pt-3 pb-3 [clip-path:polygon(14px_0,100%_0,100%_100%,0_100%,0_14px)]">
      <svg className="absolute top-0 left-0" width="14" height="14" aria-hidden="true">
        <path d="M0 14L14 0" stroke="var(--rule)" strokeWidth="1.5" />
      </svg>
      <span
        className="absolute top-3.5 left-3 size-2.5 rounded-full border border-rule bg-paper"
        aria-hidden="true"
      />
      <h2 className="mb-2 pl-4 text-lg leading-snug">{title}</h2>
      {children}
    </section>
  );
}

/** Facts in two columns: what, and how it is. */
export function Facts({ rows }: { rows: readonly (readonly [string, ReactNode] | null)[] }) {
  return (
    <dl className="grid grid-cols-[62px_1fr] gap-x-2 gap-y-1">
      {rows.map(
        (row) =>
          row && (
            <div key={row[0]} className="contents">
              <dt className="label pt-px">{row[0]}</dt>
              <dd className="min-w-0">{row[1]}</dd>
            </div>
          ),
      )}
    </dl>
  );
}
