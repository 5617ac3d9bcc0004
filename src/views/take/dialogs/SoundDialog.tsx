import { useState } from 'react';
import { GM_DRUM_CHANNEL } from '../../../core/midi/gm.ts';
import type { Move } from '../../../core/split/moves.ts';
import type { Part } from '../../../core/split/split.ts';
import { ProgramOptions } from '../../../ui/ProgramOptions.tsx';
import { Button } from '../../../ui/Button.tsx';
import { Dialog } from '../../../ui/Dialog.tsx';
import { Labeled } from '../../../ui/Labeled.tsx';
import { NumberField } from '../../../ui/NumberField.tsx';

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
  const [channel, setChannel] = useState(part.channel + 1);
  const [program, setProgram] = useState(part.program);
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title={`Channel and sound of "${part.name}"`}
      description="So it sounds here, and leaves. What was captured stays as it is."
    >
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          onMove({ move: 'sound', part: part.id, channel: channel - 1, program });
          onClose();
        }}
      >
        <NumberField
          label="Channel (10 is the drums')"
          value={channel}
          min={1}
          max={16}
          onChange={(value) => setChannel(value ?? channel)}
        />
        <Labeled label="Sound">
          {(id) => (
            <select
              id={id}
              className="field w-full"
              value={program}
              disabled={channel - 1 === GM_DRUM_CHANNEL}
              onChange={(event) => setProgram(Number(event.target.value))}
            >
              <ProgramOptions numbered />
            </select>
          )}
        </Labeled>
        <Button kind="primary" type="submit">
          Set
        </Button>
      </form>
    </Dialog>
  );
}
