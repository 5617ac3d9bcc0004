import type { ReactNode } from 'react';
import { NavLink } from 'react-router';
import { useRecorder } from '../../devices/recorder.ts';

const WAYS = [
  { to: '/capture', title: 'Files and takes' },
  { to: '/capture/live', title: 'Live' },
];

/** The heading of Capture: its two ways in. */
export function CaptureHeading({ children }: { children?: ReactNode }) {
  const recording = useRecorder(({ phase }) => phase !== 'idle');
  return (
    <div className="mb-3 flex items-end gap-5 border-b border-rule">
      <h1 className="sr-only">Capture</h1>
      <nav aria-label="Ways in" className="flex gap-5">
        {WAYS.map(({ to, title }) => (
          <NavLink
            key={to}
            to={to}
            end
            className="-mb-px border-b-2 border-transparent pb-1.5 font-display text-lg text-muted hover:text-ink aria-[current=page]:border-madder aria-[current=page]:font-semibold aria-[current=page]:text-ink"
          >
            {title}
            {to.endsWith('live') && recording && (
              <span className="ml-1.5 inline-block size-2 rounded-full bg-madder" title="recording" />
            )}
          </NavLink>
        ))}
      </nav>
      <div className="ml-auto flex items-center gap-2 pb-1.5">{children}</div>
    </div>
  );
}
