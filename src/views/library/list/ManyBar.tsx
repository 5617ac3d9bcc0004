import { useState } from 'react';
import { plural } from '../../../core/words.ts';
import { Button } from '../../../ui/Button.tsx';
import { useProjects } from '../../api/queries.ts';
import { rated, tagged, useTellPhrases } from '../../shared/phrases/many.ts';
import { ratingWords } from '../../shared/phrases/rating.ts';

/** What can be done with the phrases that are chosen. */
export function ManyBar({
  ids,
  total,
  onAll,
  onPut,
  onRecipe,
  onAside,
  onNone,
}: {
  ids: readonly string[];
  /** How many are found in all. */
  total: number;
  onAll: () => void;
  onPut: () => void;
  onRecipe: () => void;
  onAside: () => void;
  onNone: () => void;
}) {
  const [tag, setTag] = useState('');
  const { data: projects = [] } = useProjects();
  const tell = useTellPhrases();
  const number = plural(ids.length, 'phrase');
  const tags = tag
    .split(',')
    .map((name) => name.trim())
    .filter(Boolean);
  const done = { onSuccess: () => setTag('') };
  const untagged = {
    ...{ ids, change: { removeTags: tags }, what: 'taking tags away' },
    done: `${number} without ${tags.join(', ')}.`,
  };
  return (
    <div
      className="mb-2 flex flex-wrap items-center gap-2 rounded-[3px] bg-select px-2 py-1"
      role="group"
      aria-label="Chosen phrases"
    >
      <b>{number} chosen</b>
      {ids.length < total && (
        <Button small onClick={onAll} title="Everything that is found (Ctrl Shift A)">
          All {total.toLocaleString('en')}
        </Button>
      )}
      <form
        className="flex items-center gap-1"
        onSubmit={(event) => {
          event.preventDefault();
          if (tags.length > 0) tell.mutate(tagged(ids, tags), done);
        }}
      >
        <input
          className="field h-6 w-20 text-sm"
          aria-label="Tags"
          placeholder="tag, tag"
          maxLength={200}
          value={tag}
          onChange={({ target }) => setTag(target.value)}
        />
        <Button small type="submit" disabled={tags.length === 0}>
          Tag
        </Button>
        <Button small disabled={tags.length === 0} onClick={() => tell.mutate(untagged, done)}>
          Untag
        </Button>
      </form>
      <select
        aria-label="Rate"
        className="field h-6 w-16 text-sm"
        value=""
        onChange={({ target: { value } }) => tell.mutate(rated(ids, value === 'none' ? null : Number(value)))}
      >
        <option value="">Rate</option>
        {[5, 4, 3, 2, 1, 0].map((rating) => (
          <option key={rating} value={rating}>
            {ratingWords(rating)}
          </option>
        ))}
        <option value="none">no rating</option>
      </select>
      <select
        aria-label="Project"
        className="field h-6 w-20 text-sm"
        value=""
        onChange={({ target: { value } }) => {
          const project = projects.find(({ id }) => id === value);
          tell.mutate({
            ids,
            change: { projectId: project?.id ?? null },
            done: `${number} for ${project ? project.name : 'no project'}.`,
            what: 'choosing their project',
          });
        }}
      >
        <option value="">Project</option>
        {projects.map(({ id, name }) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
        <option value="none">no project</option>
      </select>
      <Button small onClick={onPut} title="Put them into the basket (B)">
        Basket
      </Button>
      <Button small onClick={onRecipe}>
        Recipe ...
      </Button>
      <Button small onClick={onAside}>
        Set aside
      </Button>
      <Button small kind="quiet" className="ml-auto" onClick={onNone} title="Escape">
        Choose none
      </Button>
    </div>
  );
}
