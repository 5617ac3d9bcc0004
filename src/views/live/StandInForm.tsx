import { zipSync } from 'fflate';
import { Play, Square } from 'lucide-react';
import { writeMidiFile } from '../../core/midi/write.ts';
import { MISHAPS, type Mishap } from '../../core/standins/mishaps.ts';
import { passFiles, performanceFile } from '../../core/standins/performance.ts';
import type { Field } from '../../core/standins/stand-in.ts';
import { standInById, type AnySettings } from '../../core/standins/stand-ins.ts';
import { canAnswer, playStandIn, setStandIn, stopStandIn, useStandIns } from '../../devices/stand-ins.ts';
import { Button } from '../../ui/Button.tsx';
import { Labeled } from '../../ui/fields/Labeled.tsx';
import { NumberField } from '../../ui/fields/NumberField.tsx';
import { TextField } from '../../ui/fields/TextField.tsx';
import { saveFile } from '../../ui/save-file.ts';
import { tellProblem } from '../api/queries.ts';

/** A stand-in as one would set a device: what it plays, what goes wrong, and its own play button. */
export function StandInForm({ id }: { id: string }) {
  const standIn = standInById(id);
  const state = useStandIns((all) => all[id]!);
  const { settings, mishaps, playing, answersKeys } = state;
  const set = (name: string, value: unknown) =>
    setStandIn(id, { settings: { ...settings, [name]: value } as AnySettings });
  const problem = problemOf(id, settings, mishaps);
  return (
    <section aria-label={standIn.title} className="grid gap-3">
      <div>
        <h2 className="text-lg">{standIn.title}</h2>
        <p className="text-sm text-muted">{standIn.about}</p>
      </div>
      <div className="flex flex-wrap gap-1.5">
        {playing ? (
          <Button onClick={() => stopStandIn(id)}>
            <Square size={12} fill="currentColor" aria-hidden="true" /> Stop it
          </Button>
        ) : (
          <Button onClick={() => playStandIn(id)} disabled={problem !== null || answersKeys}>
            <Play size={12} fill="currentColor" aria-hidden="true" /> Play it
          </Button>
        )}
        <Button
          onClick={() => exportFile(id)}
          disabled={problem !== null}
          title="The file such a device exports"
        >
          File
        </Button>
        <Button
          onClick={() => exportPasses(id)}
          disabled={problem !== null}
          title="A file an instrument, all from bar one, in a ZIP"
        >
          Passes
        </Button>
      </div>
      {problem && (
        <p role="alert" className="text-sm text-madder">
          {problem}
        </p>
      )}
      <div className="grid grid-cols-2 gap-2">
        <NumberField
          label="Its tempo, BPM"
          min={20}
          max={300}
          value={settings.bpm}
          onChange={(value) => set('bpm', value)}
        />
        {standIn.fields.map((field) => (
          <SettingField
            key={field.name}
            field={field}
            value={settings[field.name]}
            onChange={(value) => set(field.name, value)}
          />
        ))}
      </div>
      {canAnswer(id) && (
        <label className="flex items-center gap-2">
          <input
            type="checkbox"

            checked={answersKeys}
            onChange={(event) => setStandIn(id, { answersKeys: event.target.checked })}
          />
          answers the keys it is sent, instead of playing by itself
        </label>
      )}
      <fieldset>
        <legend className="mb-1 font-display font-semibold">What goes wrong</legend>
        {standIn.mishaps.map((mishap) => (
          <label key={mishap} className="flex min-h-6 items-center gap-2 text-sm">
            <input
              type="checkbox"
              className="accent-[var(--madder)]"
              checked={mishaps.includes(mishap)}
              onChange={() => setStandIn(id, { mishaps: toggled(mishaps, mishap) })}
            />
            {MISHAPS[mishap]}
          </label>
        ))}
      </fieldset>
    </section>
  );
}

function toggled<Value>(list: readonly Value[], value: Value): Value[] {
  return list.includes(value) ? list.filter((other) => other !== value) : [...list, value];
}

/** What a stand-in cannot make sense of, in words; null where all is well. */
function problemOf(id: string, settings: AnySettings, mishaps: readonly Mishap[]): string | null {
  try {
    standInById(id).play(settings, mishaps);
    return null;
  } catch (error) {
    return (error as Error).message;
  }
}

function performanceOf(id: string) {
  const { settings, mishaps } = useStandIns.getState()[id]!;
  return standInById(id).play(settings, mishaps);
}

function exportFile(id: string): void {
  const performance = performanceOf(id);
  saveFile(writeMidiFile(performanceFile(performance)), `${performance.title}.mid`, 'audio/midi');
}

function exportPasses(id: string): void {
  const performance = performanceOf(id);
  const files = passFiles(performance).map(({ name, midi }) => [`${name}.mid`, writeMidiFile(midi)] as const);
  try {
    saveFile(zipSync(Object.fromEntries(files)), `${performance.title} passes.zip`, 'application/zip');
  } catch (error) {
    tellProblem(error);
  }
}

function SettingField({
  field,
  value,
  onChange,
}: {
  field: Field;
  value: unknown;
  onChange: (value: unknown) => void;
}) {
  switch (field.kind) {
    case 'number':
      return (
        <NumberField
          {...field}
          label={field.unit ? `${field.label}, ${field.unit}` : field.label}
          value={value as number}
          onChange={onChange}
        />
      );
    case 'text':
      return (
        <TextField
          label={field.label}
          className="col-span-2"
          placeholder={field.hint}
          value={value as string}
          maxLength={2000}
          onChange={onChange}
        />
      );
    case 'choice':
      return (
        <Labeled label={field.label}>
          {(id) => (
            <select
              id={id}
              className="field w-full"
              value={value as string}
              onChange={(event) => onChange(event.target.value)}
            >
              {field.options.map(({ value: option, label }) => (
                <option key={option} value={option}>
                  {label}
                </option>
              ))}
            </select>
          )}
        </Labeled>
      );
    case 'switch':
      return (
        <label className="col-span-2 flex items-center gap-2">
          <input
            type="checkbox"

            checked={value as boolean}
            onChange={(event) => onChange(event.target.checked)}
          />
          {field.label}
        </label>
      );
    case 'several':
      return (
        <fieldset className="col-span-2">
          <legend className="label">{field.label}</legend>
          <div className="flex flex-wrap gap-x-3">
            {field.options.map(({ value: option, label }) => (
              <label key={option} className="flex items-center gap-1.5">
                <input
                  type="checkbox"

                  checked={(value as string[]).includes(option)}
                  onChange={() => onChange(toggled(value as string[], option))}
                />
                {label}
              </label>
            ))}
          </div>
        </fieldset>
      );
  }
}
