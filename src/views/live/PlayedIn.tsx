import { useState } from 'react';
import { ChartError } from '../../core/music/chart.ts';
import { barTicks } from '../../core/music/timeline.ts';
import { heldChanges, heldChart, heldMessages, heldPitches, pitchesIn } from '../../core/standins/held.ts';
import { PPQ } from '../../core/standins/performance.ts';
import type { Held } from '../../core/standins/stand-in.ts';
import { plural } from '../../core/words.ts';
import { changeSettings, setPrompt, useRecorder } from '../../devices/recorder-state.ts';
import { Button } from '../../ui/Button.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { SelectField } from '../../ui/SelectField.tsx';
import { TextField } from '../../ui/TextField.tsx';
import { useKeptChanges } from '../api/queries.ts';

/** What can be played into a source from here; phrases and bars of takes are sent from where they stand. */
type Played = 'chart' | 'keys' | 'changes';

/** Something that is played into the first source that is ticked, so that its answer becomes the take. */
export function PlayedIn({ onClose }: { onClose: () => void }) {
  const settings = useRecorder((state) => state.settings);
  const { data: kept = [] } = useKeptChanges();
  const [kind, setKind] = useState<Played>('chart');
  const [text, setText] = useState('Dm | Bb | Gm | A7');
  const [keys, setKeys] = useState('C3 E3 G3');
  const [changesId, setChangesId] = useState('');
  const [octaves, setOctaves] = useState(0);
  const [bars, setBars] = useState(settings.bars ?? 4);
  const chosen = kept.find(({ id }) => id === changesId) ?? kept[0];
  const { meter, bpm } = settings;
  const bar = barTicks(PPQ, meter);
  const asked = askedFor();
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
    <form
      className="grid gap-2 rounded-[3px] border border-rule bg-card p-2"
      onSubmit={(event) => {
        event.preventDefault();
        play();
      }}
    >
      <div className="flex flex-wrap items-end gap-2">
        <SelectField
          label="Play into it"
          className="w-40"
          value={kind}
          onChange={(value) => setKind(value as Played)}
        >
          <option value="chart">a chart</option>
          <option value="keys">held keys</option>
          {kept.length > 0 && <option value="changes">kept changes</option>}
        </SelectField>
        {kind === 'changes' ? (
          <SelectField
            label="Changes"
            className="min-w-48 flex-1"
            value={chosen?.id ?? ''}
            onChange={setChangesId}
          >
            {kept.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </SelectField>
        ) : (
          <TextField
            label={kind === 'chart' ? 'Chart' : 'Keys'}
            className="min-w-48 flex-1"
            maxLength={8000}
            value={kind === 'chart' ? text : keys}
            onChange={kind === 'chart' ? setText : setKeys}
          />
        )}
        {kind === 'keys' && (
          <div className="w-20">
            <NumberField label="Bars" min={1} max={64} value={bars} onChange={setBars} />
          </div>
        )}
        <div className="w-24">
          <NumberField label="Octaves up" min={-4} max={4} value={octaves} onChange={setOctaves} />
        </div>
        <Button type="submit" kind="primary" disabled={typeof asked === 'string'}>
          Play it in
        </Button>
        <Button onClick={onClose}>Leave it</Button>
      </div>
      <p className={`text-sm ${typeof asked === 'string' ? 'text-madder' : 'text-muted'}`} role="status">
        {typeof asked === 'string'
          ? asked
          : `${plural(asked.held.length, 'key')} over ${plural(asked.length, 'bar')}, after a bar of count-in, on the channel that is set for the device.`}
      </p>
    </form>
  );

  /** What is to be played, or why nothing can be. */
  function askedFor(): { held: Held[]; name: string; length: number } | string {
    if (kind === 'keys') {
      const pitches = pitchesIn(keys);
      if (pitches.length === 0) return 'Keys are written with their octaves, such as C3 E3 G3.';
      return { held: heldPitches(pitches), name: keys, length: bars };
    }
    try {
      const held = kind === 'chart' ? heldChart(text, meter) : heldChanges(chosen?.chords ?? [], meter);
      const last = held.reduce((most, { end }) => Math.max(most, end ?? 0), 0);
      return {
        held,
        name: kind === 'chart' ? text : (chosen?.name ?? 'Changes'),
        length: Math.ceil(last / bar),
      };
    } catch (error) {
      if (error instanceof ChartError) return error.message;
      throw error;
    }
  }
}
