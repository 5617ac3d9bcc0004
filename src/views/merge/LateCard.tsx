import { useMutation } from '@tanstack/react-query';
import { earlier } from '../../core/exchange/merge.ts';
import type { MergeTable } from '../../server/library/handoff/merging.ts';
import { Button } from '../../ui/Button.tsx';
import { toastWithUndo } from '../../ui/history/undoToast.ts';
import { sendJson } from '../api/client.ts';
import { renew, tellProblem, useRecipients } from '../api/queries.ts';

const LIST = new Intl.ListFormat('en');

/** Where all that changed came back as late: that it is their place, and to send it earlier from then on. */
export function LateCard({ late }: { late: NonNullable<MergeTable['late']> }) {
  const { data: recipients = [] } = useRecipients();
  const recipient = recipients.find(({ id }) => id === late.recipientId);
  const write = (card: object) =>
    sendJson('PATCH', `/api/recipients/${late.recipientId}`, { name: recipient!.name, card });
  const put = useMutation({
    mutationFn: () => write(earlier(recipient!.card, late)),
    onError: tellProblem,
    onSuccess: () =>
      toastWithUndo(`It stands on ${recipient!.name}'s card.`, 'the card', () =>
        write(recipient!.card)
          .then(() => renew('recipients'))
          .catch(tellProblem),
      ),
    onSettled: () => renew('recipients', 'pack-in'),
  });
  if (!recipient) return null;
  const { ms, roles } = late;
  return (
    <p role="status" className="mb-2 flex items-center gap-3 border-l-3 border-l-madder bg-card p-2 text-sm">
      <span className="min-w-0 flex-1">
        All that changed came back {Math.abs(ms)} ms {ms > 0 ? 'later' : 'earlier'}: that is how their place
        sounds, and nobody's playing.
      </span>
      <Button small disabled={put.isPending || put.isSuccess} onClick={() => put.mutate()}>
        Send {LIST.format(roles)} {Math.abs(ms)} ms {ms > 0 ? 'earlier' : 'later'} from now on
      </Button>
    </p>
  );
}
