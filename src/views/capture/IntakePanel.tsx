import { FileUp, FolderOpen, Headphones } from 'lucide-react';
import { useEffect, type RefObject } from 'react';
import { FormProvider } from 'react-hook-form';
import { knownSchema } from '../../requests/takes.ts';
import { Button } from '../../ui/Button.tsx';
import { useCheckedForm } from '../../ui/form/checked-form.tsx';
import { useIntakes } from '../api/queries.ts';
import { MIDI_FILES, pickFiles } from './pick-files.ts';
import { IntakeProgress } from './IntakeProgress.tsx';
import { AskedFields, OriginFields } from '../shared/takes/KnownFields.tsx';
import type { Known } from '../shared/takes/known.ts';

/** Where files come in: what is said of them once, and what came of each. */
export function IntakePanel({
  known,
  onKnown,
  picker,
  onFiles,
  onBefore,
}: {
  known: Known;
  onKnown: (known: Known) => void;
  picker: RefObject<HTMLInputElement | null>;
  onFiles: (files: readonly File[]) => void;
  /** Chooses files that are heard before they are taken in. */
  onBefore: () => void;
}) {
  const { data } = useIntakes();
  const form = useCheckedForm(knownSchema, known);
  const { subscribe } = form;
  // It is said of whatever comes in next: nothing has to be sent before.
  useEffect(
    () => subscribe({ formState: { values: true }, callback: ({ values }) => onKnown(values) }),
    [subscribe, onKnown],
  );
  const askedFor = [known.chart, known.bars, known.bpm, known.key].some(Boolean);
  return (
    <aside className="flex w-[326px] flex-none flex-col gap-3 overflow-auto border-l border-rule p-4">
      <div className="grid gap-2 rounded border-2 border-dashed border-rule p-3 text-center">
        <p>
          <b>Drop files, folders or ZIPs here</b>
          <br />
          <span className="text-sm text-muted">Their bytes are kept for ever.</span>
        </p>
        <div className="flex justify-center gap-2">
          <Button kind="primary" onClick={() => picker.current?.click()}>
            <FileUp size={15} aria-hidden="true" /> Choose files
          </Button>
          <Button onClick={() => pickFiles(onFiles, { folder: true })}>
            <FolderOpen size={15} aria-hidden="true" /> Folder
          </Button>
        </div>
        <Button small kind="quiet" onClick={onBefore} title="Hear them, and take in what you tick">
          <Headphones size={13} aria-hidden="true" /> Listen first ...
        </Button>
        <input
          ref={picker}
          type="file"
          multiple
          accept={MIDI_FILES}
          className="sr-only"
          aria-label="MIDI files"
          tabIndex={-1}
          onChange={(event) => {
            onFiles([...(event.target.files ?? [])]);
            event.target.value = '';
          }}
        />
      </div>
      <FormProvider {...form}>
        <OriginFields />
        <details open={askedFor || undefined}>
          <summary className="text-sm text-muted hover:text-ink">What they were asked to play</summary>
          <div className="mt-2">
            <AskedFields />
          </div>
        </details>
      </FormProvider>
      {data?.inbox && (
        <p className="text-sm text-muted">
          What is saved into{' '}
          <code className="rounded-[2px] bg-sunk px-1 break-all text-ink">{data.inbox}</code> is taken in by
          itself.
        </p>
      )}
      <IntakeProgress />
    </aside>
  );
}
