import { useForm } from 'react-hook-form';
import { useNavigate, useSearchParams } from 'react-router';
import { writtenChanges } from '../../core/reuse/child.ts';
import type { Field } from '../../core/standins/stand-in.ts';
import { STAND_INS } from '../../core/standins/stand-ins.ts';
import { fieldsOf, problemOfPlan, runsOf, secondsOfPlan, type SweepPlan, type SweepTrigger } from '../../core/sweep/plan.ts'; // prettier-ignore
import { plural } from '../../core/words.ts';
import { useRecorder } from '../../devices/recorder-state.ts';
import type { SweepDetail } from '../../server/library/takes/sweeps.ts';
import { CheckedForm, FormProblem, SubmitButton } from '../../ui/form/checked-form.tsx';
import { FormNumber, FormSelect, FormText } from '../../ui/form/form-fields.tsx';
import { SelectField } from '../../ui/fields/SelectField.tsx';
import { sendJson } from '../api/client.ts';
import { renew, useKeptChanges } from '../api/queries.ts';
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
  const form = useForm<Typed>({
    values: {
      source: `stand-in ${phrase ? 'arpeggiator' : 'band'}`,
      kind: phrase ? 'phrase' : 'chart',
      chart: project?.chords ?? '',
      ...{ name: '', bpm: project?.bpm ?? 100, bars: 8, controller: null, waits: false, values: {} },
    },
    // A project that is known later changes nothing that was typed.
    resetOptions: { keepDirtyValues: true },
  });
  const typed = form.watch();
  const { source, kind, controller } = typed;
  const plan = planOf(typed, phrase ? { id: phrase, name: params.get('name') ?? '' } : null);
  const own = plan.source.kind === 'device' && controller !== null ? [controllerField(controller)] : [];
  const fields = [...fieldsOf(plan), ...own].filter((field) => !(kind === 'chart' && field.name === 'chart'));
  const problem = problemOfPlan(plan);
  const begin = async () => {
    const { id } = await sendJson<SweepDetail>('POST', '/api/sweeps', plan);
    await renew('sweeps');
    void navigate(`/capture/sweep/${id}`);
  };
  return (
    <CheckedForm form={form} onSubmit={begin} className="grid gap-4">
      <div className="flex flex-wrap items-end gap-3">
        <SelectField
          label="Source"
          value={source}
          className="w-52"
          onChange={(chosen) => {
            form.setValue('source', chosen, TYPED);
            form.setValue('values', {}, TYPED);
          }}
        >
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
        <FormSelect name="kind" label="Set off by" className="w-48">
          <option value="own">what it plays by itself</option>
          <option value="chart">a chart</option>
          {phrase && <option value="phrase">{params.get('name') ?? 'a phrase'}</option>}
        </FormSelect>
        {kind === 'chart' && written.length > 0 && (
          <SelectField
            label="Kept changes"
            className="w-40"
            value=""
            onChange={(text) => form.setValue('chart', text, TYPED)}
          >
            <option value="">as typed</option>
            {written.map(({ id, name: called, text }) => (
              <option key={id} value={text}>
                {called}
              </option>
            ))}
          </SelectField>
        )}
        {kind === 'chart' && (
          <FormText
            name="chart"
            label="Chart"
            className="min-w-64 flex-1"
            maxLength={8000}
            placeholder="Dm | Bb | Gm A7 | Dm"
          />
        )}
        <div className="w-24">
          <FormNumber name="bpm" label="Tempo, BPM" min={20} max={400} />
        </div>
        <div className="w-20">
          <FormNumber name="bars" label="Bars" min={1} max={64} />
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
              typed={typed.values[field.name]}
              onType={(value) => form.setValue('values', { ...typed.values, [field.name]: value }, TYPED)}
            />
          ))}
        </div>
      </fieldset>
      {plan.source.kind === 'device' && (
        <div className="w-44">
          <FormNumber
            name="controller"
            label="Another controller, by number"
            min={0}
            max={119}
            empty="none"
          />
        </div>
      )}
      {plan.source.kind === 'device' && (
        <label className="flex items-center gap-2">
          <input type="checkbox" {...form.register('waits')} />
          wait between runs: I turn the knob
        </label>
      )}
      <div className="flex flex-wrap items-end gap-3">
        <FormText name="name" label="Name" className="w-64" maxLength={200} placeholder={plan.name} />
        <SubmitButton disabled={problem !== null}>Begin</SubmitButton>
        <span className="pb-1 tabular-nums" role="status">
          {problem ?? `${plural(runsOf(plan).length, 'run')}, ${lengthWords(plan)}`}
        </span>
        <FormProblem className="w-full" />
      </div>
    </CheckedForm>
  );
}

const TYPED = { shouldDirty: true };

/** What is typed, before it is a plan. */
interface Typed {
  /** "stand-in band", "device Quay box". */
  source: string;
  kind: SweepTrigger['kind'];
  chart: string;
  name: string;
  bpm: number;
  bars: number;
  controller: number | null;
  waits: boolean;
  /** By the names of fields. */
  values: Record<string, string | readonly string[]>;
}

function planOf(typed: Typed, phrase: { id: string; name: string } | null): SweepPlan {
  const { kind, bpm, bars, waits, controller } = typed;
  const [, is, which] = /^(stand-in|device) (.*)$/.exec(typed.source)!;
  const source = is === 'device' ? { kind: 'device' as const, name: which! } : { kind: 'stand-in' as const, id: which! }; // prettier-ignore
  const trigger: SweepTrigger =
    kind === 'chart'
      ? { kind, chart: typed.chart }
      : kind === 'phrase' && phrase
        ? { kind, ...phrase }
        : { kind: 'own' };
  const title = STAND_INS.find(({ id }) => id === which)?.title ?? which!;
  const fields = [...fieldsOf({ source }), ...(controller === null ? [] : [controllerField(controller)])];
  return {
    ...{ name: typed.name.trim() || `${title}, swept`, source, trigger, waits, bpm, bars, settings: {} },
    vary: axesOf(fields, typed.values),
  };
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
