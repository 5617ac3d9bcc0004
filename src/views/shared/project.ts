import { useEffect } from 'react';
import { create } from 'zustand';
import { hear } from '../../sound/player.ts';
import { sendJson } from '../api/client.ts';
import { renew, useProjects, type ProjectWire } from '../api/queries.ts';

/** Which project is worked for: kept in the browser, shared by all views. */
const useProjectId = create<{ id: string | null }>(() => ({ id: localStorage.getItem('project') }));

export function chooseProject(id: string | null): void {
  if (id) localStorage.setItem('project', id);
  else localStorage.removeItem('project');
  useProjectId.setState({ id });
}

/** The current project: the chosen one, else the first. Undefined while loading or where there is none. */
export function useCurrentProject() {
  const { data: projects } = useProjects();
  const id = useProjectId((state) => state.id);
  return projects?.find((project) => project.id === id) ?? projects?.[0];
}

/** Lets what sounds follow the current project. */
export function useHeardProject(): void {
  const project = useCurrentProject();
  useEffect(() => {
    hear({ project: project ?? null });
  }, [project]);
}

/** Writes a project as it is to be. */
export async function putProject({ id, createdAt: _createdAt, ...body }: ProjectWire): Promise<void> {
  await sendJson('PUT', `/api/projects/${id}`, body);
  await renew('projects');
}
