import { useState } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { writtenChanges } from '../../core/reuse/child.ts';
import type { Field } from '../../core/standins/stand-in.ts';
import { STAND_INS } from '../../core/standins/stand-ins.ts';
import { fieldsOf, problemOfPlan, runsOf, secondsOfPlan, type SweepPlan, type SweepTrigger } from '../../core/sweep/plan.ts'; // prettier-ignore
import { plural } from '../../core/words.ts';
import { useRecorder } from '../../devices/recorder-state.ts';
import type { SweepDetail } from '../../server/library/sweeps.ts';
import { Button } from '../../ui/Button.tsx';
import { NumberField } from '../../ui/NumberField.tsx';
import { SelectField } from '../../ui/SelectField.tsx';
import { TextField } from '../../ui/TextField.tsx';
import { sendJson } from '../api/client.ts';
import { renew, tellProblem, useKeptChanges } from '../api/queries.ts';
import { useCurrentProject } from '../shared/project.ts';
import { axesOf } from './plan-form.ts';

/** What a new sweep goes through: a source, what sets it off, and the fields with the values they are set to in turn. */
export function SweepForm() {
  const [params] = useSearchParams();
  const { data: kept = [] } = useKeptChanges();
  const written = kept.flatMap(({ id, name: called, chords, meterNumerator }) => {
    const text = writtenChanges(chords, meterNumerator);
    return typeof text === 'string' && text !== '' ? [{ id, name: called, text }] : [];
  });
  const phrase = params.get('phrase');
  const project = useCurrentProject();
  const navigate = useNavigate();
  const devices = useRecorder((state) => state.sources).filter(
    ({ kind, lost }) => kind === 'device' && !lost,
  );
  const [source, setSource] = useState(`stand-in ${phrase ? 'arpeggiator' : 'band'}`);
  const [kind, setKind] = useState<SweepTrigger['kind']>(phrase ? 'phrase' : 'chart');
  const [chart, setChart] = useState<string | null>(null);
  const [name, setName] = useState('');
  const [bpm, setBpm] = useState<number | null>(null);
  const [bars, setBars] = useState(8);
  const [controller, setController] = useState<number | null>(null);
  const [waits, setWaits] = useState(false);
  const [typed, setTyped] = useState<Record<string, string | readonly string[]>>({});
  const plan = planOf();
  const own = plan.source.kind === 'device' && controller !== null ? [controllerField(controller)] : [];
  const fields = [...fieldsOf(plan), ...own].filter((field) => !(kind === 'chart' && field.name === 'chart'));
  const problem = problemOfPlan(plan);
  const runs = runsOf(plan).length;
  const begin = () =>
    void sendJson<SweepDetail>('POST', '/api/sweeps', plan).then(({ id }) => {
      void renew('sweeps');
      void navigate(`/capture/sweep/${id}`);
    }, tellProblem);
  return (
    <form
      className="grid gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        begin();
      }}
    >
      <div className="flex flex-wrap items-end gap-3">
        <SelectField label="Source" value={source} className="w-52" onChange={choose}>
          {STAND_INS.map(({ id, title }) => (
            <option key={id} value={`stand-in ${id}`}>
              {title}
            </option>
          ))}
          {devices.map((device) => (
            <option key={device.id} value={`device ${device.name}`}>
              {device.name}, a device
            </option>
          ))}
        </SelectField>
        <SelectField
          label="Set off by"
          value={kind}
          className="w-48"
          onChange={(value) => setKind(value as SweepTrigger['kind'])}
        >
          <option value="own">what it plays by itself</option>
          <option value="chart">a chart</option>
          {phrase && <option value="phrase">{params.get('name') ?? 'a phrase'}</option>}
        </SelectField>
        {kind === 'chart' && written.length > 0 && (
          <SelectField label="Kept changes" className="w-40" value="" onChange={setChart}>
            <option value="">as typed</option>
            {written.map(({ id, name: called, text }) => (
              <option key={id} value={text}>
                {called}
              </option>
            ))}
          </SelectField>
        )}
        {kind === 'chart' && (
          <TextField
            label="Chart"
            className="min-w-64 flex-1"
            maxLength={8000}
            placeholder="Dm | Bb | Gm A7 | Dm"
            value={chart ?? project?.chords ?? ''}
            onChange={setChart}
          />
        )}
        <div className="w-24">
          <NumberField label="Tempo, BPM" min={20} max={400} value={plan.bpm} onChange={setBpm} />
        </div>
        <div className="w-20">
          <NumberField label="Bars" min={1} max={64} value={bars} onChange={setBars} />
        </div>
      </div>
      <fieldset>
        <legend className="mb-1 font-display text-base font-semibold">What is gone through</legend>
        <p className="mb-2 text-sm text-muted">
          Every value with every other. Numbers as a list or a range, such as 1 to 4; what is left empty stays
          as it is.
        </p>
        <div className="grid gap-2">
          {fields.map((field) => (
            <AxisField
              key={`${source} ${field.name}`}
              field={field}
              typed={typed[field.name]}
              onType={(value) => setTyped((old) => ({ ...old, [field.name]: value }))}
            />
          ))}
        </div>
      </fieldset>
      {plan.source.kind === 'device' && (
        <div className="w-44">
          <NumberField
            label="Another controller, by number"
            min={0}
            max={119}
            empty="none"
            value={controller}
            onChange={setController}
          />
        </div>
      )}
      {plan.source.kind === 'device' && (
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-[var(--indigo)]"
            checked={waits}
            onChange={({ target }) => setWaits(target.checked)}
          />
          wait between runs: I turn the knob
        </label>
      )}
      <div className="flex flex-wrap items-end gap-3">
        <TextField
          label="Name"
          className="w-64"
          maxLength={200}
          placeholder={plan.name}
          value={name}
          onChange={setName}
        />
        <Button kind="primary" type="submit" disabled={problem !== null}>
          Begin
        </Button>
        <span className="pb-1 tabular-nums" role="status">
          {problem ?? `${plural(runs, 'run')}, ${lengthWords(plan)}`}
        </span>
      </div>
    </form>
  );

  function choose(value: string) {
    setSource(value);
    setTyped({});
  }

  function planOf(): SweepPlan {
    const [, is, which] = /^(stand-in|device) (.*)$/.exec(source)!;
    const chosen = is === 'device' ? { kind: 'device' as const, name: which! } : { kind: 'stand-in' as const, id: which! }; // prettier-ignore
    const trigger: SweepTrigger =
      kind === 'chart'
        ? { kind, chart: chart ?? project?.chords ?? '' }
        : kind === 'phrase' && phrase
          ? { kind, id: phrase, name: params.get('name') ?? '' }
          : { kind: 'own' };
    const title = STAND_INS.find(({ id }) => id === which)?.title ?? which!;
    return {
      ...{ name: name.trim() || `${title}, swept`, source: chosen, trigger, waits },
      ...{ bpm: bpm ?? project?.bpm ?? 100, bars, settings: {} },
      vary: axesOf(
        [...fieldsOf({ source: chosen }), ...(controller === null ? [] : [controllerField(controller)])],
        typed,
      ),
    };
  }
}

/** A controller that is none of the usual ones, as a field. */
function controllerField(number: number): Field {
  return { name: `controller ${number}`, label: `Controller ${number}`, kind: 'number', min: 0, max: 127 };
}

/** How long the runs take: those of a stand-in no longer than they are computed. */
function lengthWords(plan: SweepPlan): string {
  const seconds = secondsOfPlan(plan);
  if (seconds === 0) return 'without waiting for a clock';
  return seconds < 90 ? `${Math.round(seconds)} seconds` : `${Math.round(seconds / 60)} minutes`;
}

function AxisField({
  field,
  typed,
  onType,
}: {
  field: Field;
  typed: string | readonly string[] | undefined;
  onType: (value: string | readonly string[]) => void;
}) {
  const options =
    field.kind === 'choice' || field.kind === 'several'
      ? field.options
      : field.kind === 'switch'
        ? [
            { value: 'on', label: 'on' },
            { value: 'off', label: 'off' },
          ]
        : null;
  if (field.kind === 'several') return null;
  if (options) {
    const chosen = (typed ?? []) as readonly string[];
    const toggle = (value: string) =>
      onType(options.map((one) => one.value).filter((one) => chosen.includes(one) !== (one === value)));
    return (
      <div role="group" aria-label={field.label} className="grid grid-cols-[150px_1fr] items-baseline gap-3">
        <span className="text-right text-muted">{field.label}</span>
        <span className="flex flex-wrap gap-1">
          {options.map(({ value, label }) => (
            <button
              key={value}
              type="button"
              aria-pressed={chosen.includes(value)}
              className="min-h-6 rounded-[3px] border border-rule px-2 aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-paper"
              onClick={() => toggle(value)}
            >
              {label}
            </button>
          ))}
        </span>
      </div>
    );
  }
  return (
    <label className="grid grid-cols-[150px_1fr] items-baseline gap-3">
      <span className="text-right text-muted">
        {field.label}
        {'unit' in field && field.unit ? `, ${field.unit}` : ''}
      </span>
      <input
        className="field w-72"
        placeholder={field.kind === 'number' ? `${field.min} to ${field.max}` : 'one; another; a third'}
        value={(typed as string | undefined) ?? ''}
        onChange={({ target }) => onType(target.value)}
      />
    </label>
  );
}
