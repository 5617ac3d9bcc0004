import type { ReactNode } from 'react';
import { Mark } from '../../../ui/drawing/Mark.tsx';

/** What stands before the library: its name, and a card with what is to be done to come in. */
export function Door({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="flex min-h-dvh items-center justify-center bg-paper p-6">
      <main className="w-[min(420px,94vw)]">
        <p className="mb-4 flex items-center gap-2.5 font-display text-lg font-semibold">
          <Mark />
          Hollow Basket
        </p>
        <section className="rounded-[3px] border border-rule bg-card p-5">
          <h1 className="mb-3 text-xl">{title}</h1>
          {children}
        </section>
      </main>
    </div>
  );
}
