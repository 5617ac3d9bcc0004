import { useState, type FormEvent } from 'react';
import { create } from 'zustand';
import { keyLabel, keyName, parseKey } from '../../core/music/key.ts';
import { METERS, parseMeter } from '../../core/music/meters.ts';
import { pitchClassName } from '../../core/music/pitch.ts';
import { Button } from '../../ui/Button.tsx';
import { Dialog } from '../../ui/Dialog.tsx';
import { KeyOptions } from '../../ui/KeyOptions.tsx';
import { toastWithUndo } from '../../ui/undoToast.ts';
import { sendJson } from '../api/client.ts';
import { tellProblem, useProjects, renew, type ProjectWire } from '../api/queries.ts';
import { chooseProject, useCurrentProject } from '../shared/project.ts';

const useEditing = create<{ editing: 'new' | 'current' | null }>(() => ({ editing: null }));

/** Opens the dialog of a new project, or of the current one. */
export function editProject(editing: 'new' | 'current'): void {
  useEditing.setState({ editing });
}

/** The current project, chosen, changed and made here. */
export function ProjectPicker() {
  const { data: projects = [] } = useProjects();
  const current = useCurrentProject();
  const { editing } = useEditing();
  return (
    <div>
      <label className="label block" htmlFor="current-project">
        Project
      </label>
      <select
        id="current-project"
        className="h-6 w-36 truncate border-b middling:w-28 border-rule bg-card font-bold"
        value={current?.id ?? ''}
        onChange={({ target: { value } }) => {
          if (value === 'new') editProject('new');
          else if (value === 'edit') editProject('current');
          else chooseProject(value);
        }}
      >
        {!current && <option value="">none yet</option>}
        {projects.map((project) => (
          <option key={project.id} value={project.id}>
            {project.name}
          </option>
        ))}
        {current && <option value="edit">Change {current.name} ...</option>}
        <option value="new">New project ...</option>
      </select>
      {editing && (
        <ProjectDialog
          project={editing === 'new' ? null : (current ?? null)}
          onClose={() => useEditing.setState({ editing: null })}
        />
      )}
    </div>
  );
}

/** Key, tempo, meter and chords that phrases are gathered for. */
function ProjectDialog({ project, onClose }: { project: ProjectWire | null; onClose: () => void }) {
  const [problem, setProblem] = useState<string | null>(null);
  const key =
    project?.keyMode && project.keyTonic !== null ? { tonic: project.keyTonic, mode: project.keyMode } : null;
  const save = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const { id: _id, createdAt: _createdAt, ...base } = project ?? ({} as ProjectWire);
    const chosen = parseKey(String(form.get('key')));
    const { numerator, denominator } = parseMeter(String(form.get('meter')));
    const body = {
      name: String(form.get('name')),
      bpm: Number(form.get('bpm')),
      keyTonic: chosen?.tonic ?? null,
      keyMode: chosen?.mode ?? null,
      meterNumerator: numerator,
      meterDenominator: denominator,
      chords: String(form.get('chords')),
    };
    try {
      const saved = project
        ? await sendJson<ProjectWire>('PUT', `/api/projects/${project.id}`, { ...body, base })
        : await sendJson<ProjectWire>('POST', '/api/projects', body);
      await renew('projects');
      chooseProject(saved.id);
      onClose();
      if (!project) return;
      toastWithUndo(`"${saved.name}" is changed.`, `the change of ${saved.name}`, () => {
        const { id, createdAt: _createdAt, ...before } = project;
        sendJson('PUT', `/api/projects/${id}`, before)
          .then(() => renew('projects'))
          .catch(tellProblem);
      });
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title={project ? project.name : 'New project'}
      description="What phrases are gathered for. Anything can be heard in a project's key and tempo."
    >
      <form onSubmit={(event) => void save(event)} className="grid grid-cols-3 gap-3">
        <label className="col-span-3 grid gap-1">
          <span className="label">Name</span>
          <input
            name="name"
            className="field"
            required
            maxLength={200}
            defaultValue={project?.name}
            autoFocus
          />
        </label>
        <label className="grid gap-1">
          <span className="label">Key</span>
          <select name="key" className="field" defaultValue={key ? keyName(key) : ''}>
            <KeyOptions none="no key" />
          </select>
        </label>
        <label className="grid gap-1">
          <span className="label">Tempo, BPM</span>
          <input
            name="bpm"
            type="number"
            min={20}
            max={400}
            step="any"
            className="field"
            defaultValue={project?.bpm ?? 100}
            required
          />
        </label>
        <label className="grid gap-1">
          <span className="label">Meter</span>
          <select
            name="meter"
            className="field"
            defaultValue={project ? `${project.meterNumerator}/${project.meterDenominator}` : '4/4'}
          >
            {METERS.map((meter) => (
              <option key={meter}>{meter}</option>
            ))}
          </select>
        </label>
        <label className="col-span-3 grid gap-1">
          <span className="label">Chords, bars between strokes</span>
          <input
            name="chords"
            className="field"
            placeholder={
              key ? `${keyLabel(key)} | ${pitchClassName(key.tonic + 5)} | ...` : 'Dm | Gm A7 | Dm'
            }
            defaultValue={project?.chords}
          />
        </label>
        {problem && (
          <p role="alert" className="col-span-3 text-madder">
            {problem}
          </p>
        )}
        <div className="col-span-3 flex justify-end gap-2">
          <Button onClick={onClose}>Leave it</Button>
          <Button kind="primary" type="submit">
            {project ? 'Save' : 'Make project'}
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
