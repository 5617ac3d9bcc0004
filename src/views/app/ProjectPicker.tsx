import { lazy, Suspense } from 'react';
import { create } from 'zustand';
import { useProjects } from '../api/queries.ts';
import { chooseProject, useCurrentProject } from '../shared/project.ts';

/** It comes when it is asked for: the page is there sooner without it. */
const ProjectDialog = lazy(() => import('./ProjectDialog.tsx'));

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
        <Suspense>
          <ProjectDialog
            project={editing === 'new' ? null : (current ?? null)}
            onClose={() => useEditing.setState({ editing: null })}
          />
        </Suspense>
      )}
    </div>
  );
}
