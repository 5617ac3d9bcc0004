import { useForm } from 'react-hook-form';
import type { Meter } from '../../core/music/meters.ts';
import { ChartError } from '../../core/music/chart.ts';
import { barTicks } from '../../core/music/timeline.ts';
import { heldChanges, heldChart, heldMessages, heldPitches, pitchesIn } from '../../core/standins/held.ts';
import { PPQ } from '../../core/standins/performance.ts';
import type { Held } from '../../core/standins/stand-in.ts';
import { plural } from '../../core/words.ts';
import { changeSettings, setPrompt, useRecorder } from '../../devices/recorder-state.ts';
import type { KeptChanges } from '../../server/library/takes/harmony.ts';
import { Button } from '../../ui/Button.tsx';
import { CheckedForm, SubmitButton } from '../../ui/form/checked-form.tsx';
import { FormNumber, FormSelect, FormText } from '../../ui/form/form-fields.tsx';
import { useKeptChanges } from '../api/queries.ts';

/** Something that is played into the first source that is ticked, so that its answer becomes the take. */
export function PlayedIn({ onClose }: { onClose: () => void }) {
  const settings = useRecorder((state) => state.settings);
  const { data: kept = [] } = useKeptChanges();
  const form = useForm<Typed>({
    defaultValues: {
      ...{ kind: 'chart', chart: 'Dm | Bb | Gm | A7', keys: 'C3 E3 G3', changes: kept[0]?.id ?? '' },
      ...{ octaves: 0, bars: settings.bars ?? 4 },
    },
  });
  const typed = form.watch();
  const { kind, octaves } = typed;
  const { meter, bpm } = settings;
  const bar = barTicks(PPQ, meter);
  const asked = askedFor(typed, kept, meter);
  const play = () => {
    if (typeof asked === 'string') return;
    const { held, name, length } = asked;
    const until = length * bar;
    setPrompt({
      ...{ kind: 'chart', id: '', name, bpm, meter, bars: length },
      messages: heldMessages(held, { bpm, semitones: 12 * octaves, channel: 0, until }),
    });
    // The answer has a bar to begin by.
    changeSettings({ countInBars: Math.max(1, settings.countInBars) });
    onClose();
  };
  return (
    <CheckedForm
      form={form}
      onSubmit={play}
      className="grid gap-2 rounded-[3px] border border-rule bg-card p-2"
    >
      <div className="flex flex-wrap items-end gap-2">
        <FormSelect name="kind" label="Play into it" className="w-40">
          <option value="chart">a chart</option>
          <option value="keys">held keys</option>
          {kept.length > 0 && <option value="changes">kept changes</option>}
        </FormSelect>
        {kind === 'changes' ? (
          <FormSelect name="changes" label="Changes" className="min-w-48 flex-1">
            {kept.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </FormSelect>
        ) : (
          <FormText
            key={kind}
            name={kind}
            label={kind === 'chart' ? 'Chart' : 'Keys'}
            className="min-w-48 flex-1"
            maxLength={8000}
          />
        )}
        {kind === 'keys' && (
          <div className="w-20">
            <FormNumber name="bars" label="Bars" min={1} max={64} />
          </div>
        )}
        <div className="w-24">
          <FormNumber name="octaves" label="Octaves up" min={-4} max={4} />
        </div>
        <SubmitButton disabled={typeof asked === 'string'}>Play it in</SubmitButton>
        <Button onClick={onClose}>Leave it</Button>
      </div>
      <p className={`text-sm ${typeof asked === 'string' ? 'text-madder' : 'text-muted'}`} role="status">
        {typeof asked === 'string'
          ? asked
          : `${plural(asked.held.length, 'key')} over ${plural(asked.length, 'bar')}, after a bar of count-in, on the channel that is set for the device.`}
      </p>
    </CheckedForm>
  );
}

/** What can be played into a source from here; phrases and bars of takes are sent from where they stand. */
interface Typed {
  kind: 'chart' | 'keys' | 'changes';
  chart: string;
  keys: string;
  /** Kept changes by their id. */
  changes: string;
  octaves: number;
  bars: number;
}

/** What is to be played, or why nothing can be. */
function askedFor(
  { kind, chart, keys, changes, bars }: Typed,
  kept: readonly KeptChanges[],
  meter: Meter,
): { held: Held[]; name: string; length: number } | string {
  if (kind === 'keys') {
    const pitches = pitchesIn(keys);
    if (pitches.length === 0) return 'Keys are written with their octaves, such as C3 E3 G3.';
    return { held: heldPitches(pitches), name: keys, length: bars };
  }
  try {
    const chosen = kept.find(({ id }) => id === changes) ?? kept[0];
    const held = kind === 'chart' ? heldChart(chart, meter) : heldChanges(chosen?.chords ?? [], meter);
    const last = held.reduce((most, { end }) => Math.max(most, end ?? 0), 0);
    const name = kind === 'chart' ? chart : (chosen?.name ?? 'Changes');
    return { held, name, length: Math.ceil(last / barTicks(PPQ, meter)) };
  } catch (error) {
    if (error instanceof ChartError) return error.message;
    throw error;
  }
}
