import type { OutOptions } from '../../core/exchange/out-options.ts';
import type { Leaves } from '../shared/leaving/leaving.ts';

/** What is asked of the server: all that decides what will be written. */
export interface Asked {
  kind: Leaves['kind'];
  id: string;
  scope: { bars: { from: number; to: number } | null; parts: string[] | null };
  recipientId?: string | null;
  out?: OutOptions;
  programs?: Record<string, number>;
}
