import { useState } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { plural } from '../../../core/words.ts';
import { sendJson } from '../../api/client.ts';
import { renew, tellProblem } from '../../api/queries.ts';
import { useCurrentProject } from '../project.ts';
import { didMake } from '../phrases/state.ts';

/** Makes drafts of every part of many takes, one take after the other; what was made stays where it is stopped. */
export function useMakeMany() {
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const project = useCurrentProject();
  const [progress, setProgress] = useState<{ done: number; of: number; stop: () => void } | null>(null);
  const make = async (takes: readonly { id: string; name: string }[]) => {
    let stopped = false;
    const stop = () => void (stopped = true);
    const made: string[] = [];
    for (const [done, { id, name }] of takes.entries()) {
      if (stopped) break;
      setProgress({ done, of: takes.length, stop });
      try {
        const { phraseIds } = await sendJson<{ phraseIds: string[] }>('POST', `/api/takes/${id}/make`, {
          projectId: project?.id ?? null,
        });
        made.push(...phraseIds);
      } catch (error) {
        tellProblem(new Error(`${name}: ${error instanceof Error ? error.message : String(error)}`));
      }
    }
    setProgress(null);
    await renew('drafts', 'takes', 'take');
    if (made.length === 0) return;
    didMake(made, pathname);
    toast.success(`${plural(made.length, 'draft')} made, each by the house recipe of its role.`);
    if (!stopped) void navigate('/normalize');
  };
  return { progress, make: (takes: readonly { id: string; name: string }[]) => void make(takes) };
}
