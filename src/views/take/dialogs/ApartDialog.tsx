import { useMemo } from 'react';
import { number, object, string } from 'yup';
import type { Take } from '../../../core/capture/take.ts';
import { pitchName } from '../../../core/music/pitch.ts';
import { divisionMove, groupsOf, type Division } from '../../../core/split/division.ts';
import type { Move } from '../../../core/split/moves.ts';
import { UNPITCHED } from '../../../core/split/roles.ts';
import type { Split } from '../../../core/split/split.ts';
import { plural } from '../../../core/words.ts';
import { Dialog } from '../../../ui/Dialog.tsx';
import { CheckedForm, SubmitButton, useCheckedForm } from '../../../ui/form/checked-form.tsx';
import { FormNumber } from '../../../ui/form/form-fields.tsx';
import { pitchRange } from '../../../ui/drawing/strand.ts';
import type { Strand } from '../../shared/takes/strand-columns.ts';

const WAYS: readonly { by: Division['by']; title: string; about: string; for?: 'pitched' | 'unpitched' }[] = [
  { by: 'pieces', title: 'Pieces of the kit', about: 'kick, snare, hats and the rest', for: 'unpitched' },
  { by: 'hands', title: 'Two hands', about: 'a point that moves as the hands do', for: 'pitched' },
  {
    by: 'voices',
    title: 'Bass, chords, top line',
    about: 'single notes under and over the rest',
    for: 'pitched',
  },
  { by: 'pitch', title: 'Pitch', about: 'at a point that stays' },
  { by: 'channel', title: 'Channel', about: 'as it came in' },
  { by: 'program', title: 'Program', about: 'as it was in force' },
  { by: 'velocity', title: 'Velocity', about: 'loud from soft' },
  { by: 'length', title: 'Length', about: 'long from short' },
];

/** By what, and at which point of each. */
const apartFormSchema = object({
  by: string<Division['by']>()
    .oneOf(WAYS.map(({ by }) => by))
    .required(),
  pitch: number().integer().min(0).max(127).required(),
  velocity: number().integer().min(1).max(127).required(),
  length: number().min(0.05).max(64).required(),
});

/** Takes a part apart; what would become of it shows before it is done. */
export function ApartDialog({
  take,
  split,
  strand,
  onClose,
  onMove,
}: {
  take: Take;
  split: Split;
  strand: Strand;
  onClose: () => void;
  onMove: (move: Move) => void;
}) {
  const kind = UNPITCHED.has(strand.part.role) ? 'unpitched' : 'pitched';
  const ways = WAYS.filter((way) => !way.for || way.for === kind);
  const form = useCheckedForm(apartFormSchema, {
    ...{ by: ways[0]!.by, pitch: middlePitch(strand), velocity: 90, length: 0.5 },
  });
  const said = form.watch();
  const { by } = said;
  const at = by in said ? said[by as keyof typeof said] : 0;
  const { id } = strand.part;
  const division = useMemo(() => ({ by, at }) as Division, [by, at]);
  const groups = useMemo(() => groupsOf(take, split, id, division), [take, split, id, division]);
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title={`Take "${strand.part.name}" apart`}
      description="Every note stays in the take: it only changes hands. It can be taken back."
    >
      <CheckedForm
        form={form}
        onSubmit={() => {
          const move = divisionMove(take, split, id, division);
          if (move) onMove(move);
          onClose();
        }}
      >
        <fieldset className="grid grid-cols-2 gap-1">
          <legend className="label mb-1">By</legend>
          {ways.map((way) => (
            <label key={way.by} className="flex items-baseline gap-2">
              <input type="radio" value={way.by} {...form.register('by')} />
              <span>
                {way.title} <span className="text-xs text-muted">{way.about}</span>
              </span>
            </label>
          ))}
        </fieldset>
        {by === 'pitch' && (
          <FormNumber
            name="pitch"
            label={`From this pitch up (${pitchName(said.pitch)})`}
            min={0}
            max={127}
          />
        )}
        {by === 'velocity' && (
          <FormNumber name="velocity" label="Loud from this velocity up" min={1} max={127} />
        )}
        {by === 'length' && (
          <FormNumber
            name="length"
            label="Long from this many quarter notes up"
            min={0.05}
            max={64}
            step={0.05}
          />
        )}
        <section aria-label="What comes of it" className="border border-rule bg-paper p-2">
          {groups.length < 2 ? (
            <p className="text-muted">Nothing is told apart this way.</p>
          ) : (
            <ul>
              {groups.map(({ name, notes }) => (
                <li key={name} className="flex justify-between gap-3">
                  <span className="truncate">{name}</span>
                  <span className="text-muted">{plural(notes.length, 'note')}</span>
                </li>
              ))}
            </ul>
          )}
        </section>
        <SubmitButton disabled={groups.length < 2}>Take apart</SubmitButton>
      </CheckedForm>
    </Dialog>
  );
}

/** Where a part is as likely to be parted as anywhere: halfway between its lowest and highest note. */
function middlePitch({ notes }: Strand): number {
  const { low, high } = pitchRange(notes);
  return Math.ceil((low + high) / 2);
}
