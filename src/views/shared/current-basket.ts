import { useMutation } from '@tanstack/react-query';
import { toast } from 'sonner';
import { create } from 'zustand';
import { toastWithUndo } from '../../ui/history/undoToast.ts';
import { request, sendJson } from '../api/client.ts';
import { tellProblem, useBaskets, renew, type BasketWire } from '../api/queries.ts';

/** Which basket things are put into: kept in the browser, shared by all views. */
const useBasketId = create<{ id: string | null }>(() => ({ id: localStorage.getItem('basket') }));

export function chooseBasket(id: string): void {
  localStorage.setItem('basket', id);
  useBasketId.setState({ id });
}

/** The current basket: the chosen one, else the first. */
export function useCurrentBasket() {
  const { data: baskets } = useBaskets();
  const id = useBasketId((state) => state.id);
  return baskets?.find((basket) => basket.id === id) ?? baskets?.[0];
}

/** Puts phrases into the current basket, making one where there is none. */
export function usePutIntoBasket() {
  const basket = useCurrentBasket();
  return useMutation({
    mutationFn: async (phrases: { id: string; name: string }[]) => {
      const target = basket ?? {
        ...(await sendJson<{ id: string }>('POST', '/api/baskets', { name: 'First basket' })),
        name: 'First basket',
      };
      const phraseIds = phrases.map(({ id }) => id);
      const { added } = await sendJson<{ added: number }>('POST', `/api/baskets/${target.id}/items`, {
        phraseIds,
      });
      return { added, target, phrases };
    },
    onError: tellProblem,
    onSuccess: async ({ added, target, phrases }) => {
      chooseBasket(target.id);
      await renew('baskets', 'basket');
      const what = phrases.length === 1 ? `"${phrases[0]!.name}"` : `${phrases.length} phrases`;
      if (added === 0) {
        toast(`${what} ${phrases.length === 1 ? 'was' : 'were'} already in "${target.name}".`);
        return;
      }
      toastWithUndo(
        `${what} ${phrases.length === 1 ? 'is' : 'are'} in "${target.name}".`,
        'putting in',
        () => {
          takeOut(target.id, new Set(phrases.map(({ id }) => id)))
            .then(() => renew('baskets', 'basket'))
            .catch(tellProblem);
        },
      );
    },
  });
}

async function takeOut(basketId: string, phraseIds: ReadonlySet<string>): Promise<void> {
  const { rows } = await request<BasketWire>(`/api/baskets/${basketId}`);
  const left = rows.filter(({ id }) => !phraseIds.has(id));
  await sendJson('PUT', `/api/baskets/${basketId}/items`, { rows: left, was: rows });
}
