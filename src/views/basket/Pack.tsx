import { ChoiceField } from '../../ui/fields/SelectField.tsx';
import { Download } from 'lucide-react';
import { useRef, useState } from 'react';
import { LAYOUT_WORDS } from '../shared/leaving/file-fields.tsx';
import { safeFileName } from '../../core/phrase/naming.ts';
import { plural } from '../../core/words.ts';
import { Checkbox } from '../../ui/fields/Checkbox.tsx';
import { Button } from '../../ui/Button.tsx';
import { saveFile } from '../../ui/save-file.ts';
import { requestBytes } from '../api/client.ts';
import { renew, tellProblem, type BasketWire } from '../api/queries.ts';
import { useHowFar } from '../shared/work.ts';
import type { BasketEdit } from './edit.ts';

/** How the files of a pack lie, and what is beside the notes. */
export function PackSettings({
  edit,
  onChange,
}: {
  edit: BasketEdit;
  onChange: (change: Partial<BasketEdit>, label: string) => void;
}) {
  return (
    <section className="grid gap-1.5" aria-label="The pack">
      <ChoiceField
        label="Its files lie"
        words={LAYOUT_WORDS}
        value={edit.layout}
        onChange={(layout) => onChange({ layout }, 'folders')}
      />
      <Checkbox
        label="a preview of each, to be heard before it is loaded"
        title="WAV beside each file, as the shipped sounds play it"
        on={edit.previews}
        onChange={(previews) => onChange({ previews }, 'previews')}
      />
      {edit.previews && (
        <div className="grid gap-1.5 pl-6">
          <Checkbox
            label="of what sounds together too"
            title="One of each sheaf, and one of everything"
            on={edit.previewSums}
            onChange={(previewSums) => onChange({ previewSums }, 'previews of sheaves')}
          />
          <Checkbox
            label="pitched ones over a soft bed of their chords"
            title="In the previews alone: the MIDI files hold nothing of it"
            on={edit.previewBeds}
            onChange={(previewBeds) => onChange({ previewBeds }, 'beds of chords')}
          />
        </div>
      )}
      <Checkbox
        label="plain: nothing chooses sounds"
        title="No program, bank, volume or place; channel 1, drums 10"
        on={edit.out.sounds === 'plain'}
        onChange={(plain) =>
          onChange({ out: { ...edit.out, sounds: plain ? 'plain' : 'suggested' } }, 'plain')
        }
      />
    </section>
  );
}

/** Packs a basket, so that it can be stopped; what was rendered of it is there the next time. */
export function usePack(basket: BasketWire) {
  const [isBusy, setIsBusy] = useState(false);
  const stopping = useRef<AbortController | null>(null);
  const start = async () => {
    if (isBusy || basket.items.length === 0) return;
    const control = new AbortController();
    stopping.current = control;
    setIsBusy(true);
    try {
      const bytes = await requestBytes(`/api/baskets/${basket.id}/pack`, { signal: control.signal });
      saveFile(bytes, `${safeFileName(basket.name)}.zip`, 'application/zip');
      void renew('lineage');
    } catch (error) {
      if (!control.signal.aborted) tellProblem(error);
    } finally {
      setIsBusy(false);
    }
  };
  return { isBusy, start, stop: () => stopping.current?.abort() };
}

/** The pack: what is in it, and how far it is. */
export function PackButton({ basket, pack }: { basket: BasketWire; pack: ReturnType<typeof usePack> }) {
  const howFar = useHowFar('pack', basket.id);
  const count = basket.items.length;
  return (
    <>
      <p className="text-sm text-muted">
        One ZIP: {plural(count, 'phrase')} as .mid{basket.previews ? ' with a preview each' : ''}, what sounds
        together, manifest.json, and read-me.txt with tempo, key and meter.
      </p>
      {pack.isBusy && basket.previews ? (
        <div className="grid gap-1.5" role="status">
          <progress className="h-2 w-full accent-indigo" max={howFar?.of ?? count} value={howFar?.done ?? 0}>
            packing
          </progress>
          <span className="flex items-center text-sm">
            <span className="flex-1">
              {howFar ? `${howFar.done} of ${howFar.of} previews` : 'Beginning with the previews'}
            </span>
            <Button small onClick={pack.stop}>
              Stop
            </Button>
          </span>
        </div>
      ) : (
        <Button kind="primary" disabled={count === 0 || pack.isBusy} onClick={() => void pack.start()}>
          <Download size={15} aria-hidden="true" /> {pack.isBusy ? 'Packing' : 'Download ZIP'}
        </Button>
      )}
    </>
  );
}
