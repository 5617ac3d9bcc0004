import { number, object } from 'yup';
import { GM_DRUM_CHANNEL } from '../../../core/midi/gm.ts';
import type { Move } from '../../../core/split/moves.ts';
import type { Part } from '../../../core/split/split.ts';
import { program } from '../../../requests/fields.ts';
import { ProgramOptions } from '../../../ui/fields/ProgramOptions.tsx';
import { Dialog } from '../../../ui/Dialog.tsx';
import { CheckedForm, SubmitButton, useCheckedForm } from '../../../ui/form/checked-form.tsx';
import { FormNumber, FormSelect } from '../../../ui/form/form-fields.tsx';

/** As people count: from 1. */
const soundSchema = object({
  channel: number().integer().min(1).max(16).required(),
  program: program().required(),
});

/** On which channel and with which sound a part plays and leaves. */
export function SoundDialog({
  part,
  onClose,
  onMove,
}: {
  part: Part;
  onClose: () => void;
  onMove: (move: Move) => void;
}) {
  const form = useCheckedForm(soundSchema, { channel: part.channel + 1, program: part.program });
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title={`Channel and sound of "${part.name}"`}
      description="So it sounds here, and leaves. What was captured stays as it is."
    >
      <CheckedForm
        form={form}
        onSubmit={({ channel, program }) => {
          onMove({ move: 'sound', part: part.id, channel: channel - 1, program });
          onClose();
        }}
      >
        <FormNumber name="channel" label="Channel (10 is the drums')" min={1} max={16} />
        <FormSelect
          name="program"
          label="Sound"
          disabled={form.watch('channel') - 1 === GM_DRUM_CHANNEL}
          read={Number}
        >
          <ProgramOptions numbered />
        </FormSelect>
        <SubmitButton>Set</SubmitButton>
      </CheckedForm>
    </Dialog>
  );
}
