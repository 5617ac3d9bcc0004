import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { plural } from '../../../core/words.ts';
import type { TagRow } from '../../../server/library/phrases/tags.ts';
import { Button } from '../../../ui/Button.tsx';
import { Dialog } from '../../../ui/Dialog.tsx';
import { toastWithUndo } from '../../../ui/history/undoToast.ts';
import { request, sendJson } from '../../api/client.ts';
import { renew, tellProblem } from '../../api/queries.ts';

interface Change {
  name: string;
  rename?: string;
  under?: string | null;
}

const change = async (what: Change) => {
  const answer = await sendJson<{ merged?: boolean }>('PATCH', '/api/tags', what);
  await renew('tags', 'facets', 'phrases', 'phrase');
  return answer;
};

/** Tags by name: renamed, made one with another, put under another. */
export function TagsDialog({ onClose }: { onClose: () => void }) {
  const { data: tags = [] } = useQuery({ queryKey: ['tags'], queryFn: () => request<TagRow[]>('/api/tags') });
  return (
    <Dialog
      open
      onOpenChange={(open) => !open && onClose()}
      title="Tags"
      description="Called as another tag, a tag becomes one with it. A tag finds what stands under it too."
    >
      {tags.length === 0 && <p className="text-muted">No phrase has a tag yet.</p>}
      <ul className="grid gap-1">
        {tags.map((tag) => (
          <Tag key={tag.name} tag={tag} others={tags.filter(({ name }) => name !== tag.name)} />
        ))}
      </ul>
    </Dialog>
  );
}

function Tag({ tag, others }: { tag: TagRow; others: readonly TagRow[] }) {
  const [name, setName] = useState(tag.name);
  const isOther = others.some((other) => other.name === name.trim().toLowerCase());
  const rename = useMutation({
    mutationFn: (next: string) => change({ name: tag.name, rename: next }),
    onError: tellProblem,
    onSuccess: ({ merged }, next) => {
      const called = next.trim().toLowerCase();
      // Two that were made one cannot be told apart again.
      if (!merged)
        toastWithUndo(`"${tag.name}" is called "${called}".`, `renaming "${tag.name}"`, () =>
          change({ name: called, rename: tag.name }).catch(tellProblem),
        );
    },
  });
  const put = useMutation({
    mutationFn: (under: string | null) => change({ name: tag.name, under }),
    onError: tellProblem,
    onSuccess: (_, under) =>
      toastWithUndo(
        under ? `"${tag.name}" stands under "${under}".` : `"${tag.name}" stands by itself.`,
        `putting "${tag.name}" there`,
        () => change({ name: tag.name, under: tag.under }).catch(tellProblem),
      ),
  });
  const isChanged = name.trim() !== '' && name.trim().toLowerCase() !== tag.name;
  return (
    <li>
      <form
        className="grid grid-cols-[1fr_90px_130px_80px] items-center gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (isChanged) rename.mutate(name);
        }}
      >
        <input
          className="field h-7"
          aria-label={`Name of ${tag.name}`}
          maxLength={60}
          value={name}
          onChange={({ target }) => setName(target.value)}
        />
        <span className="text-sm text-muted">{plural(tag.phrases, 'phrase')}</span>
        <select
          className="field h-7 text-sm"
          aria-label={`What ${tag.name} stands under`}
          value={tag.under ?? ''}
          onChange={({ target }) => put.mutate(target.value || null)}
        >
          <option value="">under none</option>
          {others.map((other) => (
            <option key={other.name} value={other.name}>
              under {other.name}
            </option>
          ))}
        </select>
        <Button small type="submit" disabled={!isChanged || rename.isPending}>
          {isOther ? 'Make one' : 'Rename'}
        </Button>
      </form>
    </li>
  );
}
