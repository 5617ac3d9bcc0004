import { Link } from 'react-router';
import { setDevice, useDeviceSetting, type DeviceUse } from '../../devices/device-settings.ts';
import { isOtherTempo, useIncomingTempo } from '../../devices/incoming-tempo.ts';
import { changeSettings, useRecorder, type SourceState } from '../../devices/recorder-state.ts';
import { useAdded } from '../../devices/through.ts';
import { Button } from '../../ui/Button.tsx';
import { Checkbox } from '../../ui/fields/Checkbox.tsx';
import { NumberField } from '../../ui/fields/NumberField.tsx';
import { SelectField } from '../../ui/fields/SelectField.tsx';
import { TextField } from '../../ui/fields/TextField.tsx';
import { toastWithUndo } from '../../ui/history/undoToast.ts';
import { tellProblem, type ProjectWire } from '../api/queries.ts';
import { putProject, useCurrentProject } from '../shared/project.ts';

const USES: Record<DeviceUse, { title: string; about: string }> = {
  recorded: { title: 'recorded', about: 'What it plays becomes the take.' },
  trigger: {
    title: 'sets the others off',
    about: 'Its keys are kept beside the take, drawn hollow, and are no part of it.',
  },
  through: {
    title: 'sets off, through the page',
    about: 'Its keys are sent on to the first source that is ticked, and kept beside the take.',
  },
};

/** How a device is used, what it is asked to play, and what its clock says. Known again by its name. */
export function DeviceForm({ source: { name, lost } }: { source: SourceState }) {
  const setting = useDeviceSetting(name);
  const added = useAdded((all) => all[name]);
  const set = (change: Parameters<typeof setDevice>[1]) => setDevice(name, change);
  return (
    <section aria-label={name} className="grid gap-3">
      <div>
        <h2 className="text-lg">{name}</h2>
        <p className="text-sm text-muted">
          {lost
            ? 'It was unplugged. What it had played until then is kept; back at any port, it is the same again.'
            : 'A device. Its meter moves with what arrives.'}
        </p>
      </div>
      <SelectField label="It is" value={setting.use} onChange={(use) => set({ use: use as DeviceUse })}>
        {Object.entries(USES).map(([use, { title }]) => (
          <option key={use} value={use}>
            {title}
          </option>
        ))}
      </SelectField>
      <p className="-mt-1 text-sm text-muted">{USES[setting.use].about}</p>
      {setting.use === 'through' && added && (
        <p className="text-sm tabular-nums" role="status">
          The page adds {added.median} ms, 95 of 100 times {added.p95} ms or less.
        </p>
      )}
      <div className="grid grid-cols-2 gap-2">
        <NumberField
          label="Its channel"
          min={1}
          max={16}
          value={setting.channel + 1}
          onChange={(channel) => set({ channel: channel - 1 })}
        />
        <div className="self-end pb-1">
          <Checkbox label="send it the clock" on={setting.clock} onChange={(clock) => set({ clock })} />
        </div>
      </div>
      <Incoming name={name} />
      {setting.use === 'recorded' && (
        <fieldset className="grid gap-2">
          <legend className="mb-1 font-display font-semibold">What it is asked to play</legend>
          <TextField
            label="Chart"
            maxLength={4000}
            placeholder="Dm | Bb | Gm A7 | Dm"
            value={setting.chart}
            onChange={(chart) => set({ chart })}
          />
          <div className="grid grid-cols-2 gap-2">
            <TextField
              label="Key"
              maxLength={40}
              placeholder="Dm"
              value={setting.key}
              onChange={(key) => set({ key })}
            />
            <NumberField
              label="Bars"
              min={1}
              max={999}
              empty="not said"
              value={setting.bars}
              onChange={(bars) => set({ bars })}
            />
          </div>
          <p className="text-sm text-muted">
            What is usually done to its takes stands with the{' '}
            <Link className="underline" to="/house">
              habits of sources
            </Link>
            .
          </p>
          <p className="text-sm text-muted">
            The account of a take and its chart check hold what came against this. A form is written as A: … ;
            B: … ; form: A A B A.
          </p>
        </fieldset>
      )}
    </section>
  );
}

/** The tempo that a device's clock brings: taken, or the one at hand kept; asked once a device. */
function Incoming({ name }: { name: string }) {
  const incoming = useIncomingTempo((all) => all[name]);
  const bpm = useRecorder((state) => state.settings.bpm);
  const { tempo } = useDeviceSetting(name);
  const project = useCurrentProject();
  if (incoming === undefined) return null;
  if (tempo !== 'ask' || !isOtherTempo(incoming, bpm))
    return (
      <p className="text-sm text-muted tabular-nums">
        Its clock runs at {incoming} BPM{tempo === 'keep' ? `; ${bpm} BPM are kept` : ''}.{' '}
        {tempo !== 'ask' && (
          <button type="button" className="underline" onClick={() => setDevice(name, { tempo: 'ask' })}>
            Ask again
          </button>
        )}
      </p>
    );
  return (
    <div className="grid gap-1.5 rounded-[3px] bg-select p-2" role="status">
      <span className="tabular-nums">
        Its clock runs at {incoming} BPM, and {bpm} BPM are set here.
      </span>
      <span className="flex flex-wrap gap-1.5">
        <Button small onClick={() => takeTempo(name, incoming)}>
          Take {incoming} BPM
        </Button>
        {project && (
          <Button small onClick={() => takeForProject(name, incoming, project)}>
            Take it for {project.name}
          </Button>
        )}
        <Button small onClick={() => setDevice(name, { tempo: 'keep' })}>
          Keep {bpm} BPM
        </Button>
      </span>
    </div>
  );
}

function takeTempo(name: string, bpm: number): void {
  setDevice(name, { tempo: 'take' });
  changeSettings({ bpm });
}

function takeForProject(name: string, bpm: number, project: ProjectWire): void {
  putProject({ ...project, bpm }).then(() => {
    takeTempo(name, bpm);
    toastWithUndo(`${project.name} is at ${bpm} BPM.`, `the tempo of ${project.name}`, () =>
      putProject(project).catch(tellProblem),
    );
  }, tellProblem);
}
