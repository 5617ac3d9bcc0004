import { NavLink } from 'react-router';
import type { StageCounts } from '../../server/library/keeping/status.ts';
import { useStages } from '../api/queries.ts';

const STAGES: { path: string; title: string; count: keyof StageCounts; waits: string }[] = [
  { path: '/capture', title: 'Capture', count: 'capture', waits: 'takes in all' },
  { path: '/split', title: 'Split', count: 'split', waits: 'takes without a phrase' },
  { path: '/normalize', title: 'Normalize', count: 'normalize', waits: 'drafts to be kept' },
  { path: '/library', title: 'Library', count: 'library', waits: 'phrases kept' },
  { path: '/reuse', title: 'Reuse', count: 'reuse', waits: 'made of others' },
  { path: '/handoff', title: 'Hand off', count: 'handoff', waits: 'baskets' },
];

/** The way from a take to a hand-off, as a thread with a bead a stage, and what waits at each. */
export function LineOfWork() {
  const { data: counts } = useStages();
  return (
    <nav aria-label="Line of work">
      <ol className="flex middling:justify-center">
        {STAGES.map(({ path, title, count, waits }, i) => (
          <li key={path} className="relative middling:max-w-27 middling:min-w-0 middling:flex-1">
            {i > 0 && (
              <span className="absolute top-[7px] right-1/2 left-[-50%] h-px bg-rule" aria-hidden="true" />
            )}
            <NavLink
              to={path}
              title={counts && `${title}: ${counts[count].toLocaleString('en')} ${waits}`}
              className="group relative flex w-24 flex-col items-center gap-1 pt-0.5 text-muted hover:text-ink aria-[current=page]:text-ink middling:w-full short:gap-0"
            >
              <span className="relative z-10 size-3 rounded-full border border-muted bg-paper group-aria-[current=page]:border-madder group-aria-[current=page]:bg-madder" />
              <span className="max-w-full truncate text-base group-aria-[current=page]:font-bold narrow:text-xs">
                {title}{' '}
                <span className="text-sm font-normal narrow:sr-only">
                  {counts?.[count].toLocaleString('en')}
                </span>
              </span>
            </NavLink>
          </li>
        ))}
      </ol>
    </nav>
  );
}
