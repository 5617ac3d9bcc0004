import { Button } from '../../../ui/Button.tsx';
import { toastWithUndo } from '../../../ui/history/undoToast.ts';
import { sendJson } from '../../api/client.ts';
import { renew, tellProblem } from '../../api/queries.ts';

/** Sets a document of a list aside, and offers to bring it back. */
export function SetAsideButton({ kind, id, name }: { kind: 'weave' | 'comp'; id: string; name: string }) {
  const set = (aside: boolean) =>
    sendJson('PATCH', `/api/${kind}s/${id}`, { aside })
      .then(() => renew(`${kind}s`))
      .catch(tellProblem);
  return (
    <Button
      small
      onClick={() =>
        void set(true).then(() =>
          toastWithUndo(`"${name}" is set aside.`, 'setting it aside', () => set(false)),
        )
      }
    >
      Set aside<span className="sr-only"> {name}</span>
    </Button>
  );
}
