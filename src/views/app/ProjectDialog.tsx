import type { UseFormReturn } from 'react-hook-form';
import type { InferType } from 'yup';
import { keyLabel, keyName, parseKey } from '../../core/music/key.ts';
import { meterName, METERS, parseMeter } from '../../core/music/meters.ts';
import { pitchClassName } from '../../core/music/pitch.ts';
import { projectSchema } from '../../requests/projects.ts';
import { keyOfProject } from '../../core/reuse/in-project.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { CheckedForm, FormProblem, SubmitButton, useCheckedForm } from '../../ui/form/checked-form.tsx';
import { FormNumber, FormText } from '../../ui/form/form-fields.tsx';
import { KeyOptions } from '../../ui/fields/KeyOptions.tsx';
import { SelectField } from '../../ui/fields/SelectField.tsx';
import { toastWithUndo } from '../../ui/history/undoToast.ts';
import { sendJson } from '../api/client.ts';
import { tellProblem, renew, type ProjectWire } from '../api/queries.ts';
import { chooseProject } from '../shared/project.ts';

type ProjectSaid = InferType<typeof projectSchema>;

const NEW_PROJECT: ProjectSaid = {
  ...{ name: '', keyTonic: null, keyMode: null, bpm: 100 },
  ...{ meterNumerator: 4, meterDenominator: 4, chords: '' },
};

/** Key, tempo, meter and chords that phrases are gathered for. */
export default function ProjectDialog({
  project,
  onClose,
}: {
  project: ProjectWire | null;
  onClose: () => void;
}) {
  const { id, createdAt: _createdAt, ...before } = project ?? { id: '', createdAt: '', ...NEW_PROJECT };
  const form = useCheckedForm(projectSchema, before);
  const key = keyOfProject(before);
  const save = async (said: ProjectSaid) => {
    const saved = project
      ? await sendJson<ProjectWire>('PUT', `/api/projects/${id}`, { ...said, base: before })
      : await sendJson<ProjectWire>('POST', '/api/projects', said);
    await renew('projects');
    chooseProject(saved.id);
    onClose();
    if (!project) return;
    toastWithUndo(`"${saved.name}" is changed.`, `the change of ${saved.name}`, () => {
      sendJson('PUT', `/api/projects/${id}`, before)
        .then(() => renew('projects'))
        .catch(tellProblem);
    });
  };
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title={project ? project.name : 'New project'}
      description="What phrases are gathered for. Anything can be heard in a project's key and tempo."
    >
      <CheckedForm form={form} onSubmit={save} className="grid grid-cols-3 gap-3">
        <FormText name="name" label="Name" className="col-span-3" maxLength={200} autoFocus />
        <KeyField form={form} />
        <FormNumber name="bpm" label="Tempo, BPM" min={20} max={400} step={0.01} />
        <MeterField form={form} />
        <FormText
          name="chords"
          label="Chords, bars between strokes"
          className="col-span-3"
          maxLength={4000}
          placeholder={key ? `${keyLabel(key)} | ${pitchClassName(key.tonic + 5)} | ...` : 'Dm | Gm A7 | Dm'}
        />
        <FormProblem className="col-span-3" />
        <div className="col-span-3 flex justify-end gap-2">
          <Button onClick={onClose}>Leave it</Button>
          <SubmitButton>{project ? 'Save' : 'Make project'}</SubmitButton>
        </div>
      </CheckedForm>
    </Dialog>
  );
}

/** Tonic and mode are chosen as one. */
function KeyField({ form: { watch, setValue } }: { form: UseFormReturn<ProjectSaid> }) {
  const key = keyOfProject(watch());
  const choose = (text: string) => {
    const chosen = parseKey(text);
    setValue('keyTonic', chosen?.tonic ?? null);
    setValue('keyMode', chosen?.mode ?? null);
  };
  return (
    <SelectField label="Key" value={key ? keyName(key) : ''} onChange={choose}>
      <KeyOptions none="no key" />
    </SelectField>
  );
}

function MeterField({ form: { watch, setValue } }: { form: UseFormReturn<ProjectSaid> }) {
  const { meterNumerator, meterDenominator } = watch();
  const own = meterName({ numerator: meterNumerator, denominator: meterDenominator });
  const choose = (text: string) => {
    const { numerator, denominator } = parseMeter(text);
    setValue('meterNumerator', numerator);
    setValue('meterDenominator', denominator);
  };
  return (
    <SelectField label="Meter" value={own} onChange={choose}>
      {[...new Set([...METERS, own])].map((meter) => (
        <option key={meter}>{meter}</option>
      ))}
    </SelectField>
  );
}
