import { create } from 'zustand';
import type { OutOptions } from '../../../core/exchange/out-options.ts';
import type { Thing } from '../../../core/exchange/things.ts';
import { requestFile, type NamedFile } from '../../api/client.ts';

/** Something that can leave, or some of it. */
export interface Leaves {
  kind: Thing;
  id: string;
  /** Parts or phrases; all of them where none are named. */
  parts?: readonly string[];
  /** Bars from 1, both with. */
  bars?: { from: number; to: number };
}

/** What the dialog is open for; `onOut` is told how it leaves, where somebody keeps that. */
export interface Open extends Leaves {
  onOut?: (out: OutOptions) => void;
}

export const useLeaving = create<{ open: Open | null }>(() => ({ open: null }));

/** Opens the one dialog in which it is chosen how something leaves. */
export function openLeave(open: Open): void {
  useLeaving.setState({ open });
}

export function closeLeave(): void {
  useLeaving.setState({ open: null });
}

/** Whom things are for, where nothing else says it: kept in the browser, shared by all views. */
export const useRecipientId = create<{ id: string | null }>(() => ({
  id: localStorage.getItem('recipient'),
}));

export function chooseRecipient(id: string | null): void {
  if (id) localStorage.setItem('recipient', id);
  else localStorage.removeItem('recipient');
  useRecipientId.setState({ id });
}

/** Where something is as it last left. */
export function leavingAddress({ kind, id, parts = [], bars }: Leaves): string {
  const asked = new URLSearchParams(parts.map((part) => ['part', part]));
  if (bars) asked.set('bars', `${bars.from}-${bars.to}`);
  const recipient = useRecipientId.getState().id;
  if (recipient && kind !== 'basket') asked.set('for', recipient);
  const query = asked.toString();
  return `/api/leaving/${kind}/${id}${query && `?${query}`}`;
}

/** Something as it last left, as a file with its name. */
export function fetchLeaving(leaves: Leaves): Promise<NamedFile> {
  return requestFile(leavingAddress(leaves));
}
