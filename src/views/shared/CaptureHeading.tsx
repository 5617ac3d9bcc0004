import type { ReactNode } from 'react';
import { useRecorder } from '../../devices/recorder-state.ts';
import { LinkTabs } from '../../ui/LinkTabs.tsx';

/** The heading of Capture: its ways in. */
export function CaptureHeading({ children }: { children?: ReactNode }) {
  const recording = useRecorder(({ phase }) => phase !== 'idle');
  const mark = recording && (
    <span className="ml-1.5 inline-block size-2 rounded-full bg-madder" title="recording" />
  );
  return (
    <div className="mb-3 flex items-end gap-5 border-b border-rule">
      <h1 className="sr-only">Capture</h1>
      <LinkTabs
        label="Ways in"
        tabs={[
          { to: '/capture', title: 'Files and takes' },
          { to: '/capture/live', title: 'Live', mark },
          { to: '/capture/sweep', title: 'Sweep' },
        ]}
      />
      <div className="ml-auto flex items-center gap-2 pb-1.5">{children}</div>
    </div>
  );
}
