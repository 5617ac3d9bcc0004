import { useQuery } from '@tanstack/react-query';
import { Printer } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import type { SheetKind } from '../../core/notation/sheet.ts';
import type { SheetOut } from '../../server/compute/sheet-out.ts';
import { Button, Toggle } from '../../ui/Button.tsx';
import { saveFile } from '../../ui/save-file.ts';
import { sendJson } from '../api/client.ts';
import { tellProblem } from '../api/queries.ts';
import type { Asked } from './asked.ts';

const TITLES: Readonly<Record<SheetKind, string>> = {
  lead: 'Lead sheet',
  score: 'Score',
  tab: 'Tablature',
  chords: 'Chords',
};

/** What leaves, for those who read: seen before it leaves, saved as MusicXML or text, printed by the browser. */
export function SheetTab({ asked, first }: { asked: Asked; first: SheetKind }) {
  const [as, setAs] = useState<SheetKind>(first);
  const { data, error, isFetching } = useQuery({
    queryKey: ['sheet', asked, as],
    queryFn: () => sendJson<SheetOut>('POST', '/api/leaving/sheet', { ...asked, as }),
  });
  const page = useRef<HTMLDivElement>(null);
  return (
    <div className="grid min-w-0 content-start gap-3">
      <div className="flex flex-wrap items-center gap-1.5">
        {(Object.keys(TITLES) as SheetKind[]).map((kind) => (
          <Toggle key={kind} on={kind === as} onClick={() => setAs(kind)}>
            {TITLES[kind]}
          </Toggle>
        ))}
        <span className="ml-auto flex gap-1.5">
          <Button
            small
            disabled={!data}
            onClick={() =>
              data && saveFile(new TextEncoder().encode(data.text), data.file, 'application/xml')
            }
          >
            Save {data?.kind === 'text' ? 'the text' : 'as MusicXML'}
          </Button>
          <Button
            small
            disabled={!data}
            onClick={() => page.current && print(page.current, data?.file ?? 'sheet')}
          >
            <Printer size={13} aria-hidden="true" /> Print
          </Button>
        </span>
      </div>
      {error && <p className="text-madder">{error.message}</p>}
      {isFetching && <p className="text-sm text-muted">Writing the sheet</p>}
      <div
        ref={page}
        // Music is read black on white, in either theme.
        className="max-h-[58vh] min-h-40 overflow-auto rounded-[3px] border border-rule bg-white p-4 text-black"
        aria-label={TITLES[as]}
        role="img"
      >
        {data?.kind === 'text' && <pre className="font-sans text-base whitespace-pre-wrap">{data.text}</pre>}
        {data?.kind === 'musicxml' && <Engraved xml={data.text} isWide={as === 'score'} />}
      </div>
    </div>
  );
}

/** MusicXML as an engraver draws it; the engraver comes when the first sheet is looked at. */
function Engraved({ xml, isWide }: { xml: string; isWide: boolean }) {
  const place = useRef<HTMLDivElement>(null);
  const [isDrawn, setIsDrawn] = useState(false);
  useEffect(() => {
    let isGone = false;
    setIsDrawn(false);
    const draw = async () => {
      const { OpenSheetMusicDisplay } = await import('opensheetmusicdisplay');
      if (isGone || !place.current) return;
      place.current.replaceChildren();
      const sheet = new OpenSheetMusicDisplay(place.current, {
        ...{ backend: 'svg', autoResize: false, autoBeam: true, drawingParameters: 'compact' },
        ...{ drawTitle: true, drawPartNames: true, renderSingleHorizontalStaffline: false },
        // Four bars of all parts are more than fits beside this dialog's other side: a score breaks where it has to.
        newSystemFromXML: !isWide,
        // Drums stand on five lines, however few of them there are.
        ...{ percussionOneLineCutoff: 0, percussionForceVoicesOneLineCutoff: 0 },
      });
      await sheet.load(xml);
      if (isGone) return;
      sheet.zoom = 0.8;
      sheet.render();
      setIsDrawn(true);
    };
    draw().catch(tellProblem);
    return () => {
      isGone = true;
    };
  }, [xml, isWide]);
  return <div ref={place} data-drawn={isDrawn || undefined} />;
}

/** Prints a page by itself, by way of a frame of its own. */
function print(page: HTMLElement, title: string): void {
  const frame = document.createElement('iframe');
  frame.className = 'fixed size-0';
  document.body.append(frame);
  const { contentWindow: window, contentDocument: document_ } = frame;
  if (!window || !document_) return;
  document_.title = title;
  document_.body.append(...[...page.childNodes].map((node) => document_.importNode(node, true)));
  window.addEventListener('afterprint', () => frame.remove());
  window.print();
}
