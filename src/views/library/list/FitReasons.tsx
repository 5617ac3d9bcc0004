import type { Fit } from '../../../core/catalog/fit.ts';

/** How well a phrase suits, in one figure. */
export function FitFigure({ fit }: { fit: Fit | null }) {
  if (!fit) return <span />;
  return (
    <span
      className="flex items-center justify-end gap-1.5"
      title={fit.reasons.map(({ text }) => text).join('\n')}
    >
      <span className="h-1 w-5 overflow-hidden rounded-[1px] bg-thread" aria-hidden="true">
        <span className="block h-full bg-lichen" style={{ width: `${fit.fit}%` }} />
      </span>
      <span className="w-6 text-right">{fit.fit}</span>
    </span>
  );
}

/** Why: each part with what it is worth, and the reason. */
export function FitReasons({ fit, project }: { fit: Fit; project: string | undefined }) {
  return (
    <section aria-label="Fit">
      <h2 className="mb-1 flex items-baseline justify-between gap-2">
        <span>Fit{project ? ` for ${project}` : ''}</span>
        <b>{fit.fit}</b>
      </h2>
      <dl className="grid grid-cols-[58px_28px_1fr] gap-x-2 gap-y-1 text-sm">
        {fit.reasons.map(({ part, score, text }) => (
          <div key={part} className="contents">
            <dt className="text-muted">{part}</dt>
            <dd className="text-right">{Math.round(100 * score)}</dd>
            <dd>{text}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
