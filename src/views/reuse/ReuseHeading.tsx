import { UndoButtons } from '../../ui/history/UndoButtons.tsx';

/** What a view of reuse is about, and what is done with it; with taking back beside it. */
export function ReuseHeading({
  title,
  what,
  history,
}: {
  title: string;
  what: string;
  history: Parameters<typeof UndoButtons>[0]['history'];
}) {
  return (
    <div className="flex items-baseline gap-4">
      <h1 className="truncate text-xl">{title}</h1>
      <span className="text-muted">{what}</span>
      <div className="ml-auto">
        <UndoButtons history={history} />
      </div>
    </div>
  );
}
