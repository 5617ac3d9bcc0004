import { keyName, parseKey, sameKey } from '../../core/music/key.ts';
import { ROLES } from '../../core/split/roles.ts';
import { KeyOptions } from '../../ui/fields/KeyOptions.tsx';
import { ROLE_LOOK } from '../../ui/drawing/roles.ts';
import { TagField } from '../../ui/fields/TagField.tsx';
import { useProjects, type TakeWire } from '../api/queries.ts';
import type { PhraseEdit } from '../../core/merge/phrase-edits.ts';

/** Role, key, project, tags and rights. */
export function PhraseFacts({
  edit,
  set,
  row,
}: {
  edit: PhraseEdit;
  set: (change: (now: PhraseEdit) => PhraseEdit, label: string) => void;
  row: TakeWire;
}) {
  const { data: projects = [] } = useProjects();
  const runnerUp = row.keys.find((key) => !edit.takeKey || !sameKey(key, edit.takeKey));
  return (
    <section
      aria-label="About the phrase"
      className="grid grid-cols-[62px_1fr] items-center gap-x-2 gap-y-1.5"
    >
      <label className="label" htmlFor="phrase-role">
        Role
      </label>
      <select
        id="phrase-role"
        className="field h-7"
        value={edit.role}
        onChange={({ target: { value } }) =>
          set((old) => ({ ...old, role: ROLES.find((role) => role === value)! }), 'role')
        }
      >
        {ROLES.map((role) => (
          <option key={role} value={role}>
            {ROLE_LOOK[role].title}
          </option>
        ))}
      </select>
      <label className="label" htmlFor="phrase-key">
        Take's key
      </label>
      <div className="flex items-center gap-2">
        <select
          id="phrase-key"
          className="field h-7"
          value={edit.takeKey ? keyName(edit.takeKey) : ''}
          onChange={({ target: { value } }) =>
            set((old) => ({ ...old, takeKey: parseKey(value) ?? null }), 'key')
          }
        >
          <KeyOptions none="not known" />
        </select>
        {runnerUp && (
          <button
            type="button"
            className="truncate text-sm text-muted underline decoration-rule underline-offset-3 hover:text-ink"
            title="Take this key instead"
            onClick={() =>
              set((old) => ({ ...old, takeKey: { tonic: runnerUp.tonic, mode: runnerUp.mode } }), 'key')
            }
          >
            or {keyName(runnerUp)} {runnerUp.certainty.toFixed(2)}
          </button>
        )}
      </div>
      <label className="label" htmlFor="phrase-project">
        Project
      </label>
      <select
        id="phrase-project"
        className="field h-7"
        value={edit.projectId ?? ''}
        onChange={({ target: { value } }) => set((old) => ({ ...old, projectId: value || null }), 'project')}
      >
        <option value="">none</option>
        {projects.map((project) => (
          <option key={project.id} value={project.id}>
            {project.name}
          </option>
        ))}
      </select>
      <label className="label" htmlFor="phrase-rights">
        Rights
      </label>
      <input
        id="phrase-rights"
        className="field h-7"
        placeholder="own work, licensed, ..."
        maxLength={200}
        value={edit.rights}
        onChange={(event) => set((old) => ({ ...old, rights: event.target.value }), 'rights')}
      />
      <span className="label">Tags</span>
      <TagField tags={edit.tags} onChange={(tags) => set((old) => ({ ...old, tags }), 'tags')} />
    </section>
  );
}
