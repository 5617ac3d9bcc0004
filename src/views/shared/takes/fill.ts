import { useMutation } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import type { LastRound } from '../../../core/capture/blocks.ts';
import { plural } from '../../../core/words.ts';
import { toastWithUndo } from '../../../ui/history/undoToast.ts';
import { sendJson } from '../../api/client.ts';
import { renew, tellProblem } from '../../api/queries.ts';

/** Repeats a take until some bars are filled, and opens what comes of it; the take itself is set aside until that is taken back. */
export function useFill(takeId: string) {
  const navigate = useNavigate();
  return useMutation({
    mutationFn: (how: { bars: number; last?: LastRound }) =>
      sendJson<{ takeIds: string[] }>('POST', `/api/takes/${takeId}/fill`, how),
    onError: tellProblem,
    onSuccess: async ({ takeIds: [made] }, { bars }) => {
      await renew('takes', 'take');
      void navigate(`/split/${made!}`);
      toastWithUndo(
        `${plural(bars, 'bar')} are filled; the take itself is set aside.`,
        'filling the bars',
        async () => {
          await sendJson('PATCH', '/api/takes', { ids: [takeId], aside: false });
          await sendJson('PATCH', '/api/takes', { ids: [made], aside: true });
          await renew('takes', 'take');
          void navigate(`/split/${takeId}`);
        },
      );
    },
  });
}
